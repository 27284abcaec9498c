// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where a processor says what it does by itself, without having been asked: a window of its own was used, a
// program was changed, what it looks ahead by has changed.
//
// Threads: any of the processor's.
#pragma once

#include <cstddef>

namespace hr::processors {

class EventSink {
public:
    virtual ~EventSink() = default;

    /// `index` into ProcessorInfo::parameters.
    virtual void parameterMoved(std::size_t index, double value) = 0;
    /// Moves of a parameter from here to its end are one.
    virtual void gestureBegan(std::size_t index) = 0;
    virtual void gestureEnded(std::size_t index) = 0;
    /// Processor::state() is another one now.
    virtual void stateChanged() = 0;
    virtual void latencyChanged(std::size_t samples) = 0;
    /// It can only go on as it is to be after being prepared again.
    virtual void wantsRestart() = 0;
};

} // namespace hr::processors
