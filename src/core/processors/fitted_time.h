// SPDX-License-Identifier: GPL-3.0-or-later
//
// A setting with which a measured time becomes a note value. Labels of reverbs tell seconds of their own; what
// counts is what was measured, so the control is moved by how far the measured time is from the note.
#pragma once

#include "processors/description.h"

#include <optional>

namespace hr::processors {

/// What a time on a room does.
enum class RoomTime {
    Decay,    ///< the whole grows in proportion to its control
    PreDelay, ///< its control adds to what there is anyway
};

struct FittedTime {
    std::string note; ///< "1 bar"
    double target_ms = 0;
    std::size_t parameter = 0; ///< in the processor's description
    double value = 0;          ///< that it is to be set to
};

/// The control that is named as one of that time and counts in ms or s.
std::optional<std::size_t> controlOf(RoomTime what, const ProcessorInfo& info);

/// To the note value nearest to `measured_ms`; empty without a control, a time or a tempo, or where the control
/// does not reach that far. `values`: as the parameters stood when it was measured.
std::optional<FittedTime> fitted(RoomTime what, const ProcessorInfo& info, const std::vector<double>& values,
                                 double measured_ms, double tempo_bpm);

} // namespace hr::processors
