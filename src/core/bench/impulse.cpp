// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/impulse.h"

#include "bench/held_samples.h"
#include "bench/warm_up.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <mutex>
#include <numbers>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double lead_in_s = 0.25;
constexpr double sweep_s = 5.5;
constexpr double another_sweep_s = 7.2; // a step further of what exponentialSweep() rounds to
constexpr double lowest_hz = 10;
constexpr double highest_share = 0.49; // of the sample rate
/// So much of negative time is kept: what the ends of the sweep leave lies there. What is left out fades away
/// on both sides: the noise of a processor is loud above the sweep, and would splash.
constexpr double negative_s = 1;
constexpr double fade_s = 0.02;
/// Nothing rings on: this far below the loudest stretch.
constexpr double gone_db = -100;
/// Or no more than twice its own noise.
constexpr double over_noise = 2;

double power(const signal::AudioBuffer& sound)
{
    double sum = 0;
    for (std::size_t c = 0; c < sound.channels(); ++c)
        sum += signal::meanSquare(sound.channel(c));
    return sum;
}

using Deconvolution = std::shared_ptr<const signal::Deconvolution>;

/// All that a sweep with silence after it depends on.
struct SweepKey {
    double rate_hz = 0, peak = 0;
    std::size_t sweep_frames = 0, frames = 0;

    friend bool operator==(const SweepKey&, const SweepKey&) = default;
};

/// A suite takes the same sweep many times: the last one is kept, where it is not long.
Deconvolution deconvolutionBy(const SweepKey& key, const std::vector<double>& stimulus)
{
    constexpr std::size_t longest = 400'000;
    static std::mutex mutex;
    static std::pair<SweepKey, Deconvolution> last;
    if (const std::lock_guard lock(mutex); last.first == key)
        return last.second;
    auto made = std::make_shared<const signal::Deconvolution>(stimulus, key.frames);
    if (key.frames <= longest) {
        std::pair<SweepKey, Deconvolution> kept{key, made};
        const std::lock_guard lock(mutex);
        std::swap(last, kept); // what was kept goes after the lock
    }
    return made;
}

/// A response without the middle, of `kept` samples: those from time 0 on, and the last of negative time.
std::vector<double> shortened(const std::vector<double>& response, std::size_t frames, std::size_t kept,
                              std::size_t fade)
{
    if (kept >= response.size())
        return response;
    std::vector<double> ends(kept);
    std::copy_n(response.begin(), frames + fade, ends.begin());
    std::copy_n(response.rbegin(), kept - frames - fade, ends.rbegin());
    for (std::size_t i = 0; i < fade; ++i) {
        const double part = static_cast<double>(i) / static_cast<double>(fade);
        ends[frames + i] *= 0.5 + 0.5 * std::cos(std::numbers::pi * part);
        ends[frames + fade + i] *= 0.5 - 0.5 * std::cos(std::numbers::pi * part);
    }
    return ends;
}

/// The same signal on all inputs, each with its gain.
Stimulus toTheInputs(const Subject& subject, const Sweep& sweep, const std::vector<double>& signal)
{
    Stimulus stimulus{{}};
    for (std::size_t c = 0; c < subject.info().audio_in; ++c) {
        stimulus.main.push_back(signal);
        if (!sweep.input_gains.empty())
            for (double& sample : stimulus.main.back())
                sample *= sweep.input_gains[c];
    }
    return stimulus;
}

} // namespace

FaultOr<ImpulseResponses> impulseResponses(Subject& subject, const Sweep& sweep)
{
    const double rate_hz = subject.conditions().sample_rate_hz;
    const auto frames = [&](double seconds) { return static_cast<std::size_t>(seconds * rate_hz); };
    const double peak = (sweep.another ? -1 : 1) * signal::dbToLinear(sweep.level_dbfs);
    const std::size_t sweep_frames = frames(sweep.another ? another_sweep_s : sweep_s);
    auto stimulus = signal::exponentialSweep(lowest_hz, highest_share * rate_hz, peak, rate_hz, sweep_frames);
    for (double& sample : stimulus)
        sample = static_cast<double>(static_cast<float>(sample)); // what the processor really gets

    double waking_s = subject.known_warm_up_s.value_or(0);
    if (sweep.fresh) {
        const auto found = warmUpTime(subject, sweep.level_dbfs);
        if (!found)
            return tl::make_unexpected(found.error());
        waking_s = *found;
        if (auto started = subject.restart(); !started)
            return tl::make_unexpected(started.error());
    }
    auto idle = subject.process(std::vector<double>(frames(lead_in_s) + sweep.later_frames));
    if (!idle)
        return tl::make_unexpected(idle.error());
    const double noise = power(*idle);
    if (waking_s > 0) {
        const auto sound = warmUpSound(sweep.level_dbfs, waking_s, rate_hz);
        if (auto awake = subject.process(toTheInputs(subject, sweep, sound)); !awake)
            return tl::make_unexpected(awake.error());
    }

    std::vector<std::vector<double>> answers(subject.info().audio_out);
    double loudest = 0;
    double last = 0;
    const auto feed = [&](const Stimulus& part) -> FaultOr<void> {
        auto out = subject.process(part);
        if (!out)
            return tl::make_unexpected(out.error());
        for (std::size_t c = 0; c < answers.size(); ++c)
            answers[c].insert(answers[c].end(), out->channel(c).begin(), out->channel(c).end());
        last = power(*out);
        loudest = std::max(loudest, last);
        return {};
    };

    const Stimulus swept = toTheInputs(subject, sweep, stimulus);
    if (auto fed = feed(swept); !fed)
        return tl::make_unexpected(fed.error());
    ImpulseResponses found;
    const double step_s = std::min(1.0, sweep.tail_s);
    const Stimulus silence{{std::vector<double>(frames(step_s))}};
    while (found.tail_s < sweep.longest_tail_s) {
        if (auto fed = feed(silence); !fed)
            return tl::make_unexpected(fed.error());
        found.tail_s += step_s;
        found.rings_on = last > std::max(loudest * std::pow(10, gone_db / 10), over_noise * noise);
        if (found.tail_s >= sweep.tail_s && !found.rings_on)
            break;
    }
    found.frames = answers.empty() ? 0 : answers.front().size();
    found.held_samples = answers.empty() ? 1 : heldSamples(answers.front());
    stimulus.resize(found.frames);
    const Deconvolution response = deconvolutionBy({rate_hz, peak, sweep_frames, found.frames}, stimulus);
    const std::size_t kept = signal::fastSize(found.frames + frames(fade_s + negative_s));
    for (auto& answer : answers) {
        if (&answer != &answers.front() && answer == answers.front())
            answer.clear(); // mostly, both sides are the same
        answer.shrink_to_fit();
    }
    for (auto& answer : answers) {
        found.outputs.push_back(answer.empty()
                                    ? found.outputs.front()
                                    : shortened(response->of(answer), found.frames, kept, frames(fade_s)));
        answer = std::vector<double>();
    }
    if (sweep.with_identity)
        found.identity = shortened(response->ofTheStimulus(), found.frames, kept, frames(fade_s));
    return found;
}

} // namespace hr::bench
