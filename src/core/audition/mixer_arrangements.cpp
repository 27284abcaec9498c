// SPDX-License-Identifier: GPL-3.0-or-later
//
// How arrangements come into the mixer, take over from one another, and are handed back.
#include "audition/mixer.h"

#include <algorithm>

namespace hr::audition {

Mixer::~Mixer()
{
    (void)retract();
    (void)takeReleased();
    delete m_previous;
    delete m_current;
}

// --- control -----------------------------------------------------------------------------------------

void Mixer::offer(std::unique_ptr<Arrangement> next)
{
    assert(next->lanes.size() <= most_lanes);
    (void)retract();
    m_offered.store(next.release(), std::memory_order_release);
}

std::unique_ptr<Arrangement> Mixer::retract()
{
    std::unique_ptr<Arrangement> back(m_offered.exchange(nullptr, std::memory_order_seq_cst));
    // The callback may be looking at it, which takes some microseconds.
    while (back && m_inspected.load(std::memory_order_seq_cst) == back.get())
        std::this_thread::yield();
    return back;
}

std::vector<std::unique_ptr<Arrangement>> Mixer::takeReleased()
{
    std::vector<std::unique_ptr<Arrangement>> released;
    for (auto& place : m_released)
        if (Arrangement* one = place.exchange(nullptr, std::memory_order_acq_rel)) {
            released.emplace_back(one);
            m_released_count.fetch_sub(1, std::memory_order_acq_rel);
        }
    return released;
}

bool Mixer::addReader(const std::shared_ptr<TapReader>& reader)
{
    tidyReaders();
    for (std::size_t i = 0; i < m_readers.size(); ++i)
        if (!m_held_readers[i]) {
            m_held_readers[i] = reader;
            m_readers[i].store(reader.get(), std::memory_order_release);
            return true;
        }
    return false;
}

void Mixer::tidyReaders()
{
    for (std::size_t i = 0; i < m_readers.size(); ++i) {
        if (!m_held_readers[i] || m_held_readers[i].use_count() > 1)
            continue;
        m_readers[i].store(nullptr, std::memory_order_seq_cst);
        // A callback that has begun before may still write to it.
        const std::uint32_t began = m_rendering.load(std::memory_order_seq_cst);
        while (began % 2 == 1 && m_rendering.load(std::memory_order_seq_cst) == began)
            std::this_thread::yield();
        m_held_readers[i].reset();
    }
}

// --- the audio callback ------------------------------------------------------------------------------

/// What is offered, kept from being retracted until releaseOffered(); null: nothing.
Arrangement* Mixer::holdOffered() noexcept
{
    Arrangement* const offered = m_offered.load(std::memory_order_acquire);
    m_inspected.store(offered, std::memory_order_seq_cst);
    return m_offered.load(std::memory_order_seq_cst) == offered ? offered : nullptr;
}

void Mixer::releaseOffered() noexcept
{
    m_inspected.store(nullptr, std::memory_order_release);
}

void Mixer::takeOffered(std::size_t frames) noexcept
{
    Arrangement* next = m_previous ? nullptr : holdOffered();
    if (next && isReady(*next, frames)) {
        Arrangement* expected = next;
        if (m_offered.compare_exchange_strong(expected, nullptr, std::memory_order_acq_rel))
            changeOver(next);
    }
    releaseOffered();
}

/// What is to join what plays lets go of what has been played, so that it can be ready for the next block.
void Mixer::keepOfferedInStep() noexcept
{
    if (const Arrangement* next = holdOffered(); next && next->timeline == m_current->timeline)
        for (const auto& lane : next->lanes)
            if (lane->filled())
                (void)lane->readyAt(next->timeline->played.load(std::memory_order_relaxed));
    releaseOffered();
}

/// Whether each of its lanes has as much as this block and the next few need, from where it would go on.
bool Mixer::isReady(Arrangement& next, std::size_t frames) const noexcept
{
    if (next.timeline->isLive() && !(m_current && m_current->timeline == next.timeline))
        return followInput(next, frames);
    const std::uint64_t at = next.timeline->played.load(std::memory_order_relaxed);
    // Live, what lies ready grows by itself where it is too little.
    const std::size_t least = frames + (next.timeline->isLive() ? 0 : Lane::stretch_frames);
    const auto plays_already = [this](const std::shared_ptr<Lane>& lane) {
        return m_current && std::ranges::find(m_current->lanes, lane) != m_current->lanes.end();
    };
    return std::ranges::all_of(next.lanes, [&](const std::shared_ptr<Lane>& lane) {
        if (lane->isSilent() || plays_already(lane))
            return true;
        return lane->filled() && lane->readyAt(at) >= least;
    });
}

/// The live course moves on, unheard, as if it were played, until it is close to what comes in and steady, and
/// so can be heard: then it stays where it is, and the answer is yes.
bool Mixer::followInput(Arrangement& next, std::size_t frames) const noexcept
{
    Timeline& course = *next.timeline;
    std::uint64_t at = course.played.load(std::memory_order_relaxed);
    for (const auto& lane : next.lanes) {
        if (lane->isSilent())
            continue;
        if (!lane->filled())
            return false;
        at = std::max(at, lane->firstFrame());
    }
    std::size_t ready = nothing_limits;
    for (const auto& lane : next.lanes)
        if (!lane->isSilent())
            ready = std::min(ready, lane->readyAt(at));
    if (ready == nothing_limits)
        return true; // nobody is to be heard
    const LivePace::Step step = course.pace.look(ready, frames);
    const bool near = course.pace.isSteady() && !step.hold;
    if (!near)
        at += step.hold ? 0 : step.skip + frames;
    course.played.store(at, std::memory_order_relaxed);
    return near;
}

/// Lanes that go on keep their place in the crossfade; what else was heard fades out, beside.
void Mixer::changeOver(Arrangement* next) noexcept
{
    const bool same_course = m_current && m_current->timeline == next->timeline;
    const Lane* const heard =
        m_current && m_heard < m_current->lanes.size() ? m_current->lanes[m_heard].get() : nullptr;
    for (std::size_t n = 0; n < next->lanes.size(); ++n) {
        next->voices[n].gain = next->lanes[n]->gain();
        for (std::size_t c = 0; same_course && c < m_current->lanes.size(); ++c)
            if (m_current->lanes[c] == next->lanes[n]) {
                next->voices[n] = m_current->voices[c];
                m_current->voices[c].shared = true;
            }
    }
    for (const auto& lane : next->lanes)
        lane->join();
    m_previous = m_current;
    m_current = next;
    m_fading.store(m_previous != nullptr, std::memory_order_release); // before m_taken: lanes are ended by both
    m_voice_step = voiceStep(false); // what takes the place of something under the same id does so at once
    if (next->hear != no_contender)
        m_wanted.store(next->hear, std::memory_order_relaxed);
    m_taken.store(next, std::memory_order_release);
    // What was heard stays so: the same lane, else the same contender.
    const auto found = std::ranges::find_if(next->lanes, [&](const std::shared_ptr<Lane>& lane) {
        return heard && (lane.get() == heard || lane->id() == heard->id());
    });
    m_heard = found == next->lanes.end() ? most_lanes : static_cast<std::size_t>(found - next->lanes.begin());
    if (framesToSwitch() == 0)
        chooseHeard();
    aimVoices();
    if (m_master == 0.0F) { // nothing sounds, so there is nothing to fade
        for (std::size_t l = 0; l < next->lanes.size(); ++l)
            if (l == m_heard || accompanies(*next, l))
                next->voices[l].heard = 1;
        releasePrevious();
    }
}

void Mixer::releasePrevious() noexcept
{
    if (!m_previous)
        return;
    for (auto& place : m_released) {
        Arrangement* expected = nullptr;
        if (place.compare_exchange_strong(expected, m_previous, std::memory_order_acq_rel)) {
            m_previous = nullptr;
            m_released_count.fetch_add(1, std::memory_order_acq_rel);
            m_fading.store(false, std::memory_order_release); // after the count: one of the two is always seen
            return;
        }
    }
}

} // namespace hr::audition
