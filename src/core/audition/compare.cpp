// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/compare.h"

#include "audition/alignment.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

/// Bands more than this below the loudest hold nothing that could be compared.
constexpr double band_floor_db = -70;

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
    const double floor = *std::ranges::max_element(a) * signal::dbToPower(band_floor_db);
    std::optional<double> largest;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (a[i] > floor && b[i] > 0)
            largest = std::max(largest.value_or(0), std::abs(signal::powerToDb(a[i] / b[i]) - gain_db));
    return largest;
}

} // namespace

Comparison compare(const signal::AudioBuffer& first, const signal::AudioBuffer& second,
                   const std::stop_token& cancel)
{
    Comparison c;
    const std::size_t frames = first.frames();
    const double rate_hz = first.sampleRateHz();
    const auto a = spectraOf(first);
    auto b = spectraOf(second);
    const double power_first = power(a, frames);
    if (const double power_second = power(b, frames); power_first == 0 || power_second == 0) {
        c.same = power_first == power_second;
        return c;
    }
    if (cancel.stop_requested())
        return c;
    c.offset_samples = offsetOf(a, b, frames, frames);
    if (cancel.stop_requested())
        return c;
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
        c.residual_db = signal::powerToDb(left / power_first);
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
