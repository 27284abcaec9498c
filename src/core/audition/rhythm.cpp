// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/rhythm.h"

#include "signal/tap_tempo.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace hr::audition {

namespace {

constexpr double hop_s = 0.005;
constexpr double onset_window_s = 0.02;
constexpr double preferred_bpm = 120;
constexpr double preference_octaves = 1;
constexpr double snap_s = 0.1;
constexpr double least_certainty = 0.1;
/// What is gained goes less far beyond its mean in the rounding of a steady tone.
constexpr double least_gained = 0.01;

/// What the spectrum gains from each hop to the next, all bands together, compressed so that quiet onsets
/// count.
std::vector<double> flux(const Source& source, const Section& section, const std::stop_token& cancel)
{
    const auto hop = static_cast<std::size_t>(hop_s * source.rateHz());
    const std::size_t window = signal::fastSize(static_cast<std::size_t>(onset_window_s * source.rateHz()));
    const auto longest = static_cast<std::size_t>(rhythm_longest_s * source.rateHz());
    const std::size_t frames = std::min(section.frames, longest);
    std::vector<float> left(window);
    std::vector<float> right(window);
    std::vector<double> samples(window);
    std::vector<double> before;
    std::vector<double> gained;
    for (std::size_t at = 0; at < frames && !cancel.stop_requested(); at += hop) {
        // The window ends where the hop does, so that nothing is told before it is there.
        source.read(section, at + hop + section.frames * (window / section.frames + 1) - window, left.data(),
                    right.data(), window);
        for (std::size_t i = 0; i < window; ++i) {
            const double part = (static_cast<double>(i) + 0.5) / static_cast<double>(window);
            samples[i] = (left[i] + right[i]) * (0.5 - 0.5 * std::cos(2 * std::numbers::pi * part));
        }
        std::vector<double> now;
        for (const auto& bin : signal::forwardTransform(samples))
            now.push_back(std::log1p(100 * std::abs(bin) / static_cast<double>(window)));
        double sum = 0;
        for (std::size_t k = 0; k < before.size(); ++k)
            sum += std::max(0.0, now[k] - before[k]);
        gained.push_back(sum);
        before = std::move(now);
    }
    return gained;
}

double meanOf(std::span<const double> values)
{
    return values.empty()
               ? 0
               : std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}

/// Hops at which more is gained than anywhere near, and clearly more than usual.
std::vector<std::size_t> peaksOf(const std::vector<double>& gained)
{
    constexpr std::size_t near = 8;   // 40 ms
    constexpr std::size_t wider = 60; // 0.3 s
    const double usual = meanOf(gained);
    std::vector<std::size_t> peaks;
    for (std::size_t i = 0; i < gained.size(); ++i) {
        const std::size_t from = i - std::min(i, near);
        const std::size_t until = std::min(gained.size(), i + near + 1);
        const std::size_t wide_from = i - std::min(i, wider);
        const std::size_t wide_until = std::min(gained.size(), i + wider + 1);
        const auto around = std::span(gained).subspan(wide_from, wide_until - wide_from);
        const bool highest = std::max_element(gained.begin() + static_cast<std::ptrdiff_t>(from),
                                              gained.begin() + static_cast<std::ptrdiff_t>(until)) ==
                             gained.begin() + static_cast<std::ptrdiff_t>(i);
        if (highest && gained[i] > 2 * meanOf(around) && gained[i] > usual)
            peaks.push_back(i);
    }
    return peaks;
}

/// How far what is gained is like what is gained `lag` hops later, both less their mean.
double likeness(const std::vector<double>& gained, double mean, double lag)
{
    const auto whole = static_cast<std::size_t>(lag);
    const double part = lag - static_cast<double>(whole);
    double both = 0;
    double here = 0;
    double there = 0;
    for (std::size_t i = 0; i + whole + 1 < gained.size(); ++i) {
        const double a = gained[i] - mean;
        const double b = (1 - part) * gained[i + whole] + part * gained[i + whole + 1] - mean;
        both += a * b;
        here += a * a;
        there += b * b;
    }
    return here > 0 && there > 0 ? both / std::sqrt(here * there) : 0;
}

/// The nearest lag to `lag` at which it is most alike, to a hundredth of itself or a hop.
double refined(const std::vector<double>& gained, double mean, double lag, double reach, double step)
{
    double best = lag;
    double most = -1;
    for (double at = lag - reach; at <= lag + reach; at += step)
        if (const double alike = likeness(gained, mean, at); alike > most) {
            most = alike;
            best = at;
        }
    return best;
}

void findTempo(const std::vector<double>& gained, double hops_a_second, Rhythm& rhythm)
{
    // Smoothed, so that beats which are some hops apart still meet.
    std::vector<double> smooth(gained.size());
    for (std::size_t i = 0; i < gained.size(); ++i) {
        const std::size_t from = i - std::min<std::size_t>(i, 2);
        const std::size_t until = std::min(gained.size(), i + 3);
        smooth[i] = meanOf(std::span(gained).subspan(from, until - from));
    }
    const double mean = meanOf(smooth);
    if (smooth.empty() || std::ranges::max(smooth) - mean < least_gained)
        return;
    double best_lag = 0;
    double best = 0;
    for (double lag = 60 * hops_a_second / most_tempo_bpm; lag <= 60 * hops_a_second / least_tempo_bpm;
         lag += 1) {
        if (3 * lag >= static_cast<double>(smooth.size()))
            break;
        const double octaves = std::log2(60 * hops_a_second / lag / preferred_bpm) / preference_octaves;
        const double alike = (likeness(smooth, mean, lag) + likeness(smooth, mean, 2 * lag)) / 2;
        if (const double score = alike * std::exp(-0.5 * octaves * octaves); score > best) {
            best = score;
            best_lag = lag;
        }
    }
    if (best_lag == 0)
        return;
    rhythm.certainty = std::clamp(likeness(smooth, mean, best_lag), 0.0, 1.0);
    if (rhythm.certainty < least_certainty)
        return;
    // The further apart two beats are, the better their distance is known.
    double lag = refined(smooth, mean, best_lag, 1, 0.1);
    for (double beats = 2; beats * lag < 0.6 * static_cast<double>(smooth.size()); beats *= 2)
        lag = refined(smooth, mean, beats * lag, beats * lag * 0.01, 0.1) / beats;
    rhythm.tempo_bpm = 60 * hops_a_second / lag;
}

/// The frame near the hop at which the level begins to rise.
std::size_t frameOfOnset(const Source& source, const Section& section, std::size_t hop_at, std::size_t hop)
{
    constexpr std::size_t step = 32;
    // What is gained is most once the onset has come to the middle of the window.
    const std::size_t from = hop_at - std::min(hop_at, 5 * hop);
    const std::size_t count = std::min(section.frames - from, 6 * hop);
    std::vector<float> left(count);
    std::vector<float> right(count);
    source.read(section, from, left.data(), right.data(), count);
    std::vector<double> rises;
    std::optional<double> before;
    for (std::size_t first = 0; first + step <= count; first += step) {
        double power = 0;
        for (std::size_t i = first; i < first + step; ++i)
            power += static_cast<double>(left[i]) * left[i] + static_cast<double>(right[i]) * right[i];
        rises.push_back(power - before.value_or(power));
        before = power;
    }
    if (rises.empty())
        return section.first + from;
    const double clear_rise = 0.25 * *std::ranges::max_element(rises);
    const auto first = std::ranges::find_if(rises, [&](double rise) { return rise >= clear_rise; });
    return section.first + from + step * static_cast<std::size_t>(first - rises.begin());
}

} // namespace

Rhythm findRhythm(const Source& source, const Section& section, const std::stop_token& cancel)
{
    Rhythm rhythm;
    const auto hop = static_cast<std::size_t>(hop_s * source.rateHz());
    const auto gained = flux(source, section, cancel);
    if (cancel.stop_requested() || gained.empty())
        return rhythm;
    for (const std::size_t peak : peaksOf(gained))
        rhythm.onsets.push_back(frameOfOnset(source, section, (peak + 1) * hop, hop));
    findTempo(gained, source.rateHz() / static_cast<double>(hop), rhythm);
    return rhythm;
}

std::size_t snappedToOnset(const Rhythm& rhythm, std::size_t frame, double rate_hz)
{
    const auto reach = static_cast<std::size_t>(snap_s * rate_hz);
    std::size_t nearest = frame;
    std::size_t least = reach + 1;
    for (const std::size_t onset : rhythm.onsets)
        if (const std::size_t away = onset > frame ? onset - frame : frame - onset; away < least) {
            least = away;
            nearest = onset;
        }
    return nearest;
}

std::size_t snappedToBar(double tempo_bpm, std::size_t frame, double rate_hz)
{
    const double bar = signal::beats_a_bar * 60 / tempo_bpm * rate_hz;
    return static_cast<std::size_t>(std::llround(std::round(static_cast<double>(frame) / bar) * bar));
}

} // namespace hr::audition
