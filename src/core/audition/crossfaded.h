// SPDX-License-Identifier: GPL-3.0-or-later
//
// A stereo filter that can be changed, and taken away, while it is heard: what is asked for is crossfaded to,
// so that it does not click.
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
#include <optional>
#include <utility>

namespace hr::audition {

/// Real-time safe where the filter is. `Filter` is made of a setting and a rate, and has
/// process(left, right, count).
template<class Filter, class Setting>
class Crossfaded {
public:
    explicit Crossfaded(double rate_hz) : m_rate_hz(rate_hz) {}

    /// In place; no setting: what comes in.
    void process(const std::optional<Setting>& wanted, float* left, float* right, std::size_t count) noexcept
    {
        if (wanted != m_setting && m_left_of_fade == 0.0) {
            m_leaving = std::exchange(m_filter, std::nullopt);
            m_setting = wanted;
            if (wanted)
                m_filter.emplace(*wanted, m_rate_hz);
            m_left_of_fade = 1;
        }
        if (!m_filter && m_left_of_fade == 0.0)
            return;
        const double step = 1 / (fade_s * m_rate_hz);
        for (std::size_t first = 0; first < count; first += most_frames) {
            const std::size_t now = std::min(most_frames, count - first);
            std::array<std::array<float, most_frames>, 2> before;
            const std::array<float*, 2> sides{left + first, right + first};
            for (std::size_t side = 0; side < 2; ++side)
                std::copy_n(sides[side], now, before[side].begin());
            if (m_filter)
                m_filter->process(sides[0], sides[1], now);
            if (m_left_of_fade == 0.0)
                continue;
            if (m_leaving)
                m_leaving->process(before[0].data(), before[1].data(), now);
            for (std::size_t side = 0; side < 2; ++side)
                for (std::size_t i = 0; i < now; ++i) {
                    const auto part =
                        static_cast<float>(std::max(0.0, m_left_of_fade - step * static_cast<double>(i)));
                    sides[side][i] += part * (before[side][i] - sides[side][i]);
                }
            m_left_of_fade = std::max(0.0, m_left_of_fade - step * static_cast<double>(now));
        }
    }

private:
    static constexpr std::size_t most_frames = 256; // at a time
    static constexpr double fade_s = 0.02;

    const double m_rate_hz;
    std::optional<Setting> m_setting; // of m_filter
    std::optional<Filter> m_filter;   // none: what comes in
    std::optional<Filter> m_leaving;  // none: what comes in
    double m_left_of_fade = 0;        // 1 to 0: what is leaving
};

} // namespace hr::audition
