// SPDX-License-Identifier: GPL-3.0-or-later
//
// A tempo from taps in time with the sound.
#pragma once

#include <algorithm>
#include <optional>
#include <vector>

namespace hr::signal {

inline constexpr double beats_a_bar = 4; ///< bars are of four beats
inline constexpr double slowest_bpm = 20, fastest_bpm = 400;

class TapTempo {
public:
    static constexpr double forgotten_s = 2.5; ///< after such a pause the taps begin again
    static constexpr std::size_t most_taps = 12;

    /// A tap at this time, ascending. The tempo once there are four of them: the median of the last intervals,
    /// so that one slip does not count.
    std::optional<double> tap(double at_s)
    {
        if (!m_taps_s.empty() && at_s - m_taps_s.back() > forgotten_s)
            m_taps_s.clear();
        m_taps_s.push_back(at_s);
        if (m_taps_s.size() > most_taps)
            m_taps_s.erase(m_taps_s.begin());
        if (m_taps_s.size() < 4)
            return std::nullopt;
        std::vector<double> intervals;
        for (std::size_t i = 1; i < m_taps_s.size(); ++i)
            intervals.push_back(m_taps_s[i] - m_taps_s[i - 1]);
        std::ranges::sort(intervals);
        const std::size_t middle = intervals.size() / 2;
        const double median =
            intervals.size() % 2 == 1 ? intervals[middle] : (intervals[middle - 1] + intervals[middle]) / 2;
        return median > 0 ? std::optional(std::clamp(60 / median, slowest_bpm, fastest_bpm)) : std::nullopt;
    }

private:
    std::vector<double> m_taps_s;
};

} // namespace hr::signal
