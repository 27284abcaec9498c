// SPDX-License-Identifier: GPL-3.0-or-later
//
// A line of whole samples. reset() and grow() allocate; the rest is real-time safe.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace hr::signal {

class DelayLine {
public:
    /// For delays of up to `longest`; forgets the past.
    void reset(std::size_t longest)
    {
        m_samples.assign(longest + 1, 0.0);
        m_at = 0;
    }
    /// Makes room for delays of up to `longest`, keeping the past. Allocates.
    void grow(std::size_t longest)
    {
        std::rotate(m_samples.begin(), m_samples.begin() + static_cast<std::ptrdiff_t>(m_at) + 1,
                    m_samples.end());
        m_samples.insert(m_samples.begin(), longest - this->longest(), 0.0); // older than all that was kept
        m_at = longest;
    }
    std::size_t longest() const noexcept { return m_samples.size() - 1; }
    /// The sample pushed `delay` pushes before the newest; delay <= longest().
    double tap(std::size_t delay) const noexcept
    {
        return m_samples[m_at >= delay ? m_at - delay : m_at + m_samples.size() - delay];
    }
    void push(double sample) noexcept
    {
        m_at = m_at + 1 == m_samples.size() ? 0 : m_at + 1;
        m_samples[m_at] = sample;
    }

private:
    std::vector<double> m_samples{0.0};
    std::size_t m_at = 0;
};

} // namespace hr::signal
