// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/scanner.h"

#include "hosting/formats/format.h"
#include "hosting/path_text.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <mutex>
#include <thread>

namespace hr::hosting {

namespace {

constexpr std::size_t try_blocks = 200;
constexpr double absurd_dbfs = 60;
constexpr processors::PlayConditions try_conditions{48000, 256};

signal::AudioBuffer trySignal(std::size_t channels)
{
    const std::size_t frames = try_blocks * try_conditions.block_frames;
    std::vector<double> samples = signal::gaussianNoise(0.05, frames, 1);
    const auto tone = signal::sine(440, 0.25, try_conditions.sample_rate_hz, frames);
    for (std::size_t i = 0; i < frames; ++i)
        samples[i] += tone[i];
    return signal::onChannels(samples, channels, try_conditions.sample_rate_hz);
}

/// The highest peak of what it put out.
FaultOr<double> runThrough(Instance& instance)
{
    const auto& info = instance.info();
    if (auto started = instance.start(try_conditions, processors::defaultValues(info)); !started)
        return tl::make_unexpected(started.error());
    auto out = instance.process(trySignal(info.audio_in + info.key_in));
    if (!out)
        return tl::make_unexpected(out.error());
    double peak = 0;
    for (std::size_t c = 0; c < out->channels(); ++c)
        for (const float sample : std::as_const(*out).channel(c))
            peak = std::max(peak, std::abs(static_cast<double>(sample)));
    if (auto stopped = instance.stop(); !stopped)
        return tl::make_unexpected(stopped.error());
    return peak;
}

} // namespace

Finding tryProcessor(const Location& location, const TimeLimits& limits, const std::stop_token& cancel)
{
    Finding finding{location, std::nullopt, std::nullopt};
    auto instance = openInstance(location, {Channels::Own, limits, Workers::Fresh, cancel});
    if (!instance) {
        finding.fault = instance.error();
        return finding;
    }
    finding.info = (*instance)->info();
    const auto peak = runThrough(**instance);
    if (!peak)
        finding.fault = peak.error();
    else if (const double peak_dbfs = signal::linearToDb(*peak); peak_dbfs > absurd_dbfs)
        finding.absurd_output_dbfs = peak_dbfs;
    finding.refusals = (*instance)->refusals();
    return finding;
}

namespace {

TriedBundle unreadable(const Bundle& bundle, Fault why)
{
    TriedBundle tried;
    const Format* format = formatOfBundle(bundle.path);
    tried.findings.push_back({{format ? format->unreadId(bundle.path) : pathText(bundle.path), bundle.path},
                              std::nullopt,
                              std::move(why)});
    return tried;
}

/// Cancelled, or not run for a reason that is not its own: nothing is known of it.
bool wasNotTried(const TriedBundle& tried)
{
    return std::ranges::any_of(tried.findings, [](const Finding& f) {
        return f.fault && (isCancelled(*f.fault) || f.fault->cause == Cause::Unprotected);
    });
}

} // namespace

TriedBundle tryBundle(const Bundle& bundle, const ScanControl& control)
{
    auto worker = Worker::spawn(control.limits);
    if (!worker)
        return unreadable(bundle, {Phase::Read, Cause::MissingFile, worker.error().text});
    (*worker)->setCancel(control.cancel);
    auto contents = (*worker)->describe(bundle.path);
    if (!contents)
        return unreadable(bundle, contents.error());
    TriedBundle tried;
    std::erase_if(contents->presets, [&](const BundleContents::Preset& preset) {
        return std::ranges::find(contents->processors, preset.processor, &processors::ProcessorInfo::id) !=
               contents->processors.end();
    });
    for (const auto& info : contents->processors) {
        Location location{info.id, bundle.path};
        if (control.allowed)
            location.permissions = control.allowed(info.id);
        tried.findings.push_back(tryProcessor(location, control.limits, control.cancel));
        tried.findings.back().info = info; // known even where it could not be loaded
    }
    for (const auto& broken : contents->broken)
        tried.findings.push_back({{broken.id, bundle.path}, std::nullopt, broken.fault});
    tried.presets = std::move(contents->presets);
    tried.left_out = std::move(contents->left_out);
    return tried;
}

void tryBundles(const std::vector<Bundle>& bundles, const ScanControl& control,
                const std::function<void(const Bundle&, TriedBundle)>& found)
{
    std::atomic<std::size_t> next{0};
    std::mutex one_at_a_time; // guards calls of found
    const auto work = [&] {
        while (!control.cancel.stop_requested()) {
            const std::size_t index = next.fetch_add(1, std::memory_order_relaxed);
            if (index >= bundles.size())
                return;
            auto tried = tryBundle(bundles[index], control);
            if (wasNotTried(tried))
                return;
            const std::lock_guard lock(one_at_a_time);
            found(bundles[index], std::move(tried));
        }
    };
    const unsigned cores = std::max(1U, std::thread::hardware_concurrency());
    std::vector<std::jthread> pool;
    for (unsigned i = 0; i < (control.jobs ? control.jobs : cores); ++i)
        pool.emplace_back(work);
}

} // namespace hr::hosting
