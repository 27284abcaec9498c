// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a processor does to the level as time goes on: out against in, 10 ms by 10 ms, for any processor, since
// both are known. What a compressor takes away shows as well as what rises in the pauses.
#pragma once

#include "audition/tap.h"

#include <deque>
#include <optional>
#include <vector>

namespace hr::audition {

class GainHistory {
public:
    static constexpr double step_s = 0.01;
    static constexpr double quiet_dbfs = -80; ///< where less goes in, there is no gain to speak of

    struct Step {
        std::size_t source_frame = 0;  ///< of its first frame
        double in_dbfs = 0;            ///< RMS by AES17; -infinity for silence
        double out_dbfs = 0;           ///< before matching
        std::optional<double> gain_db; ///< out - in; empty where what goes in is quieter than quiet_dbfs
    };

    /// Keeps the last `seconds`.
    GainHistory(double sample_rate_hz, double seconds);

    /// Blocks of TapPoint::Input and TapPoint::Output of one contender, each in the order in which it was
    /// taken; the one may be far ahead of the other.
    void addInput(const TapBlock& block) { add(m_in, block); }
    void addOutput(const TapBlock& block) { add(m_out, block); }

    /// The oldest first.
    const std::deque<Step>& steps() const { return m_steps; }
    std::size_t most() const { return m_most; }
    void clear();

private:
    struct Slot {
        std::size_t index = 0; // of the source, in steps
        double square_sum = 0;
        std::size_t samples = 0;
    };
    struct Side {
        Slot growing;
        std::deque<Slot> whole; // not paired yet
    };
    void add(Side& side, const TapBlock& block);
    void pair();

    std::size_t m_step_frames;
    std::size_t m_most;
    Side m_in, m_out;
    std::deque<Step> m_steps;
};

} // namespace hr::audition
