// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/excess_phase.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>
#include <numeric>

namespace hr::bench {

namespace {

constexpr double dominant_share = 0.5;
/// A peak that holds so much of the power of an excess has no beginning before it.
constexpr double stands_alone = 0.75;
/// One that began at once, so many samples before its peak at most: so much higher than all before it, and not
/// nothing against the peak.
constexpr std::size_t begins_within = 8;
constexpr double abrupt_ratio = 8;
constexpr double least_beginning = 0.02;
/// An excess is an impulse where all frequencies agree so far, and of one sign where nothing of the other is so
/// high against it. One look goes deeper than the other.
constexpr double impulse_agreement = 0.9;
constexpr double highest_of_other_sign = 0.6;
constexpr double deeper_db = -100;
/// Of what is no impulse, the lowest frequency has the polarity, where that is not lost and all of the excess
/// lies within this: an all-pass filter. What is left rings or repeats.
constexpr double least_dc = 0.01;
constexpr std::size_t brief_samples = 1024;
constexpr double brief_share = 0.9;
constexpr std::ptrdiff_t polarity_frames = 1 << 15;
constexpr double dies_by_db = -60;
constexpr double begins_share = 0.001;
/// How it falls is read off from this part of the last frequency that can be heard.
constexpr double falls_over = 0.9;

/// Phase of the minimum-phase response of this magnitude, by folding the cepstrum.
std::vector<double> minimumPhase(const std::vector<double>& log_magnitude, std::size_t size)
{
    const Bins even(log_magnitude.begin(), log_magnitude.end());
    auto cepstrum = signal::inverseTransform(even, size);
    for (std::size_t n = 1; n < size; ++n)
        cepstrum[n] *= n < size / 2 ? 2 : n > size / 2 ? 0 : 1;
    std::vector<double> phase;
    for (const auto& bin : signal::forwardTransform(cepstrum))
        phase.push_back(bin.imag());
    return phase;
}

/// A line through log magnitudes on the axis on which filters that came from analogue ones fall along lines,
/// beyond both ends of what was heard: that of log tan(w / 2), the bilinear transform's.
class FallingLine {
public:
    /// Through the bin at `end`, by those from there to `other`; level where it would rise.
    FallingLine(const std::vector<double>& log_magnitude, std::size_t end, std::size_t other)
        : m_bins(static_cast<double>(log_magnitude.size() - 1))
    {
        double xy = 0;
        double xx = 1e-300;
        for (std::size_t k = std::min(end, other); k <= std::max(end, other); ++k) {
            const double dx = x(k) - x(end);
            xy += dx * (log_magnitude[k] - log_magnitude[end]);
            xx += dx * dx;
        }
        const bool upwards = end > other;
        m_slope = upwards ? std::min(0.0, xy / xx) : std::max(0.0, xy / xx);
        m_from = log_magnitude[end] - m_slope * x(end);
    }
    double at(std::size_t k) const { return m_from + m_slope * x(k); }

private:
    double x(std::size_t k) const // neither end of the axis is at infinity
    {
        const double share = std::clamp(static_cast<double>(k), 0.5, m_bins - 0.5);
        return std::log(std::tan(std::numbers::pi / 2 * share / m_bins));
    }

    double m_bins;
    double m_slope = 0;
    double m_from = 0;
};

/// Of what can be heard of it. Where that ends, or it has sunk below the floor for good, it goes on as it fell
/// just before: else a filter would seem to come later or earlier than it does.
std::vector<double> logMagnitude(const Bins& bins, double floor, std::size_t top)
{
    std::vector<double> log_magnitude;
    for (const auto& bin : bins)
        log_magnitude.push_back(std::log(std::max(std::abs(bin), floor)));
    std::size_t last = top;
    while (last > 1 && std::abs(bins[last]) <= floor)
        --last;
    if (const auto other = static_cast<std::size_t>(falls_over * static_cast<double>(last)); other < last) {
        const FallingLine line(log_magnitude, last, other);
        for (std::size_t k = last + 1; k < bins.size(); ++k)
            log_magnitude[k] = line.at(k);
    }
    std::size_t first = 0;
    while (first < last && std::abs(bins[first]) <= floor)
        ++first;
    if (const auto other = static_cast<std::size_t>(static_cast<double>(first) / falls_over);
        other > first + 1 && other < last) {
        const FallingLine line(log_magnitude, first, other);
        for (std::size_t k = 0; k < first; ++k)
            log_magnitude[k] = line.at(k);
    }
    return log_magnitude;
}

/// The bins without their minimum-phase part, all of one magnitude as far as there is anything to be heard; all
/// 0 for silence.
Bins excessOf(Bins bins, Heard heard)
{
    const std::size_t size = 2 * (bins.size() - 1);
    double loudest = 0;
    for (const auto& bin : bins)
        loudest = std::max(loudest, std::abs(bin));
    if (loudest < 1e-9)
        return Bins(bins.size());
    const double floor = signal::dbToLinear(heard.down_to_db) * loudest;
    const auto top = static_cast<std::size_t>(heard.share_of_rate * static_cast<double>(size));
    const auto phase = minimumPhase(logMagnitude(bins, floor, top), size);
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] = k <= top && std::abs(bins[k]) > floor ? std::polar(1.0, std::arg(bins[k]) - phase[k])
                                                        : std::complex<double>();
    return bins;
}

/// Goes on to the end of the band with the delay that it has just below the last bin that was heard.
Bins continuedToTheEnd(Bins bins)
{
    std::size_t last = bins.size() - 1;
    while (last > 0 && bins[last] == std::complex<double>())
        --last;
    const auto first = static_cast<std::size_t>(falls_over * static_cast<double>(last));
    std::complex<double> step;
    for (std::size_t k = first; k < last; ++k)
        step += bins[k + 1] * std::conj(bins[k]);
    for (std::size_t k = last + 1; k < bins.size() && std::abs(step) > 0; ++k)
        bins[k] = bins[k - 1] * step / std::abs(step);
    return bins;
}

Bins binsOf(std::span<const double> response)
{
    std::vector<double> padded(std::bit_ceil(response.size() + 1));
    std::ranges::copy(response, padded.begin());
    return signal::forwardTransform(padded);
}

/// Of the highest sample, where none of the other sign is nearly as high.
std::optional<int> clearSign(std::span<const double> samples)
{
    const auto [low, high] = std::ranges::minmax_element(samples);
    if (std::max(*high, 0.0) < highest_of_other_sign * -*low)
        return -1;
    return -std::min(*low, 0.0) < highest_of_other_sign * *high ? std::optional(1) : std::nullopt;
}

} // namespace

ExcessPhase::ExcessPhase(const Bins& bins, Heard heard)
{
    take(excessOf(bins, heard));
}

ExcessPhase::ExcessPhase(std::span<const double> response, Heard heard) : ExcessPhase(binsOf(response), heard)
{
}

void ExcessPhase::take(Bins bins)
{
    m_bins = std::move(bins);
    m_samples = signal::inverseTransform(m_bins, 2 * (m_bins.size() - 1));
    const auto highest = std::ranges::max_element(m_samples, {}, [](double s) { return std::abs(s); });
    m_peak = static_cast<std::size_t>(highest - m_samples.begin());
}

double ExcessPhase::at(std::size_t before_peak, std::size_t i) const
{
    return m_samples[(m_peak + m_samples.size() - before_peak + i) % m_samples.size()];
}

double ExcessPhase::share(std::size_t each_side) const
{
    double near = 0;
    for (std::size_t i = 0; i <= 2 * each_side; ++i)
        near += at(each_side, i) * at(each_side, i);
    return near / std::inner_product(m_samples.begin(), m_samples.end(), m_samples.begin(), 1e-300);
}

double ExcessPhase::agreement(double delay) const
{
    const double step = 2 * std::numbers::pi * delay / static_cast<double>(m_samples.size());
    const std::complex<double> turn = std::polar(1.0, step);
    std::complex<double> now = 1;
    double sum = 0;
    double all = 1e-300;
    for (const auto& bin : m_bins) {
        sum += bin.real() * now.real() - bin.imag() * now.imag();
        all += std::abs(bin);
        now *= turn;
    }
    return sum / all;
}

double ExcessPhase::agreedDelay() const
{
    double low = static_cast<double>(m_peak) - 1;
    double high = low + 2;
    while (high - low > 0.01) {
        const double a = low + (high - low) / 3;
        const double b = high - (high - low) / 3;
        const bool later = std::abs(agreement(a)) < std::abs(agreement(b));
        (later ? low : high) = later ? a : b;
    }
    return (low + high) / 2;
}

std::optional<double> ExcessPhase::delay(std::size_t near_samples) const
{
    return share(near_samples) < dominant_share ? std::nullopt : std::optional(agreedDelay());
}

std::optional<std::size_t> ExcessPhase::abruptBeginning() const
{
    ExcessPhase whole;
    whole.take(continuedToTheEnd(m_bins));
    if (whole.share(0) > stands_alone)
        return whole.m_peak;
    double before = 0;
    for (std::size_t i = 0; i <= 2 * begins_within; ++i) {
        const double now = std::abs(whole.at(2 * begins_within, i));
        const bool abrupt = now > abrupt_ratio * before && now > least_beginning * std::abs(whole.at(0, 0));
        if (i >= begins_within && abrupt)
            return whole.m_peak + i - 2 * begins_within;
        before = std::max(before, now);
    }
    return std::nullopt;
}

bool ExcessPhase::isImpulse() const
{
    return std::abs(agreement(agreedDelay())) > impulse_agreement;
}

std::optional<int> ExcessPhase::sign() const
{
    return isImpulse() ? clearSign(m_samples) : std::nullopt;
}

bool ExcessPhase::isBrief() const
{
    return share(brief_samples) > brief_share;
}

std::optional<int> polarityOf(std::span<const double> response)
{
    const auto highest = std::ranges::max_element(response, {}, [](double s) { return std::abs(s); });
    const auto first = std::ranges::find_if(
        response, [&](double s) { return std::abs(s) > begins_share * std::abs(*highest); });
    if (highest - first > polarity_frames / 2)
        return std::nullopt; // it rises for longer than is looked at
    const auto begin = first - std::min<std::ptrdiff_t>(first - response.begin(), polarity_frames / 8);
    std::vector<double> near(begin, begin + std::min<std::ptrdiff_t>(response.end() - begin, polarity_frames));
    near.resize(polarity_frames);
    // What rings on beyond that dies away by then: every pole and zero moves inwards, and stays what it was.
    for (std::size_t i = 0; i < near.size(); ++i)
        near[i] *= signal::dbToLinear(dies_by_db * static_cast<double>(i) / static_cast<double>(near.size()));
    const Bins bins = signal::forwardTransform(near);
    const ExcessPhase excess(bins);
    if (excess.isImpulse())
        return excess.sign() ? excess.sign() : ExcessPhase(bins, {.down_to_db = deeper_db}).sign();
    double total = 0;
    for (const auto& bin : bins)
        total += std::norm(bin);
    const bool keeps_dc = std::norm(bins.front()) > least_dc * total / static_cast<double>(bins.size());
    if (keeps_dc && excess.isBrief())
        return bins.front().real() < 0 ? -1 : 1;
    return clearSign(near);
}

} // namespace hr::bench
