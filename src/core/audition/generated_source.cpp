// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/generated_source.h"

#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::audition {

namespace {

constexpr std::array<GeneratedSound, 6> sounds{{{"generated:tone", "Tone, 1 kHz"},
                                                {"generated:sweep", "Sweep, 20 Hz to 20 kHz"},
                                                {"generated:pink-noise", "Pink noise"},
                                                {"generated:white-noise", "White noise"},
                                                {"generated:clicks", "Clicks, two a second"},
                                                {"generated:silence", "Silence"}}};

/// Gaussian, with this much of each frequency, at the level; it joins up with itself, being made of whole
/// cycles.
template<class Weight>
std::vector<double> noise(std::size_t frames, double rate_hz, std::uint64_t seed, Weight weight)
{
    auto bins = signal::forwardTransform(signal::gaussianNoise(1, frames, seed));
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] *= weight(static_cast<double>(k) * rate_hz / static_cast<double>(frames));
    auto samples = signal::inverseTransform(bins, frames);
    const double gain =
        signal::dbToLinear(generated_level_dbfs - signal::rmsDbfs(std::span<const double>(samples)));
    for (double& sample : samples)
        sample *= gain;
    return samples;
}

std::vector<double> clicks(std::size_t frames, double rate_hz)
{
    std::vector<double> samples(frames, 0.0);
    for (std::size_t at = 0; at < frames; at += static_cast<std::size_t>(rate_hz / 2))
        samples[at] = 0.5;
    return samples;
}

/// From 20 Hz to 20 kHz or as far as the rate goes, once, and back to silence before it repeats.
std::vector<double> sweep(std::size_t frames, double rate_hz)
{
    return signal::exponentialSweep(20, std::min(20000.0, 0.45 * rate_hz),
                                    signal::dbToLinear(generated_level_dbfs), rate_hz, frames);
}

} // namespace

std::span<const GeneratedSound> generatedSounds()
{
    return sounds;
}

std::optional<signal::AudioBuffer> generatedSound(std::string_view name, double rate_hz)
{
    const auto frames = static_cast<std::size_t>(generated_s * rate_hz);
    const auto pink = [](double hz) { return hz < 10 ? 0.0 : 1 / std::sqrt(hz); };
    const auto white = [](double hz) { return hz < 10 ? 0.0 : 1.0; };
    if (name == "generated:tone")
        return signal::onChannels(signal::sine(1000, signal::dbToLinear(generated_level_dbfs), rate_hz, frames),
                                  2, rate_hz);
    if (name == "generated:sweep")
        return signal::onChannels(sweep(frames, rate_hz), 2, rate_hz);
    if (name == "generated:clicks")
        return signal::onChannels(clicks(frames, rate_hz), 2, rate_hz);
    if (name == "generated:silence")
        return signal::AudioBuffer(2, frames, rate_hz);
    if (name != "generated:pink-noise" && name != "generated:white-noise")
        return std::nullopt;
    signal::AudioBuffer stereo(2, frames, rate_hz); // two sides that have nothing in common
    for (std::size_t c = 0; c < 2; ++c) {
        const auto samples = name == "generated:pink-noise" ? noise(frames, rate_hz, 11 + c, pink)
                                                            : noise(frames, rate_hz, 21 + c, white);
        std::ranges::transform(samples, stereo.channel(c).begin(),
                               [](double sample) { return static_cast<float>(sample); });
    }
    return stereo;
}

Result<std::shared_ptr<const Source>> loadSource(const std::string& name_or_file, double rate_hz)
{
    if (auto sound = generatedSound(name_or_file, rate_hz))
        return std::make_shared<const Source>(std::move(*sound));
    return Source::load(name_or_file, rate_hz);
}

} // namespace hr::audition
