// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/latency.h"

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
constexpr double heard_share = 0.48; // of the rate
constexpr std::size_t latency_near_samples = 2;
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

struct ExcessPeak {
    std::size_t at = 0;
    double beyond = 0; ///< between the samples, -0.5 to 0.5
};

/// The highest of what is left of a response when its minimum-phase part is taken out.
std::optional<ExcessPeak> excessPeak(std::vector<double> response, std::size_t near_samples)
{
    response.resize(std::size_t{1} << static_cast<unsigned>(std::ceil(std::log2(response.size() + 1))));
    Bins bins = signal::forwardTransform(response);
    double loudest = 0;
    for (const auto& bin : bins)
        loudest = std::max(loudest, std::abs(bin));
    if (loudest < 1e-9)
        return std::nullopt; // silence
    // The stimulus ends there: that is no filter's fall.
    const auto top = static_cast<std::size_t>(heard_share * static_cast<double>(response.size()));
    std::vector<double> log_magnitude;
    for (std::size_t k = 0; k < bins.size(); ++k)
        log_magnitude.push_back(std::log(std::max(std::abs(bins[std::min(k, top)]), floor_ratio * loudest)));
    const auto phase = minimumPhase(log_magnitude, response.size());
    for (std::size_t k = 0; k < bins.size(); ++k)
        bins[k] = k <= top && std::abs(bins[k]) > floor_ratio * loudest
                      ? std::polar(1.0, std::arg(bins[k]) - phase[k])
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
    if (near < dominant_share * total)
        return std::nullopt;
    const auto beside = [&](std::size_t by) {
        return std::abs(excess[(at + by + excess.size() - 1) % excess.size()]);
    };
    const double bend = beside(0) - 2 * beside(1) + beside(2);
    return ExcessPeak{at, bend < 0 ? 0.5 * (beside(0) - beside(2)) / bend : 0};
}

/// The answer to a burst of noise with silence behind it, which can be made longer.
class Burst {
public:
    Burst(hosting::Instance& instance, double rate_hz, double level_dbfs)
        : m_instance(instance), m_rate_hz(rate_hz)
    {
        m_in = signal::gaussianNoise(signal::dbToLinear(level_dbfs), burst_frames, 11);
        for (double& s : m_in)
            s = static_cast<double>(static_cast<float>(s));
    }

    /// The impulse response as far as `frames`.
    hosting::FaultOr<std::vector<double>> response(std::size_t frames)
    {
        const std::size_t wanted = burst_frames + frames;
        m_in.resize(std::max(m_in.size(), wanted));
        const auto& info = m_instance.info();
        signal::AudioBuffer in(info.audio_in + info.key_in, m_in.size() - m_out.size(), m_rate_hz);
        for (std::size_t c = 0; c < in.channels(); ++c)
            std::transform(m_in.begin() + static_cast<std::ptrdiff_t>(m_out.size()), m_in.end(),
                           in.channel(c).begin(), [](double s) { return static_cast<float>(s); });
        auto out = m_instance.process(in);
        if (!out)
            return tl::make_unexpected(out.error());
        const auto first = out->channel(0);
        m_out.insert(m_out.end(), first.begin(), first.end());
        return signal::deconvolve(m_out, m_in);
    }

private:
    hosting::Instance& m_instance;
    double m_rate_hz;
    std::vector<double> m_in, m_out;
};

hosting::FaultOr<std::optional<std::size_t>> findAtLevel(hosting::Instance& instance, double rate_hz,
                                                         double level_dbfs)
{
    Burst burst(instance, rate_hz, level_dbfs);
    const auto second = static_cast<std::size_t>(rate_hz);
    for (const bool whole : {false, true}) {
        const std::size_t reported = instance.latencySamples();
        const std::size_t window = whole ? reported + second : burst_frames;
        auto response = burst.response(window);
        if (!response)
            return tl::make_unexpected(response.error());
        const auto found = latencyOf(*response, window);
        const auto allowed =
            instance.latencySamples() + static_cast<std::size_t>(most_unreported_echo_s * rate_hz);
        if (found && (*found <= allowed || !delaysOnPurpose(instance.info())))
            return found;
    }
    return std::nullopt;
}

} // namespace

std::optional<double> arrivalOf(const std::vector<double>& response, std::size_t near_samples)
{
    const auto peak = excessPeak(response, near_samples);
    return peak ? std::optional(static_cast<double>(peak->at) + peak->beyond) : std::nullopt;
}

std::optional<std::size_t> latencyOf(const std::vector<double>& impulse_response, std::size_t most_samples)
{
    const auto peak = excessPeak(impulse_response, latency_near_samples);
    return peak && peak->at <= most_samples ? std::optional(peak->at) : std::nullopt;
}

bool delaysOnPurpose(const processors::ProcessorInfo& info)
{
    return info.kind == "delay" || info.kind == "reverb" || info.format == "chain";
}

hosting::FaultOr<std::optional<std::size_t>> findLatency(hosting::Instance& instance,
                                                         const processors::PlayConditions& conditions,
                                                         std::span<const double> values, std::size_t* reported)
{
    std::optional<std::size_t> found;
    // What rides the level or bends the waveform smears the louder burst, but not the quieter one.
    for (const double level_dbfs : {-30.0, -70.0}) {
        if (auto started = instance.start(conditions, values); !started)
            return tl::make_unexpected(started.error());
        auto at_level = findAtLevel(instance, conditions.sample_rate_hz, level_dbfs);
        if (!at_level)
            return at_level;
        found = *at_level;
        if (reported)
            *reported = instance.latencySamples();
        if (found)
            break;
    }
    if (auto started = instance.start(conditions, values); !started)
        return tl::make_unexpected(started.error());
    return found;
}

} // namespace hr::bench
