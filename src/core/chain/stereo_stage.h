// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor at work on a stereo signal, whatever its channels: a mono one runs twice, one with more
// inputs than two gets silence on the rest, a single output is heard on both sides.
//
// Threads: one at a time.
#pragma once

#include "hosting/instance.h"

namespace hr::chain {

class StereoStage {
public:
    static hosting::FaultOr<StereoStage> open(const hosting::Location& location);

    const processors::ProcessorInfo& info() const { return m_instances.front()->info(); }

    /// Freshly started.
    hosting::FaultOr<void> start(const processors::PlayConditions& conditions, std::span<const double> values);
    void setParameter(std::size_t index, double value);
    std::size_t latencySamples() const { return m_instances.front()->latencySamples(); }

    /// Goes on; at most hosting::stretch_frames. `in` and `out` must not overlap.
    hosting::FaultOr<void> process(const float* in_left, const float* in_right, float* out_left,
                                   float* out_right, std::size_t frames);

private:
    StereoStage() = default;
    hosting::FaultOr<void> run(hosting::Instance& instance, std::array<const float*, 2> in,
                               std::array<float*, 2> out, std::size_t frames);

    std::vector<std::unique_ptr<hosting::Instance>> m_instances; // one, or two of a mono processor
    std::vector<float> m_unheard;                                // outputs beyond the second end here
};

} // namespace hr::chain
