// SPDX-License-Identifier: GPL-3.0-or-later
//
// A course that lanes play: along a section of a source, round and round, or live along what comes in. Frames
// are counted from its beginning.
#pragma once

#include "audition/live_pace.h"
#include "audition/recent_input.h"
#include "audition/source.h"

namespace hr::audition {

struct Timeline {
    /// After ten seconds the frames of a live course are counted again.
    static Section wrapOf(double rate_hz) { return {0, static_cast<std::size_t>(10 * rate_hz)}; }

    Timeline(std::shared_ptr<const Source> the_source, Section the_loop, std::size_t start_in_loop);
    /// Live, from the frame on that comes in next.
    explicit Timeline(std::shared_ptr<const RecentInput> input);

    const std::shared_ptr<const Source> source;    ///< null: silence, or live
    const std::shared_ptr<const RecentInput> live; ///< null: it is not
    const Section loop;
    const std::size_t start;              ///< frame of the loop, or of the input, at which it began
    std::atomic<std::uint64_t> played{0}; ///< frames handed to the device; the callback writes it
    LivePace pace;                        ///< the callback's

    bool isLive() const { return live != nullptr; }
    std::size_t frameOfLoop(std::uint64_t frame) const { return (start + frame) % loop.frames; }
    std::size_t frameOfSource(std::uint64_t frame) const { return loop.first + frameOfLoop(frame); }
    /// How many frames from this one on can be read: of a source any number.
    std::size_t availableFrom(std::uint64_t frame) const;
    /// Those from `frame` on; silence before the beginning. Not for the audio callback.
    void read(std::int64_t frame, float* left, float* right, std::size_t count) const;
    /// What processors that ask for it are told; 0: none.
    double tempoBpm() const { return source ? source->tempoBpm() : 0; }
};

} // namespace hr::audition
