// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/scanner.h"

#include "processors/settings.h"
#include "signal/generators.h"

#include <algorithm>
#include <mutex>
#include <thread>

namespace hr::hosting {

namespace {

constexpr std::size_t try_blocks = 200;
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

FaultOr<void> runThrough(Instance& instance)
{
    const auto& info = instance.info();
    if (auto started = instance.start(try_conditions, processors::defaultValues(info)); !started)
        return started;
    if (auto out = instance.process(trySignal(info.audio_in + info.key_in)); !out)
        return tl::make_unexpected(out.error());
    return instance.stop();
}

} // namespace

Finding tryProcessor(const Location& location, TimeLimits limits)
{
    Finding finding{location, std::nullopt, std::nullopt};
    auto instance = openInstance(location, Channels::Own, limits, Workers::Fresh);
    if (!instance) {
        finding.fault = instance.error();
        return finding;
    }
    finding.info = (*instance)->info();
    if (auto ran = runThrough(**instance); !ran)
        finding.fault = ran.error();
    return finding;
}

TriedBundle tryBundle(const Bundle& bundle, TimeLimits limits)
{
    const auto unreadable = [&](Fault why) {
        return TriedBundle{{{{isLadspaLibrary(bundle.path) ? "ladspa:" + bundle.path.stem().string() + ":"
                                                           : "lv2:file://" + bundle.path.string(),
                              bundle.path},
                             std::nullopt,
                             std::move(why)}}};
    };
    auto worker = Worker::spawn(limits);
    if (!worker)
        return unreadable({Stage::Read, Cause::MissingFile, worker.error().text});
    auto contents = (*worker)->describe(bundle.path);
    if (!contents)
        return unreadable(contents.error());
    std::vector<Finding> findings;
    std::erase_if(contents->presets, [&](const BundleContents::Preset& preset) {
        return std::ranges::find(contents->processors, preset.processor, &processors::ProcessorInfo::id) !=
               contents->processors.end();
    });
    for (const auto& info : contents->processors) {
        findings.push_back(tryProcessor({info.id, bundle.path}, limits));
        findings.back().info = info; // known even where it could not be loaded
    }
    for (const auto& broken : contents->broken)
        findings.push_back({{broken.id, bundle.path}, std::nullopt, broken.fault});
    return {std::move(findings), std::move(contents->presets)};
}

void tryBundles(const std::vector<Bundle>& bundles, const ScanControl& control,
                const std::function<void(const Bundle&, TriedBundle)>& found)
{
    std::atomic<std::size_t> next{0};
    std::mutex one_at_a_time; // guards calls of found
    const auto work = [&] {
        while (!(control.cancel && control.cancel->load(std::memory_order_relaxed))) {
            const std::size_t index = next.fetch_add(1, std::memory_order_relaxed);
            if (index >= bundles.size())
                return;
            auto tried = tryBundle(bundles[index], control.limits);
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
