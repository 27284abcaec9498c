// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/lane.h"

#include "bench/latency.h"
#include "hosting/thread_priority.h"
#include "signal/hash.h"
#include "signal/levels.h"

#include <bit>
#include <chrono>
#include <cmath>

namespace hr::audition {

namespace {

constexpr std::size_t most_latencies_remembered = 200;
constexpr double mix_glide_s = 0.01;
constexpr double share_follows_s = 0.5;
constexpr double most_live_backlog_s = 0.1;
constexpr float most_sample = 1e10F; // +200 dBFS

/// Room for what lies ahead and as much again, whatever the device's period.
std::size_t ringFrames(double rate_hz)
{
    return 2 * (Lane::longest_period_frames + static_cast<std::size_t>(Lane::margin_s * rate_hz));
}

std::string whatOf(const hosting::Location& location, const std::vector<double>& values)
{
    return location.id + ' ' + location.bundle.string() + ' ' + location.preset + ' ' +
           signal::hashText(signal::hashOf(stateOf(location))) + ' ' +
           signal::hashText(
               signal::hashOf({reinterpret_cast<const char*>(values.data()), values.size() * sizeof(double)}));
}

} // namespace

std::size_t LaneClock::aheadFrames() const
{
    return static_cast<std::size_t>(Lane::margin_s * m_rate_hz) +
           std::min(m_period.load(std::memory_order_relaxed), Lane::longest_period_frames);
}

std::size_t LaneClock::liveStretch() const
{
    constexpr std::size_t least = 16;
    return std::bit_floor(std::clamp(m_period.load(std::memory_order_relaxed), least, Lane::stretch_frames));
}

std::optional<LaneClock::Latency> LaneClock::latencyOf(const std::string& what) const
{
    const std::lock_guard lock(m_mutex);
    const auto known = m_latencies.find(what);
    return known == m_latencies.end() ? std::nullopt : std::optional(known->second);
}

void LaneClock::remember(const std::string& what, Latency latency)
{
    const std::lock_guard lock(m_mutex);
    if (m_latencies.size() == most_latencies_remembered)
        m_latencies.clear();
    m_latencies[what] = latency;
}

Lane::Lane(const ContenderSpec& spec, std::shared_ptr<LaneClock> clock, std::shared_ptr<TapBoard> taps,
           std::function<void()> attention)
    : m_id(spec.id), m_generation(spec.generation), m_location(spec.location), m_clock(std::move(clock)),
      m_taps(std::move(taps)), m_attention(std::move(attention)), m_ring(ringFrames(m_clock->rateHz())),
      m_stage_gains_db(spec.location.graph.nodes.size()), m_values(spec.values), m_guard(m_clock->rateHz()),
      m_left(stretch_frames), m_right(stretch_frames), m_out_left(stretch_frames), m_out_right(stretch_frames),
      m_thread([this](const std::stop_token& stop) { run(stop); })
{
    setGain(spec.gain_db);
    setOffset(spec.offset_samples);
    setMix(spec.mix);
}

Lane::~Lane()
{
    requestStop();
}

void Lane::requestStop()
{
    m_thread.request_stop();
}

void Lane::begin(std::shared_ptr<Timeline> timeline)
{
    const std::lock_guard lock(m_mutex);
    m_begun.fetch_add(1, std::memory_order_relaxed);
    m_next_timeline = std::move(timeline);
    m_changed.notify_all();
}

void Lane::setParameter(std::size_t index, double value)
{
    const std::lock_guard lock(m_mutex);
    if (index >= m_values.size() || m_values[index] == value)
        return;
    m_values[index] = value;
    m_changes[index] = value;
}

void Lane::wake()
{
    const std::lock_guard lock(m_mutex);
    m_woken = true;
    m_changed.notify_all();
}

void Lane::setGain(std::optional<double> gain_db)
{
    if (gain_db)
        m_gain.store(static_cast<float>(signal::dbToLinear(*gain_db)), std::memory_order_relaxed);
    m_gain_known.store(gain_db.has_value(), std::memory_order_relaxed);
}

std::optional<hosting::Fault> Lane::fault() const
{
    const std::lock_guard lock(m_mutex);
    return m_fault;
}

std::size_t Lane::readyAt(std::uint64_t at) noexcept
{
    const std::uint64_t front = firstFrame();
    const std::size_t readable = m_ring.readable();
    if (front > at)
        return 0;
    const auto stale = static_cast<std::size_t>(std::min<std::uint64_t>(at - front, readable));
    m_ring.skip(stale);
    return front + stale == at ? readable - stale : 0;
}

std::size_t Lane::readableFrom(std::uint64_t at) const noexcept
{
    const std::uint64_t end = m_base + m_ring.written();
    return !filled() || end <= at ? 0 : static_cast<std::size_t>(end - at);
}

void Lane::run(const std::stop_token& stop)
{
    hosting::setPriority(hosting::Priority::Playback);
    open(stop);
    m_opened.store(true, std::memory_order_release);
    m_attention();
    std::unique_lock lock(m_mutex);
    while (!stop.stop_requested()) {
        if (m_next_timeline) {
            lock.unlock();
            beginFill();
            lock.lock();
        } else if (m_filling && wantsMore()) {
            const auto changes = std::exchange(m_changes, {});
            lock.unlock();
            for (const auto& [index, value] : changes)
                if (m_processor)
                    m_processor->setParameter(index, value);
            fill();
            lock.lock();
        } else {
            waitAWhile(lock, stop);
        }
        m_woken = false;
    }
    lock.unlock();
    m_processor.reset();
}

/// Of a source up to where it should be ahead; live whatever has come in.
bool Lane::wantsMore() const
{
    if (!m_timeline->isLive())
        return m_ring.readable() < m_clock->aheadFrames();
    return m_timeline->availableFrom(m_in) >= m_stretch && m_ring.writable() >= m_stretch;
}

void Lane::waitAWhile(std::unique_lock<std::mutex>& lock, const std::stop_token& stop)
{
    const bool live = m_filling && m_timeline->isLive();
    if (!live && !(m_filling && m_clock->isPlaying())) {
        m_changed.wait(lock, stop, [this] { return m_next_timeline || m_woken; });
        return;
    }
    // Neither callback makes a system call, so they cannot wake us: look again before much has been taken, or
    // soon after something may have come in.
    const std::size_t frames = live ? m_stretch / 4 : m_clock->aheadFrames() / 16;
    const std::chrono::duration<double> soon(static_cast<double>(frames) / m_clock->rateHz());
    m_changed.wait_for(lock, stop, soon, [this] { return m_next_timeline != nullptr; });
}

void Lane::open(const std::stop_token& stop)
{
    if (m_location.id.empty())
        return;
    if (isRendered(m_location)) {
        auto rendered = RenderedSound::open(m_location, m_clock->rateHz());
        if (rendered)
            m_rendered = std::move(*rendered);
        else
            fail(rendered.error());
        return;
    }
    auto opened = hosting::openInstance(m_location, {.channels = hosting::Channels::Stereo, .cancel = stop});
    if (opened)
        m_processor = std::move(*opened);
    else
        fail(opened.error());
}

void Lane::beginFill()
{
    std::vector<double> values;
    {
        const std::lock_guard lock(m_mutex);
        m_timeline = std::exchange(m_next_timeline, nullptr);
        m_round = m_begun.load(std::memory_order_relaxed);
        m_changes.clear();
        values = m_values;
    }
    m_ring.clear();
    m_to_drop = 0;
    m_to_hold = 0;
    m_mix = {m_dry.load(std::memory_order_relaxed), m_wet.load(std::memory_order_relaxed)};
    m_filling = true;
    m_guard.reset();
    m_tempo_bpm = m_timeline->tempoBpm();
    m_stretch = m_timeline->isLive() ? m_clock->liveStretch() : stretch_frames;
    if (m_processor)
        if (auto started = startProcessor(values); !started)
            fail(started.error());
    // Opening took its time: what has been played or has come in meanwhile need not be made up for.
    m_base = m_in = m_timeline->played.load(std::memory_order_relaxed);
    if (m_timeline->isLive() && m_base == 0)
        m_base = m_timeline->availableFrom(0);
    if (m_timeline->isLive()) // all lanes come to their ends together
        m_base = m_in = m_base / m_stretch * m_stretch;
}

/// Freshly, with the latency that is to be taken out: found from the sound rather than taken on trust.
hosting::FaultOr<void> Lane::startProcessor(const std::vector<double>& values)
{
    const processors::PlayConditions conditions{m_clock->rateHz(), m_stretch, m_tempo_bpm, true};
    const std::string what = whatOf(m_location, values);
    auto latency = m_clock->latencyOf(what);
    if (latency) {
        if (auto started = m_processor->start(conditions, values); !started)
            return started;
    } else {
        // It is left freshly started, when many have forgotten what they reported while they ran.
        std::size_t reported = 0;
        auto found = bench::findLatency(*m_processor, conditions, values, &reported);
        if (!found)
            return tl::make_unexpected(found.error());
        latency = LaneClock::Latency{*found, reported};
        m_clock->remember(what, *latency);
    }
    const std::size_t late = latency->found.value_or(latency->reported);
    m_latency.store(late, std::memory_order_relaxed);
    m_to_drop = m_timeline->isLive() ? 0 : late; // who plays hears it when it comes
    m_latency_reported = latency->reported;
    (void)m_processor->takeBlockTimes(); // timed from now on
    return {};
}

/// As of the last stretch, slowly.
void Lane::noteShare()
{
    std::uint64_t taken_ns = 0;
    for (const std::uint32_t block_ns : m_processor->takeBlockTimes())
        taken_ns += block_ns;
    if (taken_ns == 0)
        return;
    const double stretch_s = static_cast<double>(m_stretch) / m_clock->rateHz();
    const auto share = static_cast<float>(static_cast<double>(taken_ns) * 1e-9 / stretch_s);
    const float before = m_core_share.load(std::memory_order_relaxed);
    const auto follow = static_cast<float>(stretch_s / share_follows_s);
    m_core_share.store(before == 0 ? share : before + follow * (share - before), std::memory_order_relaxed);
}

void Lane::noteGains()
{
    constexpr float most_db = 200; // whatever a worker says
    const auto gains_db = m_processor->stageGainsDb();
    for (std::size_t i = 0; i < std::min(gains_db.size(), m_stage_gains_db.size()); ++i)
        m_stage_gains_db[i].store(std::clamp(gains_db[i].load(std::memory_order_relaxed), -most_db, most_db),
                                  std::memory_order_relaxed);
}

std::vector<float> Lane::stageGainsDb() const
{
    return {m_stage_gains_db.begin(), m_stage_gains_db.end()};
}

/// A parameter may change the latency while it plays: what is heard stays in step with the other lanes.
void Lane::followLatency()
{
    const std::size_t reported = m_processor->latencySamples();
    if (m_timeline->isLive()) {
        // Nothing is kept in step.
    } else if (reported > m_latency_reported) {
        const std::size_t held = std::min(m_to_hold, reported - m_latency_reported);
        m_to_hold -= held;
        m_to_drop += reported - m_latency_reported - held;
    } else if (reported < m_latency_reported) {
        const std::size_t dropped = std::min(m_to_drop, m_latency_reported - reported);
        m_to_drop -= dropped;
        m_to_hold += m_latency_reported - reported - dropped;
    }
    m_latency.fetch_add(reported - m_latency_reported, std::memory_order_relaxed);
    m_latency_reported = reported;
}

/// A lane that plays and has been left behind goes on where the others are: what it missed is silent, not late.
/// The same of one that has fallen behind what comes in live.
bool Lane::catchUp()
{
    const auto most_backlog = static_cast<std::size_t>(most_live_backlog_s * m_clock->rateHz());
    if (m_timeline->isLive() && m_timeline->availableFrom(m_in) > most_backlog) {
        std::ranges::fill(m_out_left, 0.0F);
        m_ring.write(m_out_left.data(), m_out_left.data(), m_stretch);
        m_in += m_stretch;
        return true;
    }
    const std::uint64_t next = m_base + m_ring.written();
    const std::uint64_t played = m_timeline->played.load(std::memory_order_relaxed);
    if (!m_joined.load(std::memory_order_relaxed) || next >= played)
        return false;
    const std::size_t missed = std::min<std::size_t>(
        {stretch_frames, m_ring.writable(), static_cast<std::size_t>(played - next) + stretch_frames});
    std::ranges::fill(m_out_left, 0.0F);
    m_ring.write(m_out_left.data(), m_out_left.data(), missed);
    m_in += missed;
    return true;
}

void Lane::fill()
{
    if (catchUp())
        return;
    if (m_to_hold > 0) {
        const std::size_t held = std::min(m_to_hold, stretch_frames);
        std::ranges::fill(m_out_left, 0.0F);
        m_ring.write(m_out_left.data(), m_out_left.data(), held);
        m_to_hold -= held;
        return;
    }
    m_readers = m_taps->any() ? m_taps->of(m_id) : std::vector<std::shared_ptr<TapReader>>();
    const std::uint64_t at = m_in;
    m_timeline->read(static_cast<std::int64_t>(at), m_left.data(), m_right.data(), m_stretch);
    tap(TapPoint::Input, at, m_left.data(), m_right.data(), m_stretch);
    m_in += m_stretch;
    if (m_faulted.load(std::memory_order_relaxed) || (m_rendered && m_timeline->isLive())) {
        std::ranges::fill(m_out_left, 0.0F);
        return write(m_out_left.data(), m_out_left.data(), m_stretch);
    }
    if (m_rendered) {
        m_rendered->read(m_timeline->loop, m_timeline->frameOfLoop(at), m_out_left.data(), m_out_right.data(),
                         m_stretch);
        mixDryIn(m_out_left.data(), m_out_right.data(), m_stretch);
        return write(m_out_left.data(), m_out_right.data(), m_stretch);
    }
    if (!m_processor)
        return write(m_left.data(), m_right.data(), m_stretch);
    if (const double bpm = m_timeline->tempoBpm(); bpm != m_tempo_bpm)
        m_processor->setTempo(m_tempo_bpm = bpm);
    if (auto done = m_processor->processStereo(m_left.data(), m_right.data(), m_out_left.data(),
                                               m_out_right.data(), m_stretch);
        !done)
        return fail(done.error()); // the next stretch is silent
    for (std::vector<float>* side : {&m_out_left, &m_out_right})
        for (float& sample : *side) // what comes behind reckons with it
            sample = std::clamp(sample, -most_sample, most_sample);
    if (auto harm =
            m_guard.look({m_left.data(), m_right.data()}, {m_out_left.data(), m_out_right.data()}, m_stretch))
        return fail(std::move(*harm));
    followLatency();
    noteShare();
    noteGains();
    const std::size_t drop = std::min(m_to_drop, m_stretch);
    m_to_drop -= drop;
    mixDryIn(m_out_left.data() + drop, m_out_right.data() + drop, m_stretch - drop);
    write(m_out_left.data() + drop, m_out_right.data() + drop, m_stretch - drop);
}

/// The source of the same frames beside what has been made of it.
void Lane::mixDryIn(float* left, float* right, std::size_t count)
{
    const WetDry wanted{m_dry.load(std::memory_order_relaxed), m_wet.load(std::memory_order_relaxed)};
    if (count == 0 || (wanted.isWetAlone() && m_mix.isWetAlone()))
        return;
    const std::size_t late = m_timeline->isLive() ? m_latency.load(std::memory_order_relaxed) : 0;
    m_timeline->read(static_cast<std::int64_t>(m_base + m_ring.written()) - static_cast<std::int64_t>(late),
                     m_left.data(), m_right.data(), count);
    const auto glide = static_cast<float>(1 - std::exp(-1 / (mix_glide_s * m_clock->rateHz())));
    for (std::size_t i = 0; i < count; ++i) {
        m_mix.dry += (wanted.dry - m_mix.dry) * glide;
        m_mix.wet += (wanted.wet - m_mix.wet) * glide;
        left[i] = m_mix.wet * left[i] + m_mix.dry * m_left[i];
        right[i] = m_mix.wet * right[i] + m_mix.dry * m_right[i];
    }
    constexpr float arrived = 1e-4F;
    if (std::abs(m_mix.dry - wanted.dry) < arrived && std::abs(m_mix.wet - wanted.wet) < arrived)
        m_mix = wanted;
}

void Lane::write(const float* left, const float* right, std::size_t count)
{
    if (count == 0)
        return;
    const std::uint64_t frame = m_base + m_ring.written();
    tap(TapPoint::Output, frame, left, right, count);
    tap(TapPoint::Matched, frame, left, right, count);
    m_ring.write(left, right, count);
    const std::size_t ahead = m_timeline->isLive() ? m_stretch : m_clock->aheadFrames();
    if (m_filled.load(std::memory_order_relaxed) != m_round && m_ring.readable() >= ahead) {
        m_filled.store(m_round, std::memory_order_release);
        m_attention();
    }
}

std::uint64_t Lane::nextNumber()
{
    static std::atomic<std::uint64_t> last{0};
    return last.fetch_add(1, std::memory_order_relaxed) + 1;
}

/// Only of what plays: what is being filled beside it would be mixed with it.
void Lane::tap(TapPoint point, std::uint64_t frame, const float* left, const float* right, std::size_t count)
{
    if (!m_joined.load(std::memory_order_relaxed))
        return;
    const float gain = point != TapPoint::Matched ? 1.0F : mayBeHeard() ? this->gain() : 0.0F;
    for (const auto& reader : m_readers)
        if (reader->point() == point)
            reader->putFrom(m_number, [&](TapBlock& block) {
                block.contender = m_id;
                block.generation = m_generation;
                block.source_frame = m_timeline->frameOfSource(frame);
                block.frames = count;
                for (std::size_t i = 0; i < count; ++i) {
                    block.left[i] = gain * left[i];
                    block.right[i] = gain * right[i];
                }
            });
}

void Lane::fail(hosting::Fault fault)
{
    if (isCancelled(fault))
        return; // it is being ended
    m_processor.reset();
    m_to_drop = 0;
    m_to_hold = 0;
    {
        const std::lock_guard lock(m_mutex);
        m_fault = std::move(fault);
    }
    m_faulted.store(true, std::memory_order_relaxed);
    m_attention();
}

} // namespace hr::audition
