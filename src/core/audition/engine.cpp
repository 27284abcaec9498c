// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/engine.h"

#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

Engine::Engine(double rate_hz)
    : m_rate_hz(rate_hz), m_fade_step(static_cast<float>(1000.0 / (crossfade_ms * rate_hz))),
      m_glide(static_cast<float>(1.0 - std::exp(-1.0 / (0.01 * rate_hz))))
{
    for (auto& lane : m_lanes)
        lane = std::make_unique<Lane>(rate_hz);
    for (auto& gain : m_gain)
        gain.store(1.0F, std::memory_order_relaxed);
}

// --- control -----------------------------------------------------------------------------------------

void Engine::setSource(std::shared_ptr<const Source> source, Section loop)
{
    m_source = std::move(source);
    m_loop = m_source ? fitted(loop, m_source->frames(), Lane::stretch_frames) : Section{};
    m_seek_to = 0;
    m_epoch_wanted.fetch_add(1);
}

void Engine::setLoop(Section loop)
{
    if (!m_source)
        return;
    const std::size_t at = position();
    m_loop = fitted(loop, m_source->frames(), Lane::stretch_frames);
    seek(at);
}

void Engine::seek(std::size_t frame)
{
    const bool inside = frame >= m_loop.first && frame < m_loop.first + m_loop.frames;
    m_seek_to = inside ? frame - m_loop.first : 0;
    m_epoch_wanted.fetch_add(1);
}

void Engine::setLineUp(const std::vector<LaneSpec>& lanes)
{
    assert(lanes.size() <= most_lanes);
    for (std::size_t i = 0; i < lanes.size(); ++i) {
        const bool same = i < m_line_up.size() && m_line_up[i] == lanes[i] && !m_lanes[i]->fault();
        if (!same) {
            m_lanes[i]->assign(lanes[i]);
            continue;
        }
        for (std::size_t p = 0; p < lanes[i].values.size(); ++p)
            if (p < m_line_up[i].values.size() && lanes[i].values[p] != m_line_up[i].values[p])
                m_lanes[i]->setParameter(p, lanes[i].values[p]);
    }
    m_line_up = lanes;
    m_opening = true; // tend() raises the epoch once all are open
}

void Engine::setParameter(std::size_t lane, std::size_t index, double value)
{
    if (lane >= m_line_up.size() || index >= m_line_up[lane].values.size())
        return;
    m_line_up[lane].values[index] = value;
    m_lanes[lane]->setParameter(index, value);
}

void Engine::setGainDb(std::size_t lane, double gain_db)
{
    m_gain[lane].store(static_cast<float>(signal::dbToLinear(gain_db)), std::memory_order_relaxed);
}

void Engine::setOutputDb(double level_db)
{
    m_output.store(static_cast<float>(signal::dbToLinear(level_db)), std::memory_order_relaxed);
}

void Engine::tend()
{
    if (m_opening) {
        for (std::size_t i = 0; i < m_line_up.size(); ++i)
            if (!m_lanes[i]->opened())
                return;
        m_opening = false;
        if (m_source)
            m_seek_to = position() - m_loop.first;
        m_epoch_wanted.fetch_add(1);
    }
    const std::size_t wanted = m_epoch_wanted.load();
    if (m_restarted != wanted) {
        // Only once the callback keeps away may the rings be touched.
        if (m_epoch_acknowledged.load(std::memory_order_acquire) != wanted)
            return;
        restartLanes();
        m_restarted = wanted;
    }
    if (m_ready_epoch.load(std::memory_order_relaxed) != m_restarted) {
        for (std::size_t i = 0; i < m_lane_count.load(std::memory_order_relaxed); ++i)
            if (!m_lanes[i]->ready())
                return;
        m_ready_epoch.store(m_restarted, std::memory_order_release);
    }
}

void Engine::restartLanes()
{
    m_lane_count.store(m_source ? m_line_up.size() : 0, std::memory_order_relaxed);
    m_played.store(m_seek_to, std::memory_order_relaxed);
    for (std::size_t i = 0; i < m_line_up.size(); ++i)
        m_lanes[i]->restart(m_source, m_loop, m_seek_to);
}

std::size_t Engine::position() const
{
    if (m_loop.frames == 0)
        return 0;
    return m_loop.first + m_played.load(std::memory_order_relaxed) % m_loop.frames;
}

std::size_t Engine::readyFrames() const
{
    std::size_t ready = Lane::ahead_frames;
    for (std::size_t l = 0; l < m_lane_count.load(std::memory_order_relaxed); ++l)
        ready = std::min(ready, m_lanes[l]->ring().readable());
    return ready;
}

std::size_t Engine::takeOutput(Frame* out, std::size_t most)
{
    const std::size_t count = std::min(most, m_meter.readable());
    for (std::size_t i = 0; i < count; ++i)
        out[i] = m_meter.peek(i);
    m_meter.skip(count);
    return count;
}

// --- the audio callback ------------------------------------------------------------------------------

bool Engine::mayRead() noexcept
{
    const std::size_t wanted = m_epoch_wanted.load(std::memory_order_acquire);
    if (m_epoch_playing.load(std::memory_order_relaxed) == wanted)
        return true;
    if (m_epoch_acknowledged.load(std::memory_order_relaxed) != wanted) {
        if (m_master > 0 && m_epoch_acknowledged.load(std::memory_order_relaxed) ==
                                m_epoch_playing.load(std::memory_order_relaxed))
            return true; // still fading out what was
        m_epoch_acknowledged.store(wanted, std::memory_order_release);
        return false;
    }
    if (m_ready_epoch.load(std::memory_order_acquire) != wanted)
        return false;
    m_epoch_playing.store(wanted, std::memory_order_release);
    return true;
}

void Engine::advanceFades(std::size_t heard) noexcept
{
    for (std::size_t l = 0; l < most_lanes; ++l) {
        Fade& fade = m_fades[l];
        const float step = l == heard ? m_fade_step : -m_fade_step;
        fade.heard = std::clamp(fade.heard + step, 0.0F, 1.0F);
        fade.gain += (m_gain[l].load(std::memory_order_relaxed) - fade.gain) * m_glide;
    }
}

/// What is heard fades out over the frames that are left where the rings are about to run dry, and in again
/// once they are half full: by this much a frame.
float Engine::supplyStep(std::size_t readable, std::size_t frames) noexcept
{
    constexpr std::size_t surely_full = Lane::ahead_frames - Lane::stretch_frames;
    const std::size_t beyond = surely_full - std::min(frames, surely_full);
    if (m_dry && readable >= std::min(frames + Lane::ahead_frames / 2, surely_full))
        m_dry = false;
    if (m_dry || readable >= frames + std::min({frames, beyond, Lane::stretch_frames / 2}))
        return m_fade_step;
    m_dry = true;
    m_underruns.fetch_add(1, std::memory_order_relaxed);
    return -1.0F / static_cast<float>(std::max<std::size_t>(1, std::min(readable, frames)));
}

void Engine::mix(float* interleaved, std::size_t frames) noexcept
{
    const std::size_t lanes = m_lane_count.load(std::memory_order_relaxed);
    const std::size_t heard = m_heard.load(std::memory_order_relaxed);
    const bool stopping =
        !m_playing.load(std::memory_order_relaxed) ||
        m_epoch_playing.load(std::memory_order_relaxed) != m_epoch_wanted.load(std::memory_order_relaxed);
    const std::size_t readable = readyFrames();
    const bool was_dry = m_dry;
    const float supply_step = stopping ? 0.0F : supplyStep(readable, frames);
    const std::size_t available = was_dry && m_dry ? 0 : std::min(frames, readable);
    std::size_t used = 0;
    for (; used < available; ++used) {
        m_master = std::clamp(m_master + (stopping ? -m_fade_step : m_fade_step), 0.0F, 1.0F);
        if (stopping && m_master == 0.0F)
            break;
        m_supply = std::clamp(m_supply + supply_step, 0.0F, 1.0F);
        advanceFades(heard);
        Frame sum;
        for (std::size_t l = 0; l < lanes; ++l) {
            const float weight = m_fades[l].heard * m_fades[l].gain;
            if (weight == 0.0F)
                continue;
            const Frame& frame = m_lanes[l]->ring().peek(used);
            sum.left += weight * frame.left;
            sum.right += weight * frame.right;
        }
        const float level = m_master * m_supply * m_output.load(std::memory_order_relaxed);
        interleaved[2 * used] = level * sum.left;
        interleaved[2 * used + 1] = level * sum.right;
    }
    if (stopping && available == 0)
        m_master = 0; // nothing left to fade with
    for (std::size_t l = 0; l < lanes; ++l)
        m_lanes[l]->ring().skip(used);
    m_played.store(m_played.load(std::memory_order_relaxed) + used, std::memory_order_relaxed);
}

void Engine::render(float* interleaved, std::size_t frames) noexcept
{
    std::fill_n(interleaved, 2 * frames, 0.0F);
    if (mayRead() && (m_playing.load(std::memory_order_relaxed) || m_master > 0))
        mix(interleaved, frames);
    for (std::size_t first = 0; first < frames; first += m_left.size()) {
        const std::size_t count = std::min(m_left.size(), frames - first);
        for (std::size_t i = 0; i < count; ++i) {
            m_left[i] = interleaved[2 * (first + i)];
            m_right[i] = interleaved[2 * (first + i) + 1];
        }
        m_limiter.process(m_left.data(), m_right.data(), count);
        for (std::size_t i = 0; i < count; ++i) {
            interleaved[2 * (first + i)] = m_left[i];
            interleaved[2 * (first + i) + 1] = m_right[i];
        }
        if (m_meter.writable() >= count) // a meter that is not read loses sound, never holds it up
            m_meter.write(m_left.data(), m_right.data(), count);
    }
    if (m_limiter.takeActed())
        m_limiter_acted.store(true, std::memory_order_relaxed);
}

} // namespace hr::audition
