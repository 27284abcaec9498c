// SPDX-License-Identifier: GPL-3.0-or-later
//
// Matching of what is heard live, where nothing can be rendered before: by what each has done to the loudness
// of the sound that came in, over the last ten seconds that it played.
#pragma once

#include "audition/live/recent_loudness.h"
#include "audition/matching.h"
#include "audition/tap.h"

#include <map>

namespace hr::audition {

class LiveMatching {
public:
    /// Quieter input is taken to be nobody playing: what was found before stands.
    static constexpr double quietest_input_lufs = -60;

    explicit LiveMatching(double rate_hz) : m_rate_hz(rate_hz) {}

    /// What went into it, and what came out. Another generation of it begins again.
    void addInput(const TapBlock& block);
    void addOutput(const TapBlock& block);
    void forget(ContenderId id) { m_ones.erase(id); }
    /// Takes what has been added since into account.
    void update();

    /// Of the sound that came in; empty: nothing was played yet.
    std::optional<double> inputLufs() const { return m_input_lufs; }
    /// What this one has been as loud as, of the same sound: as measured, else as far from the input as its
    /// section was from the untreated one. Empty: nothing was played yet, or nothing comes out of it.
    std::optional<double> loudnessOf(ContenderId id, const LoopLoudness& untreated,
                                     const LoopLoudness& contender) const;
    /// Whether it has been measured.
    bool isMeasured(ContenderId id) const;

private:
    struct One {
        explicit One(double rate_hz, std::uint32_t the_generation)
            : generation(the_generation), in(rate_hz), out(rate_hz)
        {
        }
        std::uint32_t generation;
        RecentLoudness in, out;
        bool measured = false;
        std::optional<double> change_lu; // empty though measured: it is silent
    };
    One& oneOf(const TapBlock& block);

    double m_rate_hz;
    std::map<ContenderId, One> m_ones;
    std::optional<double> m_input_lufs;
};

} // namespace hr::audition
