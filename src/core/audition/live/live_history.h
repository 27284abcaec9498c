// SPDX-License-Identifier: GPL-3.0-or-later
//
// What was read while it played, reading by reading: loudness, and the spectrum as it changed.
#pragma once

#include "audition/live/live_levels.h"
#include "audition/live/live_spectrum.h"

#include <deque>
#include <optional>
#include <vector>

namespace hr::audition {

class LiveHistory {
public:
    static constexpr std::size_t most = 300; ///< ten seconds at 30 readings a second

    struct Loudness {
        std::optional<double> momentary_lufs, short_term_lufs;
    };

    void add(const LiveLevels& levels, const LiveSpectrum& spectrum)
    {
        const auto figures = levels.read();
        m_loudness.push_back({figures.momentary_lufs, figures.short_term_lufs});
        m_spectra.push_back(spectrum.levelsDbfs());
        if (m_loudness.size() > most) {
            m_loudness.pop_front();
            m_spectra.pop_front();
        }
    }

    /// The oldest first.
    const std::deque<Loudness>& loudness() const { return m_loudness; }
    /// Levels in the bands of LiveSpectrum; empty where there was no sound yet.
    const std::deque<std::vector<double>>& spectra() const { return m_spectra; }

private:
    std::deque<Loudness> m_loudness;
    std::deque<std::vector<double>> m_spectra;
};

} // namespace hr::audition
