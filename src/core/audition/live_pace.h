// SPDX-License-Identifier: GPL-3.0-or-later
//
// How closely live sound is followed: as little as possible lies ready before it is played, and enough that it
// does not break off. What comes in and what is played may keep different clocks, and a lane may have been
// late.
#pragma once

#include <algorithm>
#include <cstddef>

namespace hr::audition {

/// The audio callback's: it looks once a block.
class LivePace {
public:
    static constexpr double window_s = 0.1;
    static constexpr double most_margin_s = 0.02;

    explicit LivePace(double rate_hz = 48000)
        : m_window_frames(static_cast<std::size_t>(window_s * rate_hz)),
          m_most_margin(static_cast<std::size_t>(most_margin_s * rate_hz))
    {
    }

    /// What has to lie ready where a block of `frames` is played: less would break off (Mixer::supplyStep()).
    static constexpr std::size_t needed(std::size_t frames)
    {
        return frames + std::min<std::size_t>(frames, 128);
    }
    /// What may lie ready beyond that before it is worth letting go of: lanes do not come at even times.
    static constexpr std::size_t spare(std::size_t frames) { return std::max<std::size_t>(frames / 2, 64); }

    /// What is kept ready beyond that, because it has broken off before: a period for each time, up to 20 ms.
    std::size_t margin() const noexcept { return m_margin; }

    struct Step {
        bool hold = false;    ///< too little lies ready: play nothing of it in this block
        std::size_t skip = 0; ///< frames to let go of, so that what is played is nearer to what comes in
    };
    /// Before a block of `frames`, where so many are `ready`.
    Step look(std::size_t ready, std::size_t frames) noexcept
    {
        if (ready < needed(frames)) {
            if (m_steady)
                m_margin = std::min(m_margin + frames, m_most_margin);
            begin();
            m_steady = false;
            return {.hold = true};
        }
        m_least_over = std::min(m_least_over, ready - needed(frames));
        m_seen += frames;
        if (m_seen < m_window_frames)
            return {};
        const std::size_t over = m_least_over - std::min(m_least_over, m_margin);
        begin();
        m_steady = over <= spare(frames);
        return {.skip = m_steady ? 0 : over};
    }
    /// Whether it has neither held nor had too much for a window.
    bool isSteady() const noexcept { return m_steady; }

private:
    void begin() noexcept
    {
        m_seen = 0;
        m_least_over = static_cast<std::size_t>(-1);
    }

    std::size_t m_window_frames, m_most_margin;
    std::size_t m_margin = 0;
    std::size_t m_seen = 0;                                  // frames, of this window
    std::size_t m_least_over = static_cast<std::size_t>(-1); // in this window, above needed()
    bool m_steady = false;
};

} // namespace hr::audition
