// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/latency.h"

#include "bench/excess_phase.h"
#include "bench/warm_up.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

constexpr std::size_t burst_frames = 1 << 14;
constexpr std::size_t latency_near_samples = 2;
/// What falls so steeply that its delay depends on how far down it is looked at has none that can be told.
constexpr double deeper_look_db = -100;
/// What is silent for so long may sleep until it has heard enough.
constexpr double silent_at_first_s = 0.05;
constexpr double silent_part = 1e-4; // of the highest sample
constexpr double silent_below = 1e-8;
constexpr double wakes_within_s = 4;

signal::AudioBuffer onAllInputs(const hosting::Instance& instance, std::span<const double> sound,
                                double rate_hz)
{
    const auto& info = instance.info();
    signal::AudioBuffer in(info.audio_in + info.key_in, sound.size(), rate_hz);
    for (std::size_t c = 0; c < in.channels(); ++c)
        std::ranges::transform(sound, in.channel(c).begin(), [](double s) { return static_cast<float>(s); });
    return in;
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
        auto out =
            m_instance.process(onAllInputs(m_instance, std::span(m_in).subspan(m_out.size()), m_rate_hz));
        if (!out)
            return tl::make_unexpected(out.error());
        const auto first = out->channel(0);
        m_out.insert(m_out.end(), first.begin(), first.end());
        return signal::deconvolve(m_out, m_in);
    }

    bool beginsSilent() const
    {
        const auto magnitude = [](double s) { return std::abs(s); };
        const double highest = magnitude(*std::ranges::max_element(m_out, {}, magnitude));
        const auto first = std::ranges::find_if(
            m_out, [&](double s) { return magnitude(s) > std::max(silent_below, silent_part * highest); });
        return static_cast<double>(first - m_out.begin()) > silent_at_first_s * m_rate_hz;
    }

private:
    hosting::Instance& m_instance;
    double m_rate_hz;
    std::vector<double> m_in, m_out;
};

struct Found {
    std::optional<std::size_t> samples;
    bool begins_silent = false;
};

hosting::FaultOr<Found> findAtLevel(hosting::Instance& instance, double rate_hz, double level_dbfs)
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
            return Found{found};
    }
    return Found{{}, burst.beginsSilent()};
}

hosting::FaultOr<void> wake(hosting::Instance& instance, double rate_hz, double level_dbfs)
{
    const auto sound = warmUpSound(level_dbfs, wakes_within_s, rate_hz);
    if (auto out = instance.process(onAllInputs(instance, sound, rate_hz)); !out)
        return tl::make_unexpected(out.error());
    return {};
}

} // namespace

std::optional<std::size_t> latencyOf(const std::vector<double>& impulse_response, std::size_t most_samples)
{
    const ExcessPhase excess(impulse_response);
    const auto delay = excess.delay(latency_near_samples);
    const auto deeper =
        ExcessPhase(impulse_response, {.down_to_db = deeper_look_db}).delay(latency_near_samples);
    if (!delay || !deeper || std::abs(*delay - *deeper) > 1)
        return std::nullopt;
    const auto beginning = excess.abruptBeginning();
    const auto whole = beginning ? static_cast<long>(*beginning) : std::lround(*delay);
    return whole >= 0 && whole <= static_cast<long>(most_samples)
               ? std::optional(static_cast<std::size_t>(whole))
               : std::nullopt;
}

bool delaysOnPurpose(const processors::ProcessorInfo& info)
{
    return info.kind == "delay" || info.kind == "reverb" || info.format == "chain";
}

hosting::FaultOr<std::optional<std::size_t>> findLatency(hosting::Instance& instance,
                                                         const processors::PlayConditions& conditions,
                                                         std::span<const double> values, std::size_t* reported)
{
    struct Try {
        double level_dbfs;
        bool woken;
    };
    Found found;
    // What rides the level or bends the waveform smears the louder burst, but not the quieter one.
    for (const Try& one : {Try{-30, false}, Try{-70, false}, Try{-30, true}}) {
        if (one.woken && !found.begins_silent)
            break;
        if (auto started = instance.start(conditions, values); !started)
            return tl::make_unexpected(started.error());
        if (one.woken)
            if (auto awake = wake(instance, conditions.sample_rate_hz, one.level_dbfs); !awake)
                return tl::make_unexpected(awake.error());
        auto at_level = findAtLevel(instance, conditions.sample_rate_hz, one.level_dbfs);
        if (!at_level)
            return tl::make_unexpected(at_level.error());
        found = *at_level;
        if (reported)
            *reported = instance.latencySamples();
        if (found.samples)
            break;
    }
    if (auto started = instance.start(conditions, values); !started)
        return tl::make_unexpected(started.error());
    return found.samples;
}

} // namespace hr::bench
