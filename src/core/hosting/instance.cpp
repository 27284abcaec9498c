// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/instance.h"

#include "hosting/assemble.h"
#include "hosting/local_instance.h"
#include "hosting/worker_pool.h"
#include "processors/reference/registry.h"
#include "processors/states.h"
#include "signal/finite.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace hr::hosting {

namespace {

using processors::ProcessorInfo;

/// What a location says of the state that it begins with: as it was kept, else that of a preset by its name.
std::string stateToStart(const Location& location, const ProcessorInfo& info)
{
    const auto stateOfPreset = [&](const std::string& name) {
        const auto preset = std::ranges::find(info.presets, name, &processors::PresetInfo::name);
        return name.empty() || preset == info.presets.end() ? std::string() : preset->state;
    };
    if (!location.isChain())
        return location.state.empty() ? stateOfPreset(location.preset) : location.state;
    processors::States states;
    for (const StagePlace& stage : location.stages)
        states[stage.node] = !stage.state.empty() || stage.preset.empty()
                                 ? stage.state
                                 : stateOfPreset(text(processors::Address{stage.node, false, stage.preset}));
    return processors::packed(states);
}

/// A third-party one, in a worker of its own.
class WorkerInstance : public Instance {
public:
    WorkerInstance(std::unique_ptr<Worker> worker, Location location, ProcessorInfo info,
                   const OpenOptions& options)
        : m_worker(std::move(worker)), m_location(std::move(location)), m_info(std::move(info)),
          m_state(stateToStart(m_location, m_info)),
          m_stages(std::min(m_location.graph.nodes.size(), most_told_stages)), m_channels(options.channels),
          m_workers(options.workers)
    {
    }
    ~WorkerInstance() override
    {
        if (m_workers != Workers::Reused)
            return;
        if (m_worker->hasFailed() || m_stopped)
            m_worker.reset();
        WorkerPool::shared().giveBack(std::move(m_worker), m_location, m_channels, m_info);
    }

    const ProcessorInfo& info() const override { return m_info; }

    FaultOr<void> start(const processors::PlayConditions& conditions, std::span<const double> values) override
    {
        m_changes.clear();
        m_rate_hz = conditions.sample_rate_hz;
        m_at = 0;
        m_block_frames = std::clamp<std::size_t>(conditions.block_frames, 1, stretch_frames);
        return remember(m_worker->start(conditions, values, m_state));
    }

    std::size_t blockFrames() const override { return m_block_frames; }

    void setParameter(std::size_t index, double value) override
    {
        send(static_cast<std::uint32_t>(index), value);
    }
    void setTempo(double bpm) override { send(tempo_index, bpm); }

    FaultOr<void> process(std::span<const float* const> in, std::span<float* const> out,
                          std::size_t frames) override
    {
        SharedBlock& block = m_worker->block();
        for (std::size_t c = 0; c < in.size(); ++c) {
            if (in[c])
                std::copy_n(in[c], frames, block.in[c].begin());
            else
                std::fill_n(block.in[c].begin(), frames, 0.0F);
        }
        if (auto ran = remember(m_worker->run(frames, m_changes)); !ran)
            return ran;
        m_changes.clear();
        noteBlockTimes(std::span(block.block_ns).first((frames + m_block_frames - 1) / m_block_frames));
        // Copied before it is looked at: the worker might still write to it.
        for (std::size_t c = 0; c < out.size(); ++c)
            std::copy_n(block.out[c].begin(), frames, out[c]);
        const std::size_t first = std::exchange(m_at, m_at + frames);
        for (std::size_t c = 0; c < out.size(); ++c)
            if (!signal::allFinite({out[c], frames}))
                return notSound({out[c], frames}, c, first);
        return {};
    }

    std::size_t latencySamples() const override { return m_latency_samples; }
    std::span<const std::atomic<float>> stageGainsDb() const override
    {
        return std::span(m_worker->block().stage_gains_db).first(m_stages);
    }
    std::optional<double> memoryMib() const override { return m_worker->memoryMib(); }
    FaultOr<std::string> state() override { return m_worker->state(); }
    std::vector<Event> takeEvents() override { return m_worker->takeEvents(); }
    Refusals refusals() const override { return m_worker->refusals(); }
    FaultOr<void> stop() override
    {
        m_stopped = true;
        return m_worker->stop();
    }

private:
    /// With the next Run; of several only the last.
    void send(std::uint32_t which, double value)
    {
        const auto waiting = std::ranges::find(m_changes, which, &ParameterChange::index);
        if (waiting == m_changes.end())
            m_changes.push_back({which, static_cast<float>(value)});
        else
            waiting->value = static_cast<float>(value);
    }

    tl::unexpected<Fault> notSound(std::span<const float> samples, std::size_t channel, std::size_t first) const
    {
        const auto bad = std::ranges::find_if(samples, [](float s) { return !std::isfinite(s); });
        const auto at = static_cast<double>(first) + static_cast<double>(bad - samples.begin());
        const std::string what = std::isnan(*bad) ? "not a number" : "infinite";
        return fault(Phase::Run, Cause::NonFiniteOutput,
                     "a sample on channel " + std::to_string(channel + 1) + ", " +
                         signal::fixedText(at / m_rate_hz, 6) + " s after the start, is " + what);
    }

    FaultOr<void> remember(const FaultOr<Ran>& ran)
    {
        if (!ran)
            return tl::make_unexpected(ran.error());
        m_latency_samples = ran->latency_samples;
        return {};
    }

    std::unique_ptr<Worker> m_worker;
    Location m_location;
    ProcessorInfo m_info;
    const std::string m_state;  // that every start begins with
    const std::size_t m_stages; // whose gains are told
    Channels m_channels;
    Workers m_workers;
    bool m_stopped = false; // nothing is loaded any more
    std::vector<ParameterChange> m_changes;
    std::size_t m_latency_samples = 0;
    std::size_t m_block_frames = 256;
    double m_rate_hz = 48000;
    std::size_t m_at = 0; // frames since the start
};

} // namespace

FaultOr<signal::AudioBuffer> Instance::process(const signal::AudioBuffer& in)
{
    const std::size_t channels_in = info().audio_in + info().key_in;
    assert(in.channels() == channels_in);
    signal::AudioBuffer out(info().audio_out, in.frames(), in.sampleRateHz());
    std::array<const float*, most_channels> from{};
    std::array<float*, most_channels> to{};
    const std::size_t whole_blocks = stretch_frames / blockFrames() * blockFrames();
    for (std::size_t first = 0; first < in.frames(); first += whole_blocks) {
        for (std::size_t c = 0; c < channels_in; ++c)
            from[c] = in.channel(c).data() + first;
        for (std::size_t c = 0; c < out.channels(); ++c)
            to[c] = out.channel(c).data() + first;
        const std::size_t count = std::min(whole_blocks, in.frames() - first);
        if (auto done = process(std::span<const float* const>(from.data(), channels_in),
                                std::span<float* const>(to.data(), out.channels()), count);
            !done)
            return tl::make_unexpected(done.error());
    }
    return out;
}

FaultOr<void> Instance::processStereo(const float* in_left, const float* in_right, float* out_left,
                                      float* out_right, std::size_t frames)
{
    assert(info().audio_in == 2 && info().audio_out == 2);
    std::array<const float*, most_channels> in{in_left, in_right};
    for (std::size_t k = 0; k < info().key_in; ++k)
        in[2 + k] = in[k % 2];
    const std::array<float*, 2> out{out_left, out_right};
    return process(std::span(in).first(2 + info().key_in), out, frames);
}

bool needsWorker(const Location& location)
{
    if (!location.isChain())
        return !processors::isReferenceId(location.id);
    return std::ranges::any_of(location.stages, [](const StagePlace& stage) { return !stage.bundle.empty(); });
}

namespace {

FaultOr<std::unique_ptr<processors::Processor>> makeOurOwn(const Location& location)
{
    auto processor = processors::makeReference(location.id);
    if (!processor)
        return fault(Phase::Load, Cause::MissingSymbol, "the bench has no reference of that name");
    return processor;
}

} // namespace

FaultOr<std::unique_ptr<Instance>> openInstance(const Location& location, const OpenOptions& asked)
{
    OpenOptions options = asked;
    if (location.isChain())
        options.channels = Channels::Stereo; // which it is in any case
    if (!needsWorker(location)) {
        std::vector<std::atomic<float>> gains_db(location.graph.nodes.size());
        auto made = assemble(location, options.channels, makeOurOwn, {nullptr, gains_db});
        if (!made)
            return tl::make_unexpected(made.error());
        return std::make_unique<LocalInstance>(std::move(*made), options.cancel, std::move(gains_db));
    }
    WorkerPool::Taken taken;
    if (options.workers == Workers::Reused) {
        auto pooled = WorkerPool::shared().take(location, options.channels, options.limits);
        if (!pooled)
            return fault(Phase::Load, Cause::MissingFile, pooled.error().text);
        taken = std::move(*pooled);
    } else {
        auto spawned = Worker::spawn(options.limits);
        if (!spawned)
            return fault(Phase::Load, Cause::MissingFile, spawned.error().text);
        taken.worker = std::move(*spawned);
    }
    taken.worker->setCancel(options.cancel);
    if (!taken.info) {
        WorkerPool::shared().countLoad();
        const bool is_new = taken.worker->isNew();
        auto info = taken.worker->load(location, options.channels);
        if (!info && options.workers == Workers::Reused)
            WorkerPool::shared().giveBack(nullptr, location, options.channels, {});
        // What an earlier one left behind is not this one's fault: once more, in a new process.
        if (!info && !is_new && !isCancelled(info.error())) {
            OpenOptions fresh = options;
            fresh.workers = Workers::Fresh;
            return openInstance(location, fresh);
        }
        if (!info)
            return tl::make_unexpected(info.error());
        taken.info = std::move(*info);
    }
    taken.info->id = location.id; // of a chain it stands for what it is set to as well
    return std::make_unique<WorkerInstance>(std::move(taken.worker), location, std::move(*taken.info), options);
}

} // namespace hr::hosting
