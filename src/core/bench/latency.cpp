// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/latency.h"

#include "bench/device.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

constexpr std::size_t burst_frames = 1 << 14;
/// What is quieter than this against the loudest has no phase worth looking at.
constexpr double floor_ratio = 1e-4;
constexpr std::size_t near_samples = 2;
constexpr double dominant_share = 0.5;

using Bins = std::vector<std::complex<double>>;

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

hosting::FaultOr<std::vector<double>> burstResponse(hosting::Instance& instance, double rate_hz,
                                                    double level_dbfs)
{
    auto burst = signal::gaussianNoise(signal::dbToLinear(level_dbfs), burst_frames, 11);
    for (double& s : burst)
        s = static_cast<double>(static_cast<float>(s));
    burst.resize(2 * burst_frames);
    const auto& info = instance.info();
    signal::AudioBuffer in(info.audio_in + info.key_in, burst.size(), rate_hz);
    for (std::size_t c = 0; c < info.audio_in; ++c)
        std::ranges::transform(burst, in.channel(c).begin(), [](double s) { return static_cast<float>(s); });
    auto out = instance.process(in);
    if (!out)
        return tl::make_unexpected(out.error());
    return signal::deconvolve(asDoubles(out->channel(0)), burst);
}

} // namespace

std::optional<std::size_t> latencyOf(const std::vector<double>& impulse_response)
{
    std::vector<double> response = impulse_response;
    response.resize(std::size_t{1} << static_cast<unsigned>(std::ceil(std::log2(response.size() + 1))));
    Bins bins = signal::forwardTransform(response);
    double loudest = 0;
    for (const auto& bin : bins)
        loudest = std::max(loudest, std::abs(bin));
    if (loudest < 1e-9)
        return std::nullopt; // silence
    std::vector<double> log_magnitude;
    for (const auto& bin : bins)
        log_magnitude.push_back(std::log(std::max(std::abs(bin), floor_ratio * loudest)));
    const auto phase = minimumPhase(log_magnitude, response.size());
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] = std::abs(bins[k]) > floor_ratio * loudest ? std::polar(1.0, std::arg(bins[k]) - phase[k])
                                                            : std::complex<double>();
    const auto excess = signal::inverseTransform(bins, response.size());
    double total = 0;
    for (const double s : excess)
        total += s * s;
    const auto peak = std::ranges::max_element(excess, {}, [](double s) { return std::abs(s); });
    const auto at = static_cast<std::size_t>(peak - excess.begin());
    double near = 0;
    for (std::size_t i = 0; i <= 2 * near_samples; ++i) {
        const double s = excess[(at + i + excess.size() - near_samples) % excess.size()];
        near += s * s;
    }
    if (near < dominant_share * total || at > most_latency_samples)
        return std::nullopt;
    return at;
}

hosting::FaultOr<std::optional<std::size_t>> findLatency(hosting::Instance& instance,
                                                         const processors::PlayConditions& conditions,
                                                         std::span<const double> values)
{
    std::optional<std::size_t> found;
    // What rides the level or bends the waveform smears the louder burst, but not the quieter one.
    for (const double level_dbfs : {-30.0, -70.0}) {
        if (auto started = instance.start(conditions, values); !started)
            return tl::make_unexpected(started.error());
        auto response = burstResponse(instance, conditions.sample_rate_hz, level_dbfs);
        if (!response)
            return tl::make_unexpected(response.error());
        found = latencyOf(*response);
        if (found)
            break;
    }
    if (auto started = instance.start(conditions, values); !started)
        return tl::make_unexpected(started.error());
    return found;
}

} // namespace hr::bench
