// SPDX-License-Identifier: GPL-3.0-or-later
//
// The largest of the last n values, in constant time on average (the monotonic queue of D. Lemire,
// "Streaming maximum-minimum filter using no more than three comparisons per element", 2006).
#pragma once

#include <algorithm>
#include <cassert>
#include <cstddef>
#include <vector>

namespace hr::signal {

class SlidingMaximum {
public:
    /// Allocates for windows of up to `longest` values and forgets everything.
    void reset(std::size_t longest)
    {
        m_queue.assign(longest + 1, {});
        m_first = m_count = m_now = 0;
        m_length = std::clamp<std::size_t>(m_length, 1, longest);
    }
    /// The window from the next value on, at least 1; real-time safe.
    void setLength(std::size_t length) noexcept
    {
        m_length = std::clamp<std::size_t>(length, 1, m_queue.empty() ? 1 : m_queue.size() - 1);
    }

    double next(double value) noexcept
    {
        assert(!m_queue.empty());
        while (m_count > 0 && at(m_count - 1).value <= value)
            --m_count;
        at(m_count++) = {m_now, value};
        while (at(0).when + m_length <= m_now) {
            m_first = (m_first + 1) % m_queue.size();
            --m_count;
        }
        ++m_now;
        return at(0).value;
    }

private:
    struct Candidate {
        std::size_t when = 0;
        double value = 0;
    };
    Candidate& at(std::size_t index) noexcept { return m_queue[(m_first + index) % m_queue.size()]; }

    std::vector<Candidate> m_queue; // a ring, values falling from m_first on
    std::size_t m_first = 0, m_count = 0, m_now = 0;
    std::size_t m_length = 1;
};

} // namespace hr::signal
