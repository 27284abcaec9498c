// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/compare.h"

#include "signal/levels.h"
#include "signal/loudness.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>
#include <utility>

namespace hr::audition {

namespace {

using Bins = std::vector<std::complex<double>>;

/// Bands more than this below the loudest hold nothing that could be compared.
constexpr double band_floor_db = -70;

std::vector<Bins> spectraOf(const signal::AudioBuffer& sound)
{
    std::vector<Bins> spectra;
    for (std::size_t c = 0; c < sound.channels(); ++c) {
        const auto samples = sound.channel(c);
        spectra.push_back(signal::forwardTransform(std::vector<double>(samples.begin(), samples.end())));
    }
    return spectra;
}

/// Sums over all bins and channels; inner bins stand for two. At half the rate a delay by parts of a sample has
/// no meaning: that bin is left out.
template<class Term>
double total(const std::vector<Bins>& spectra, std::size_t frames, Term term)
{
    double sum = 0;
    for (std::size_t c = 0; c < spectra.size(); ++c)
        for (std::size_t k = 0; k < spectra[c].size(); ++k)
            sum += (k == 0 ? 1 : 2 * k == frames ? 0 : 2) * term(c, k);
    return sum;
}

/// Whole samples by which `b` is later than `a`, in the circle: the highest correlation. A steady tone has many
/// as high ones; of those the one that moves least.
double wholeOffset(const std::vector<Bins>& a, const std::vector<Bins>& b, std::size_t frames)
{
    Bins product(a.front().size());
    for (std::size_t c = 0; c < a.size(); ++c)
        for (std::size_t k = 0; k < product.size(); ++k)
            product[k] += std::conj(a[c][k]) * b[c][k];
    const auto correlation = signal::inverseTransform(product, frames);
    double highest = 0;
    for (const double s : correlation)
        highest = std::max(highest, std::abs(s));
    const auto isHighest = [&](std::size_t at) { return std::abs(correlation[at]) >= highest * (1 - 1e-9); };
    for (std::size_t away = 0; away <= frames / 2; ++away) {
        if (isHighest(away))
            return static_cast<double>(away);
        if (isHighest((frames - away) % frames))
            return -static_cast<double>(away);
    }
    return 0;
}

/// The second spectra, earlier by `offset` samples.
std::vector<Bins> advanced(const std::vector<Bins>& spectra, double offset, std::size_t frames)
{
    std::vector<Bins> moved = spectra;
    for (std::size_t k = 0; k < moved.front().size(); ++k) {
        const auto turn = std::polar(1.0, 2 * std::numbers::pi * static_cast<double>(k) * offset /
                                              static_cast<double>(frames));
        for (Bins& bins : moved)
            bins[k] *= turn;
    }
    return moved;
}

/// The offset near `whole` at which both agree most (golden section; J. Kiefer 1953); `whole` itself where no
/// other is better, so that equal sounds have no rounding between them.
double refinedOffset(const std::vector<Bins>& a, const std::vector<Bins>& b, double whole, std::size_t frames)
{
    Bins product(a.front().size());
    for (std::size_t c = 0; c < a.size(); ++c)
        for (std::size_t k = 0; k < product.size(); ++k)
            product[k] += std::conj(a[c][k]) * b[c][k];
    const auto agreement = [&](double offset) {
        double sum = 0;
        for (std::size_t k = 0; k < product.size(); ++k)
            sum += (product[k] * std::polar(1.0, 2 * std::numbers::pi * static_cast<double>(k) * offset /
                                                     static_cast<double>(frames)))
                       .real();
        return std::abs(sum);
    };
    const double ratio = (std::sqrt(5.0) - 1) / 2;
    double low = whole - 1;
    double high = whole + 1;
    double x1 = high - ratio * (high - low);
    double x2 = low + ratio * (high - low);
    double f1 = agreement(x1);
    double f2 = agreement(x2);
    while (high - low > 1e-6) {
        if (f1 > f2) {
            high = std::exchange(x2, x1);
            f2 = f1;
            x1 = high - ratio * (high - low);
            f1 = agreement(x1);
        } else {
            low = std::exchange(x1, x2);
            f1 = f2;
            x2 = low + ratio * (high - low);
            f2 = agreement(x2);
        }
    }
    const double best = (low + high) / 2;
    return agreement(best) > agreement(whole) * (1 + 1e-12) ? best : whole;
}

std::optional<double> loudnessOf(const std::vector<Bins>& spectra, std::size_t frames, double rate_hz)
{
    signal::AudioBuffer sound(spectra.size(), frames, rate_hz);
    for (std::size_t c = 0; c < spectra.size(); ++c)
        std::ranges::transform(signal::inverseTransform(spectra[c], frames), sound.channel(c).begin(),
                               [](double s) { return static_cast<float>(s); });
    return signal::measureLoudness(sound).integrated_lufs;
}

/// Power in third octaves from 25 Hz to 20 kHz, of all channels.
std::vector<double> thirdOctaves(const std::vector<Bins>& spectra, std::size_t frames, double rate_hz)
{
    std::vector<double> bands(30);
    for (const Bins& bins : spectra)
        for (std::size_t k = 1; k < bins.size(); ++k) {
            const double hz = static_cast<double>(k) * rate_hz / static_cast<double>(frames);
            const double band = std::round(3 * std::log2(hz / 1000)) + 16;
            if (band >= 0 && band < static_cast<double>(bands.size()))
                bands[static_cast<std::size_t>(band)] += std::norm(bins[k]);
        }
    return bands;
}

std::optional<double> responseDifference(const std::vector<double>& a, const std::vector<double>& b,
                                         double gain_db)
{
    const double floor = *std::ranges::max_element(a) * std::pow(10, band_floor_db / 10);
    std::optional<double> largest;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (a[i] > floor && b[i] > 0)
            largest = std::max(largest.value_or(0), std::abs(signal::powerToDb(a[i] / b[i]) - gain_db));
    return largest;
}

} // namespace

Comparison compare(const signal::AudioBuffer& first, const signal::AudioBuffer& second)
{
    Comparison c;
    const std::size_t frames = first.frames();
    const double rate_hz = first.sampleRateHz();
    const auto a = spectraOf(first);
    auto b = spectraOf(second);
    const auto power = [&](const std::vector<Bins>& spectra) {
        return total(spectra, frames, [&](std::size_t ch, std::size_t k) { return std::norm(spectra[ch][k]); });
    };
    if (power(a) == 0 || power(b) == 0) {
        c.same = power(a) == 0 && power(b) == 0;
        return c;
    }
    c.offset_samples = refinedOffset(a, b, wholeOffset(a, b, frames), frames);
    b = advanced(b, c.offset_samples, frames);
    // Both as spectra and back, and in step: what the transforms round they round alike.
    const auto loudness_first = loudnessOf(a, frames, rate_hz);
    const auto loudness_second = loudnessOf(b, frames, rate_hz);
    if (!loudness_first || !loudness_second)
        return c;
    c.gain_db = *loudness_first - *loudness_second;
    const double gain = signal::dbToLinear(*c.gain_db);
    const double left =
        total(a, frames, [&](std::size_t ch, std::size_t k) { return std::norm(a[ch][k] - gain * b[ch][k]); });
    if (left > 0)
        c.residual_db = signal::powerToDb(left / power(a));
    c.same = !c.residual_db || *c.residual_db < same_below_db;
    c.response_difference_db =
        responseDifference(thirdOctaves(a, frames, rate_hz), thirdOctaves(b, frames, rate_hz), *c.gain_db);
    return c;
}

hosting::FaultOr<signal::AudioBuffer> heardThrough(hosting::Instance& instance, std::span<const double> values,
                                                   const signal::AudioBuffer& source)
{
    if (auto started = instance.start({source.sampleRateHz(), 256}, values); !started)
        return tl::make_unexpected(started.error());
    signal::AudioBuffer in(2 + instance.info().key_in, source.frames(), source.sampleRateHz());
    for (std::size_t c = 0; c < 2; ++c)
        std::ranges::copy(source.channel(std::min(c, source.channels() - 1)), in.channel(c).begin());
    if (auto settled = instance.process(in); !settled)
        return tl::make_unexpected(settled.error());
    return instance.process(in);
}

} // namespace hr::audition
