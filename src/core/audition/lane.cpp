// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/lane.h"

#include "hosting/pace.h"

#include <chrono>

namespace hr::audition {

using namespace std::chrono_literals;

Lane::Lane(double rate_hz)
    : m_rate_hz(rate_hz), m_left(stretch_frames), m_right(stretch_frames), m_out_left(stretch_frames),
      m_out_right(stretch_frames), m_thread([this] { run(); })
{
}

Lane::~Lane()
{
    const std::lock_guard lock(m_mutex);
    m_quit = true;
    m_changed.notify_all();
}

void Lane::assign(const LaneSpec& spec)
{
    const std::lock_guard lock(m_mutex);
    m_wanted = spec;
    m_changed.notify_all();
}

bool Lane::opened() const
{
    const std::lock_guard lock(m_mutex);
    return !m_wanted;
}

void Lane::restart(std::shared_ptr<const Source> source, Section loop, std::size_t at)
{
    const std::lock_guard lock(m_mutex);
    m_ready.store(false, std::memory_order_relaxed);
    m_source = std::move(source);
    m_loop = loop;
    m_start_at = at;
    m_restart = true;
    m_changed.notify_all();
}

void Lane::setParameter(std::size_t index, double value)
{
    const std::lock_guard lock(m_mutex);
    if (m_wanted && index < m_wanted->values.size())
        m_wanted->values[index] = value;
    if (index >= m_values.size())
        return;
    m_values[index] = value;
    m_changes.emplace_back(index, value);
}

std::optional<hosting::Fault> Lane::fault() const
{
    const std::lock_guard lock(m_mutex);
    return m_fault;
}

void Lane::run()
{
    hosting::keepPace(hosting::Pace::Ahead);
    std::unique_lock lock(m_mutex);
    while (!m_quit) {
        if (m_wanted) {
            openStage(lock);
        } else if (m_restart) {
            beginFill(lock);
        } else if (m_filling && m_ring.readable() < ahead_frames) {
            for (const auto& [index, value] : m_changes)
                if (m_stage)
                    m_stage->setParameter(index, value);
            m_changes.clear();
            lock.unlock();
            fillRing();
            lock.lock();
        } else {
            // The callback makes no system call, so it cannot wake us: look again in a while.
            m_changed.wait_for(lock, m_filling ? 2ms : 1000ms);
        }
    }
}

void Lane::openStage(std::unique_lock<std::mutex>& lock)
{
    const LaneSpec spec = *m_wanted;
    lock.unlock();
    std::unique_ptr<hosting::Instance> opened;
    std::optional<hosting::Fault> fault;
    if (!spec.location.id.empty()) {
        auto stage = hosting::openInstance(spec.location, hosting::Channels::Stereo);
        if (stage)
            opened = std::move(*stage);
        else
            fault = stage.error();
    }
    lock.lock();
    if (!m_wanted || !(*m_wanted == spec))
        return; // something else is wanted by now
    m_stage = std::move(opened);
    m_latency_of.reset();
    m_values = m_wanted->values; // they may have been changed meanwhile
    m_changes.clear();
    m_fault = fault;
    m_silent = fault.has_value();
    m_filling = false;
    m_wanted.reset();
}

void Lane::beginFill(std::unique_lock<std::mutex>& lock)
{
    m_restart = false;
    m_playing = m_source;
    m_playing_loop = m_loop;
    m_at = m_start_at;
    m_to_drop = 0;
    m_to_hold = 0;
    m_changes.clear();
    const std::vector<double> values = m_values;
    lock.unlock();
    m_ring.clear();
    if (m_stage && m_playing) {
        if (auto started = startStage(values); !started)
            fail(started.error());
        else
            m_to_drop = m_latency_found.value_or(m_stage->latencySamples());
        m_latency_reported = m_stage ? m_stage->latencySamples() : 0;
    }
    lock.lock();
    m_filling = m_playing != nullptr;
    if (!m_playing)
        m_ready.store(true, std::memory_order_release);
}

hosting::FaultOr<void> Lane::startStage(const std::vector<double>& values)
{
    const processors::PlayConditions conditions{m_rate_hz, stretch_frames};
    if (m_latency_of && *m_latency_of == values)
        return m_stage->start(conditions, values);
    auto found = bench::findLatency(*m_stage, conditions, values);
    if (!found)
        return tl::make_unexpected(found.error());
    m_latency_found = *found;
    m_latency_of = values;
    return {};
}

/// A parameter may change the latency while it plays: what is heard stays in step with the other lanes.
void Lane::followLatency()
{
    const std::size_t reported = m_stage->latencySamples();
    if (reported > m_latency_reported) {
        const std::size_t held = std::min(m_to_hold, reported - m_latency_reported);
        m_to_hold -= held;
        m_to_drop += reported - m_latency_reported - held;
    } else if (reported < m_latency_reported) {
        const std::size_t dropped = std::min(m_to_drop, m_latency_reported - reported);
        m_to_drop -= dropped;
        m_to_hold += m_latency_reported - reported - dropped;
    }
    m_latency_reported = reported;
}

void Lane::fillRing()
{
    if (m_to_hold > 0) {
        const std::size_t held = std::min(m_to_hold, stretch_frames);
        std::ranges::fill(m_out_left, 0.0F);
        m_ring.write(m_out_left.data(), m_out_left.data(), held);
        m_to_hold -= held;
        return;
    }
    m_playing->read(m_playing_loop, m_at, m_left.data(), m_right.data(), stretch_frames);
    m_at = (m_at + stretch_frames) % m_playing_loop.frames;
    const float* left = m_left.data();
    const float* right = m_right.data();
    if (m_stage) {
        if (auto done =
                m_stage->processStereo(left, right, m_out_left.data(), m_out_right.data(), stretch_frames);
            !done)
            fail(done.error());
        else
            followLatency();
        left = m_out_left.data();
        right = m_out_right.data();
    }
    if (m_silent) {
        std::ranges::fill(m_out_left, 0.0F);
        std::ranges::fill(m_out_right, 0.0F);
        left = m_out_left.data();
        right = m_out_right.data();
    }
    const std::size_t drop = std::min(m_to_drop, stretch_frames);
    m_to_drop -= drop;
    m_ring.write(left + drop, right + drop, stretch_frames - drop);
    if (m_ring.readable() >= ahead_frames)
        m_ready.store(true, std::memory_order_release);
}

void Lane::fail(hosting::Fault fault)
{
    m_stage.reset();
    m_silent = true;
    m_to_drop = 0;
    m_to_hold = 0;
    const std::lock_guard lock(m_mutex);
    m_fault = std::move(fault);
}

} // namespace hr::audition
