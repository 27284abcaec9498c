// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/excess_phase.h"

#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

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
/// A polarity is that of an impulse where all frequencies agree so far; else that of the lowest frequency,
/// where that is not lost and all of the excess lies within this: an all-pass filter's. What is left rings or
/// repeats.
constexpr double impulse_agreement = 0.9;
constexpr double least_dc = 0.01;
constexpr std::size_t brief_samples = 1024;
constexpr double brief_share = 0.9;
constexpr std::ptrdiff_t polarity_frames = 1 << 15;
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

/// How far the bins, each turned back by a delay, point the same way: 1 where they are those of an impulse that
/// came so late, -1 where it is turned round.
double agreement(const Bins& bins, std::size_t size, double delay)
{
    const std::complex<double> turn = std::polar(1.0, 2 * std::numbers::pi * delay / static_cast<double>(size));
    std::complex<double> now = 1;
    double sum = 0;
    double all = 1e-300;
    for (const auto& bin : bins) {
        sum += bin.real() * now.real() - bin.imag() * now.imag();
        all += std::abs(bin);
        now *= turn;
    }
    return sum / all;
}

/// Where they agree best, within a sample: the highest point of the signal, between samples.
double agreedDelay(const Bins& bins, std::size_t size, std::size_t near)
{
    double low = static_cast<double>(near) - 1;
    double high = low + 2;
    while (high - low > 0.01) {
        const double a = low + (high - low) / 3;
        const double b = high - (high - low) / 3;
        const bool later = std::abs(agreement(bins, size, a)) < std::abs(agreement(bins, size, b));
        (later ? low : high) = later ? a : b;
    }
    return (low + high) / 2;
}

/// The bins without their minimum-phase part, all of one magnitude as far as there is anything to be heard; all
/// 0 for silence.
Bins excessOf(Bins bins, std::size_t size, Heard heard)
{
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

struct Excess {
    std::vector<double> samples;
    std::size_t peak = 0;

    explicit Excess(const Bins& bins, std::size_t size) : samples(signal::inverseTransform(bins, size))
    {
        const auto highest = std::ranges::max_element(samples, {}, [](double s) { return std::abs(s); });
        peak = static_cast<std::size_t>(highest - samples.begin());
    }
    /// Of `count` samples beginning so many before the peak.
    double power(std::size_t before_peak, std::size_t count) const
    {
        double sum = 0;
        for (std::size_t i = 0; i < count; ++i)
            sum += at(before_peak, i) * at(before_peak, i);
        return sum;
    }
    double at(std::size_t before_peak, std::size_t i) const
    {
        return samples[(peak + samples.size() - before_peak + i) % samples.size()];
    }
    bool dominates(std::size_t near_samples) const
    {
        return power(near_samples, 2 * near_samples + 1) >= dominant_share * power(0, samples.size());
    }
};

/// Goes on to the end of the band with the delay that it has just below the last bin that was heard.
void continueToTheEnd(Bins& bins)
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
}

} // namespace

std::optional<double> excessDelay(Bins bins, std::size_t size, std::size_t near_samples, Heard heard)
{
    const Bins excess = excessOf(std::move(bins), size, heard);
    const Excess signal(excess, size);
    return signal.samples[signal.peak] != 0 && signal.dominates(near_samples)
               ? std::optional(agreedDelay(excess, size, signal.peak))
               : std::nullopt;
}

std::optional<double> arrivalOf(const std::vector<double>& response, std::size_t near_samples, Heard heard)
{
    std::vector<double> padded = response;
    padded.resize(std::bit_ceil(response.size() + 1));
    return excessDelay(signal::forwardTransform(padded), padded.size(), near_samples, heard);
}

int polarityOf(std::span<const double> response)
{
    const auto sign = [](double value) { return value < 0 ? -1 : 1; };
    const auto highest = std::ranges::max_element(response, {}, [](double s) { return std::abs(s); });
    const auto before = std::min<std::ptrdiff_t>(highest - response.begin(), polarity_frames / 8);
    const auto count = std::min<std::ptrdiff_t>(response.end() - (highest - before), polarity_frames);
    std::vector<double> near(highest - before, highest - before + count);
    near.resize(polarity_frames);
    const Bins bins = signal::forwardTransform(near);
    const Bins excess = excessOf(bins, near.size(), {});
    const Excess signal(excess, near.size());
    const double agreed = agreement(excess, near.size(), agreedDelay(excess, near.size(), signal.peak));
    if (std::abs(agreed) > impulse_agreement)
        return sign(agreed);
    double total = 0;
    for (const auto& bin : bins)
        total += std::norm(bin);
    const bool keeps_dc = std::norm(bins.front()) > least_dc * total / static_cast<double>(bins.size());
    const bool brief =
        signal.power(brief_samples, 2 * brief_samples) > brief_share * signal.power(0, near.size());
    return keeps_dc && brief ? sign(bins.front().real()) : sign(*highest);
}

std::optional<std::size_t> abruptBeginning(const std::vector<double>& response)
{
    std::vector<double> padded = response;
    padded.resize(std::bit_ceil(response.size() + 1));
    Bins bins = excessOf(signal::forwardTransform(padded), padded.size(), {});
    continueToTheEnd(bins);
    const Excess excess(bins, padded.size());
    if (excess.power(0, 1) > stands_alone * excess.power(0, padded.size()))
        return excess.peak;
    double before = 0;
    for (std::size_t i = 0; i <= 2 * begins_within; ++i) {
        const double now = std::abs(excess.at(2 * begins_within, i));
        const bool abrupt = now > abrupt_ratio * before && now > least_beginning * std::abs(excess.at(0, 0));
        if (i >= begins_within && abrupt)
            return excess.peak + i - 2 * begins_within;
        before = std::max(before, now);
    }
    return std::nullopt;
}

} // namespace hr::bench
