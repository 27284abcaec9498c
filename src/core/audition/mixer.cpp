// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/mixer.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

Mixer::Mixer(double rate_hz)
    : m_rate_hz(rate_hz), m_fade_step(static_cast<float>(1000.0 / (crossfade_ms * rate_hz))),
      m_voice_step(m_fade_step), m_glide(static_cast<float>(1.0 - std::exp(-1.0 / (0.01 * rate_hz)))),
      m_band(rate_hz), m_low_mono(rate_hz)
{
}

/// Who is wanted and may be heard, else who is heard.
std::size_t Mixer::laneWanted() const noexcept
{
    const ContenderId wanted = m_wanted.load(std::memory_order_relaxed);
    for (std::size_t l = 0; l < m_current->lanes.size(); ++l)
        if (m_current->lanes[l]->id() == wanted && m_current->lanes[l]->mayBeHeard())
            return l;
    return m_heard;
}

/// Until whoever is wanted is changed over to: to the next bar, while something is heard.
std::size_t Mixer::framesToSwitch() const noexcept
{
    const double bar = m_current->timeline->isLive() ? 0 : m_bar_frames.load(std::memory_order_relaxed);
    if (bar < 1 || m_master == 0.0F || m_heard >= m_current->lanes.size())
        return 0;
    const Timeline& timeline = *m_current->timeline;
    const std::size_t at = timeline.frameOfSource(timeline.played.load(std::memory_order_relaxed));
    // The first bar whose frame, the nearest to where it begins, is not behind.
    const double bars = std::ceil((static_cast<double>(at) - 0.5) / bar - 1e-9);
    const auto next = std::max(at, static_cast<std::size_t>(std::llround(bars * bar)));
    return at == timeline.loop.first ? 0 : std::min(next, timeline.loop.first + timeline.loop.frames) - at;
}

float Mixer::voiceStep(bool gently) const noexcept
{
    return gently ? m_fade_step * static_cast<float>(crossfade_ms / gentle_crossfade_ms) : m_fade_step;
}

void Mixer::chooseHeard() noexcept
{
    const std::size_t before = m_heard;
    m_heard = laneWanted();
    if (m_heard != before) {
        m_voice_step = voiceStep(m_gently.load(std::memory_order_relaxed));
        aimVoices();
    }
    m_audible.store(m_heard < m_current->lanes.size() ? m_current->lanes[m_heard]->id() : no_contender,
                    std::memory_order_relaxed);
}

void Mixer::aimVoices() noexcept
{
    for (std::size_t l = 0; l < m_current->lanes.size(); ++l)
        m_current->voices[l].way =
            (l == m_heard || accompanies(*m_current, l) ? 1.0F : 0.0F) - m_current->voices[l].heard;
    for (std::size_t l = 0; m_previous && l < m_previous->lanes.size(); ++l)
        m_previous->voices[l].way = -m_previous->voices[l].heard;
}

bool Mixer::accompanies(const Arrangement& arrangement, std::size_t lane) const noexcept
{
    return m_accompanied_by != no_contender && &arrangement == m_current &&
           arrangement.lanes[lane]->id() == m_accompanied_by && arrangement.lanes[lane]->mayBeHeard();
}

void Mixer::followAccompaniment() noexcept
{
    const ContenderId wanted = m_accompaniment.load(std::memory_order_relaxed);
    if (wanted == m_accompanied_by)
        return;
    m_accompanied_by = wanted;
    m_voice_step = voiceStep(false);
    aimVoices();
}

/// Frames that everything that is heard, or is about to be, has ready; the others are kept in step.
std::size_t Mixer::readableNow(std::size_t coming) noexcept
{
    const std::uint64_t at = m_current->timeline->played.load(std::memory_order_relaxed);
    std::size_t readable = nothing_limits;
    for (std::size_t l = 0; l < m_current->lanes.size(); ++l) {
        const std::size_t ready = m_current->lanes[l]->readyAt(at);
        const bool used = l == m_heard || l == coming || m_current->voices[l].heard > 0 ||
                          accompanies(*m_current, l) || (isApart() && l == m_current->reference);
        if (used && !m_current->lanes[l]->isSilent())
            readable = std::min(readable, ready);
    }
    return isApart() ? readable - std::min(readable, Shift::reach_frames) : readable;
}

/// Frames, up to `frames`, that what came before still has.
std::size_t Mixer::fadingNow(std::size_t frames) noexcept
{
    const std::uint64_t at = m_previous->timeline->played.load(std::memory_order_relaxed);
    const std::size_t reach = isApart() ? Shift::reach_frames : 0;
    std::size_t fading = frames + reach;
    for (std::size_t l = 0; l < m_previous->lanes.size(); ++l) {
        const Arrangement::Voice& voice = m_previous->voices[l];
        const bool used = (voice.heard > 0 && !voice.shared) || (isApart() && l == m_previous->reference);
        if (used && !m_previous->lanes[l]->isSilent())
            fading = std::min(fading, m_previous->lanes[l]->readyAt(at));
    }
    return fading - std::min(fading, reach);
}

/// Whether the difference is heard, or is about to be, or still fades out.
bool Mixer::isApart() const noexcept
{
    return m_apart > 0 || m_difference.load(std::memory_order_relaxed);
}

void Mixer::findReference(Arrangement& arrangement) const noexcept
{
    const ContenderId wanted = m_reference.load(std::memory_order_relaxed);
    arrangement.reference = most_lanes;
    for (std::size_t l = 0; l < arrangement.lanes.size(); ++l) {
        arrangement.voices[l].shift.set(arrangement.lanes[l]->offsetSamples());
        if (arrangement.lanes[l]->id() == wanted && !arrangement.lanes[l]->isSilent())
            arrangement.reference = l;
    }
    if (m_apart == 0.0F && arrangement.reference < most_lanes)
        arrangement.reference_gain = arrangement.lanes[arrangement.reference]->gain();
}

/// What the reference leaves of a lane; nothing where there is no reference to take away.
Frame Mixer::apart(const Arrangement& arrangement, std::size_t lane, std::size_t ahead) const noexcept
{
    if (arrangement.reference == most_lanes || arrangement.reference == lane)
        return {};
    const Arrangement::Voice& voice = arrangement.voices[lane];
    const Frame frame = voice.shift.of(*arrangement.lanes[lane], ahead);
    const Frame& reference = arrangement.lanes[arrangement.reference]->peek(ahead + Shift::lead_frames);
    return {voice.gain * frame.left - arrangement.reference_gain * reference.left,
            voice.gain * frame.right - arrangement.reference_gain * reference.right};
}

/// What is heard fades out over the frames that are left where it is about to run dry, and in again once it is
/// half full: by this much a frame.
float Mixer::supplyStep(std::size_t readable, std::size_t frames) noexcept
{
    if (m_dry && readable >= supplyNeeded(frames))
        m_dry = false;
    if (m_dry || readable >= LivePace::needed(frames))
        return m_fade_step;
    m_dry = true;
    m_underruns.fetch_add(1, std::memory_order_relaxed);
    return -1.0F / static_cast<float>(std::max<std::size_t>(1, std::min(readable, frames)));
}

/// From which on what has run dry is heard again.
std::size_t Mixer::supplyNeeded(std::size_t frames) const noexcept
{
    const auto margin = static_cast<std::size_t>(Lane::margin_s * m_rate_hz);
    const Timeline& course = *m_current->timeline;
    return course.isLive() ? LivePace::needed(frames) + course.pace.margin() : frames + margin / 2;
}

/// One frame of all that is heard of it; `heard` is the voice that fades in, the others fade out.
Frame Mixer::sumOf(Arrangement& arrangement, std::size_t ahead, std::size_t heard) noexcept
{
    Frame sum;
    if (m_apart > 0 && arrangement.reference < most_lanes)
        arrangement.reference_gain +=
            (arrangement.lanes[arrangement.reference]->gain() - arrangement.reference_gain) * m_glide;
    for (std::size_t l = 0; l < arrangement.lanes.size(); ++l) {
        Arrangement::Voice& voice = arrangement.voices[l];
        const bool beside = l != heard && accompanies(arrangement, l);
        if (voice.shared || (voice.heard == 0.0F && l != heard && !beside))
            continue;
        if (voice.heard == 0.0F)
            voice.gain = arrangement.lanes[l]->gain(); // it glides only while it is heard
        voice.heard = std::clamp(voice.heard + voice.way * m_voice_step, 0.0F, 1.0F);
        constexpr float arrived = 1e-5F; // what is left by rounding
        if (voice.way < 0 && voice.heard < arrived)
            voice.heard = 0;
        else if (voice.way > 0 && voice.heard > 1 - arrived)
            voice.heard = 1;
        voice.gain += (arrangement.lanes[l]->gain() - voice.gain) * m_glide;
        if (arrangement.lanes[l]->isSilent())
            continue;
        const Frame& frame = arrangement.lanes[l]->peek(ahead);
        const float whole = voice.heard * voice.gain * (1 - m_apart);
        sum.left += whole * frame.left * (beside ? 1.0F : m_sides.left);
        sum.right += whole * frame.right * (beside ? 1.0F : m_sides.right);
        if (m_apart == 0.0F || beside)
            continue;
        const Frame left_over = apart(arrangement, l, ahead);
        sum.left += voice.heard * m_apart * left_over.left;
        sum.right += voice.heard * m_apart * left_over.right;
    }
    return sum;
}

/// Lets go of what has been played, of every lane that had it.
void Mixer::advance(Arrangement& arrangement, std::size_t frames) noexcept
{
    const std::uint64_t at = arrangement.timeline->played.load(std::memory_order_relaxed) + frames;
    arrangement.timeline->played.store(at, std::memory_order_relaxed);
    for (const auto& lane : arrangement.lanes)
        (void)lane->readyAt(at);
}

void Mixer::mix(float* interleaved, std::size_t frames) noexcept
{
    const std::size_t to_switch = framesToSwitch();
    if (to_switch == 0)
        chooseHeard();
    followAccompaniment();
    const bool placed = m_accompanied_by != no_contender && m_heard < m_current->lanes.size() &&
                        m_current->lanes[m_heard]->id() != m_accompanied_by;
    const Frame sides{placed ? m_left_gain.load(std::memory_order_relaxed) : 1.0F,
                      placed ? m_right_gain.load(std::memory_order_relaxed) : 1.0F};
    const bool difference = m_difference.load(std::memory_order_relaxed);
    if (isApart()) {
        findReference(*m_current);
        if (m_previous)
            findReference(*m_previous);
    }
    const bool stopping = !m_playing.load(std::memory_order_relaxed);
    const std::size_t readable = readableNow(to_switch < frames ? laneWanted() : m_heard);
    const bool was_dry = m_dry;
    float supply_step = stopping ? 0.0F : supplyStep(readable, frames);
    std::size_t skip = 0; // live: behind this block, over which it fades out
    if (m_current->timeline->isLive() && !stopping && readable != nothing_limits)
        skip = m_current->timeline->pace.look(readable, frames).skip;
    if (skip > 0)
        supply_step = -1.0F / static_cast<float>(frames);
    const std::size_t available = was_dry && m_dry ? 0 : std::min(frames, readable);
    const std::size_t fading = m_previous ? fadingNow(frames) : 0;
    const bool own_course = m_previous && m_previous->timeline != m_current->timeline;
    std::size_t used = 0;
    for (; used < available; ++used) {
        if (used == to_switch)
            chooseHeard();
        m_master = std::clamp(m_master + (stopping ? -m_fade_step : m_fade_step), 0.0F, 1.0F);
        if (stopping && m_master == 0.0F)
            break;
        m_supply = std::clamp(m_supply + supply_step, 0.0F, 1.0F);
        m_apart = std::clamp(m_apart + (difference ? m_fade_step : -m_fade_step), 0.0F, 1.0F);
        m_sides.left += (sides.left - m_sides.left) * m_glide;
        m_sides.right += (sides.right - m_sides.right) * m_glide;
        Frame sum = sumOf(*m_current, used, m_heard);
        if (m_previous && used < fading) {
            const Frame leaving = sumOf(*m_previous, used, most_lanes);
            sum.left += leaving.left;
            sum.right += leaving.right;
        }
        const float level = m_master * m_supply * m_output.load(std::memory_order_relaxed);
        interleaved[2 * used] = level * sum.left;
        interleaved[2 * used + 1] = level * sum.right;
    }
    if (stopping && available == 0)
        m_master = 0; // nothing left to fade with
    if (own_course)
        advance(*m_previous, std::min(used, fading));
    advance(*m_current, used + skip);
    if (!m_previous)
        return;
    if (!own_course) // its lanes follow the course they share; those that leave with it are nobody's else
        for (const auto& lane : m_previous->lanes)
            (void)lane->readyAt(m_current->timeline->played.load(std::memory_order_relaxed));
    const bool faded = std::ranges::all_of(m_previous->voices, [](const Arrangement::Voice& voice) {
        return voice.shared || voice.heard == 0.0F;
    });
    if (faded || fading < used || m_master == 0.0F)
        releasePrevious();
}

/// What of it is listened to; what is asked for is glided to, so that it does not click.
void Mixer::monitorTo(TapBlock& block) noexcept
{
    const auto wanted =
        monitorMatrix(m_listened.load(std::memory_order_relaxed), m_quieter.load(std::memory_order_relaxed),
                      m_inverted.load(std::memory_order_relaxed));
    const float mono_below_hz = m_mono_below_hz.load(std::memory_order_relaxed);
    m_low_mono.process(mono_below_hz > 0 ? std::optional(mono_below_hz) : std::nullopt, block.left.data(),
                       block.right.data(), block.frames);
    for (std::size_t i = 0; i < block.frames; ++i) {
        for (std::size_t k = 0; k < wanted.size(); ++k)
            m_matrix[k] += (wanted[k] - m_matrix[k]) * m_glide;
        const Frame frame{block.left[i], block.right[i]};
        block.left[i] = m_matrix[0] * frame.left + m_matrix[1] * frame.right;
        block.right[i] = m_matrix[2] * frame.left + m_matrix[3] * frame.right;
    }
    const Band band{m_band_low_hz.load(std::memory_order_relaxed),
                    m_band_high_hz.load(std::memory_order_relaxed)};
    m_band.process(band.high_hz > 0 ? std::optional(band) : std::nullopt, block.left.data(), block.right.data(),
                   block.frames);
}

/// Behind the mix: the limiter, and whoever looks at the sum.
void Mixer::limitAndTell(float* interleaved, std::size_t frames) noexcept
{
    for (std::size_t first = 0; first < frames; first += TapBlock::most_frames) {
        const std::size_t count = std::min(TapBlock::most_frames, frames - first);
        for (std::size_t i = 0; i < count; ++i) {
            m_sum.left[i] = interleaved[2 * (first + i)];
            m_sum.right[i] = interleaved[2 * (first + i) + 1];
        }
        m_sum.frames = count;
        monitorTo(m_sum);
        m_limiter.process(m_sum.left.data(), m_sum.right.data(), count);
        for (std::size_t i = 0; i < count; ++i) {
            interleaved[2 * (first + i)] = m_sum.left[i];
            interleaved[2 * (first + i) + 1] = m_sum.right[i];
        }
        for (const auto& place : m_readers)
            if (TapReader* reader = place.load(std::memory_order_acquire))
                reader->put(m_sum);
        if (m_current) {
            const Section& loop = m_current->timeline->loop;
            m_sum.source_frame = loop.first + (m_sum.source_frame - loop.first + count) % loop.frames;
        }
    }
}

/// Paused. Live sound goes on meanwhile.
void Mixer::restHere(std::size_t frames) noexcept
{
    chooseHeard();
    if (m_current->timeline->isLive() && followInput(*m_current, frames))
        advance(*m_current, frames);
}

/// How late live sound is that is played in this block.
void Mixer::tellLag() noexcept
{
    const Timeline& course = *m_current->timeline;
    m_live_lag.store(course.isLive() ? course.availableFrom(course.played.load(std::memory_order_relaxed)) +
                                           signal::SafetyLimiter::latency_frames
                                     : 0,
                     std::memory_order_relaxed);
}

void Mixer::render(float* interleaved, std::size_t frames) noexcept
{
    m_rendering.fetch_add(1, std::memory_order_seq_cst);
    std::fill_n(interleaved, 2 * frames, 0.0F);
    if (frames > m_largest.load(std::memory_order_relaxed))
        m_largest.store(frames, std::memory_order_relaxed);
    takeOffered(frames);
    if (m_previous && m_master == 0.0F)
        releasePrevious();
    if (m_current) {
        // What leaves the limiter is as much earlier as it looks ahead.
        const Timeline& timeline = *m_current->timeline;
        const std::size_t late = signal::SafetyLimiter::latency_frames % timeline.loop.frames;
        m_sum.source_frame = timeline.frameOfSource(timeline.played.load(std::memory_order_relaxed) +
                                                    timeline.loop.frames - late);
        m_sum.contender = m_audible.load(std::memory_order_relaxed);
        tellLag();
        if (m_playing.load(std::memory_order_relaxed) || m_master > 0)
            mix(interleaved, frames);
        else
            restHere(frames);
        keepOfferedInStep();
    }
    limitAndTell(interleaved, frames);
    if (m_limiter.takeActed())
        m_limiter_acted.store(true, std::memory_order_relaxed);
    m_rendering.fetch_add(1, std::memory_order_seq_cst);
}

} // namespace hr::audition
