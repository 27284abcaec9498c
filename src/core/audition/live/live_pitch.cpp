// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/live_pitch.h"

#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::audition {

namespace {

constexpr double kept_rate_hz = 24000; // about: a cent of the highest
constexpr double pitch_window_s = 0.1;
constexpr double quiet_power = 1e-7; // -70 dBFS
constexpr double nearly_highest = 0.9;

/// Sums of products of the window with itself so many samples later.
std::vector<double> autocorrelation(const std::vector<double>& window)
{
    std::vector<double> padded(signal::fastSize(2 * window.size()));
    std::ranges::copy(window, padded.begin());
    auto bins = signal::forwardTransform(padded);
    for (auto& bin : bins)
        bin = std::norm(bin);
    auto sums = signal::inverseTransform(bins, padded.size());
    sums.resize(window.size());
    return sums;
}

/// 1 where it is the same so many samples later, -1 where it is upside down.
std::vector<double> likenessByLag(const std::vector<double>& window)
{
    const auto sums = autocorrelation(window);
    std::vector<double> likeness(window.size() / 2);
    double squares = 2 * sums[0];
    for (std::size_t lag = 0; lag < likeness.size(); ++lag) {
        likeness[lag] = squares > 0 ? 2 * sums[lag] / squares : 0;
        squares -=
            window[lag] * window[lag] + window[window.size() - 1 - lag] * window[window.size() - 1 - lag];
    }
    return likeness;
}

} // namespace

std::optional<Note> noteOf(double hz)
{
    static constexpr std::array names{"C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B"};
    if (!(hz > 8) || !(hz < 20000))
        return std::nullopt;
    constexpr int a4 = 69; // as MIDI counts
    const double exact = a4 + 12 * std::log2(hz / 440);
    const int nearest = static_cast<int>(std::lround(exact));
    return Note{names[static_cast<std::size_t>(nearest % 12)] + std::to_string(nearest / 12 - 1),
                100 * (exact - nearest)};
}

LivePitch::LivePitch(double sample_rate_hz)
    : m_every(std::max<std::size_t>(1, static_cast<std::size_t>(sample_rate_hz / kept_rate_hz)))
{
    m_rate_hz = sample_rate_hz / static_cast<double>(m_every);
    m_window.resize(static_cast<std::size_t>(pitch_window_s * m_rate_hz));
}

void LivePitch::add(const TapBlock& block)
{
    for (std::size_t i = 0; i < block.frames; ++i) {
        m_sum += 0.5 * (block.left[i] + block.right[i]);
        if (++m_summed < m_every)
            continue;
        m_window[m_at] = m_sum / static_cast<double>(m_every);
        m_at = (m_at + 1) % m_window.size();
        m_filled = std::min(m_filled + 1, m_window.size());
        m_sum = 0;
        m_summed = 0;
    }
}

std::optional<Pitch> LivePitch::read() const
{
    if (m_filled < m_window.size())
        return std::nullopt;
    std::vector<double> window;
    double power = 0;
    for (std::size_t i = 0; i < m_window.size(); ++i) {
        window.push_back(m_window[(m_at + i) % m_window.size()]);
        power += window.back() * window.back() / static_cast<double>(m_window.size());
    }
    if (power < quiet_power)
        return std::nullopt;
    const auto likeness = likenessByLag(window);
    const auto shortest = static_cast<std::size_t>(m_rate_hz / highest_hz);
    const auto longest =
        std::min(likeness.size() - 2, static_cast<std::size_t>(std::ceil(m_rate_hz / lowest_hz)));
    // Peaks between where it first has gone below zero and the longest lag: the first that is nearly the
    // highest, since every multiple of a period is one, too.
    std::size_t lag = 1;
    while (lag < longest && likeness[lag] > 0)
        ++lag;
    double highest = 0;
    std::vector<std::size_t> peaks;
    for (lag = std::max(lag, shortest); lag < longest; ++lag)
        if (likeness[lag] > likeness[lag - 1] && likeness[lag] >= likeness[lag + 1] && likeness[lag] > 0) {
            peaks.push_back(lag);
            highest = std::max(highest, likeness[lag]);
        }
    const auto first =
        std::ranges::find_if(peaks, [&](std::size_t at) { return likeness[at] >= nearly_highest * highest; });
    if (first == peaks.end() || highest < least_clarity)
        return std::nullopt;
    // A parabola through it and its neighbours.
    const double before = likeness[*first - 1];
    const double at = likeness[*first];
    const double after = likeness[*first + 1];
    const double bend = before - 2 * at + after;
    const double part = bend < 0 ? 0.5 * (before - after) / bend : 0;
    return Pitch{m_rate_hz / (static_cast<double>(*first) + part), std::min(at, 1.0)};
}

} // namespace hr::audition
