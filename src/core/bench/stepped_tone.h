// SPDX-License-Identifier: GPL-3.0-or-later
//
// A tone that goes on without a break while its level is moved in steps, each held until the answer has
// settled. What a step has to wait for (the subject's delay, its echoes, its time constants) is found first,
// with one tone that begins in silence.
#pragma once

#include "bench/subject.h"

namespace hr::bench {

/// What was found before the first step.
struct Temper {
    double idle_dbfs = -200;       ///< its own noise, with nothing going in
    std::optional<double> first_s; ///< when the tone first arrives; empty: it does not come through
    double settled_s = 0;          ///< when its level has stopped changing, from its beginning
    bool moves = false;            ///< the level of a steady tone goes up and down for ever
    bool pitch_moves = false;      ///< and its pitch: what has a colour at all changes that level as well
    bool settles = true;           ///< false: it was still on its way when the patience ended
};

/// Where the steps go. On the key, the main inputs hold still with the same tone at a fixed level.
enum class SteppedInput { Main, Key };

class SteppedTone {
public:
    static constexpr double longest_hold_s = 10;
    static constexpr double main_level_dbfs = -20; ///< while the key is stepped

    /// The nearest frequency with whole cycles in a stretch.
    SteppedTone(Subject& subject, double frequency_hz, SteppedInput input = SteppedInput::Main,
                double stretch_s = 0.05);

    double frequencyHz() const { return m_frequency_hz; }
    SteppedInput input() const { return m_input; }
    std::size_t cycleFrames() const;

    /// From a fresh start: silence, then the tone at `level_dbfs` for longest_hold_s and a second, as long as
    /// an echo may be on its way.
    hosting::FaultOr<Temper> getToKnow(double level_dbfs);

    /// The next stretch at this level: the first output.
    hosting::FaultOr<std::vector<double>> stretch(double level_dbfs);

    /// Held until it has settled: the last stretch.
    hosting::FaultOr<std::vector<double>> settled(double level_dbfs);
    /// The same from the first sample on.
    hosting::FaultOr<std::vector<double>> held(double level_dbfs);

    /// The level that the gain of an output of `output_dbfs` makes of the stepped level: that output itself,
    /// or, on the key, what the key's level would have become in place of the main input's.
    double answerDbfs(double level_dbfs, double output_dbfs) const
    {
        return m_input == SteppedInput::Main ? output_dbfs : level_dbfs + output_dbfs - main_level_dbfs;
    }

    /// How long a step is held at least.
    double stretchS() const { return m_stretch_s; }
    double leastHoldS() const { return static_cast<double>(m_least_stretches) * m_stretch_s; }
    /// How far the subject's own noise, once it is known, moves the level of a tone of this level, RMS.
    double noiseDb(double level_dbfs) const;
    /// Whether a step was left before it had settled.
    bool unsettled() const { return m_unsettled; }

private:
    /// How far apart two looks at a settled tone of this level may be.
    double restsWithinDb(double level_dbfs) const;

    Subject& m_subject;
    SteppedInput m_input;
    double m_stretch_s;
    double m_rate_hz;
    std::size_t m_frames = 0, m_at = 0;
    double m_frequency_hz = 0;
    std::size_t m_late_stretches = 0;  // until a step can arrive
    std::size_t m_least_stretches = 6; // from its beginning until it can have settled
    double m_rests_within_db;          // of two looks at a level that has settled
    double m_idle_dbfs = -200;
    bool m_unsettled = false;
};

/// Level of what is left without the mean, AES17; at least -200 dBFS.
double acLevelDbfs(std::span<const double> samples);

} // namespace hr::bench
