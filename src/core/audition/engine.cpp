// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/engine.h"

#include "signal/levels.h"

#include <algorithm>
#include <deque>

namespace hr::audition {

/// Ends lanes on a thread of its own: their processors may take a while. Between, it loads what contenders that
/// are kept have too little of.
class Engine::LaneKeeper {
public:
    void take(std::shared_ptr<Lane> lane)
    {
        lane->requestStop();
        const std::lock_guard lock(m_mutex);
        m_lanes.push_back(std::move(lane));
        m_changed.notify_one();
    }

    /// In place of what was asked for before.
    void loadSpares(std::vector<hosting::Location> of)
    {
        const std::lock_guard lock(m_mutex);
        m_spares_of = std::move(of);
        m_changed.notify_one();
    }

private:
    void run(const std::stop_token& stop)
    {
        const auto has_work = [this] { return !m_lanes.empty() || !m_spares_of.empty(); };
        std::unique_lock lock(m_mutex);
        while (m_changed.wait(lock, stop, has_work) || !m_lanes.empty()) {
            auto lanes = std::exchange(m_lanes, {});
            std::optional<hosting::Location> location;
            if (stop.stop_requested())
                m_spares_of.clear();
            if (!m_spares_of.empty()) {
                location = std::move(m_spares_of.back());
                m_spares_of.pop_back();
            }
            lock.unlock();
            lanes.clear(); // they end here, outside of the lock
            if (location)
                loadSparesOf(*location, stop);
            lock.lock();
        }
    }

    /// Until there are enough. What fails is told by the lane that plays it.
    static void loadSparesOf(const hosting::Location& location, const std::stop_token& stop)
    {
        constexpr auto channels = hosting::Channels::Stereo;
        // Held until the last is there: one that is at rest would be taken for the next.
        std::vector<std::unique_ptr<hosting::Instance>> held;
        while (!stop.stop_requested() && hosting::WorkerPool::shared().wantsSpare(location, channels)) {
            auto opened = hosting::openInstance(location, {.channels = channels, .cancel = stop});
            if (!opened)
                return;
            held.push_back(std::move(*opened));
        }
    }

    std::mutex m_mutex;
    std::condition_variable_any m_changed;
    std::deque<std::shared_ptr<Lane>> m_lanes;  // guarded by m_mutex
    std::vector<hosting::Location> m_spares_of; // guarded by m_mutex
    std::jthread m_thread{[this](const std::stop_token& stop) { run(stop); }};
};

Engine::Engine(double rate_hz, std::function<void()> attention)
    : m_clock(std::make_shared<LaneClock>(rate_hz)), m_attention(std::move(attention)),
      m_keeper(std::make_unique<LaneKeeper>()), m_mixer(rate_hz)
{
    if (!m_attention)
        m_attention = [] {};
}

Engine::~Engine()
{
    // All at once, so that they do not end one after the other.
    for (const auto& lanes : {m_lanes, m_before})
        for (const auto& lane : lanes)
            lane->requestStop();
}

std::shared_ptr<Lane> Engine::laneOf(const ContenderSpec& spec) const
{
    const auto found = std::ranges::find_if(m_lanes, [&](const std::shared_ptr<Lane>& lane) {
        return lane->id() == spec.id && lane->generation() == spec.generation;
    });
    return found == m_lanes.end() ? nullptr : *found;
}

void Engine::release(std::shared_ptr<Lane> lane)
{
    const Arrangement* playing = m_mixer.playing();
    if (m_mixer.isFading() || (playing && std::ranges::find(playing->lanes, lane) != playing->lanes.end()))
        m_before.push_back(std::move(lane)); // until something else plays
    else
        m_keeper->take(std::move(lane));
}

void Engine::setScene(Scene scene, std::optional<std::size_t> position)
{
    assert(scene.contenders.size() <= most_lanes);
    if (auto retracted = m_mixer.retract())
        m_dirty = true;
    if (scene.source)
        scene.loop = fitted(scene.loop, scene.source->frames(), Lane::stretch_frames);
    const auto course = courseOf(scene, position);
    m_scene = std::move(scene);
    aim(course);
    m_dirty = m_spares_due = true;
    applyPending();
}

/// The one that there is, where the scene goes on along it.
std::shared_ptr<Timeline> Engine::courseOf(const Scene& scene, std::optional<std::size_t> position) const
{
    if (scene.live)
        return m_course && m_course->live == scene.live ? m_course : std::make_shared<Timeline>(scene.live);
    if (!scene.source)
        return nullptr;
    const bool same_source = m_course && m_course->source == scene.source;
    if (same_source && !position && m_course->loop == scene.loop)
        return m_course;
    const std::size_t at = position.value_or(same_source ? this->position() : scene.loop.first);
    const bool inside = at >= scene.loop.first && at < scene.loop.first + scene.loop.frames;
    return std::make_shared<Timeline>(scene.source, scene.loop, inside ? at - scene.loop.first : 0);
}

/// Makes the lanes those of the scene on this course. Lanes that play are left alone unless they go on as they
/// are; those that do not play yet are sent elsewhere rather than opened again.
void Engine::aim(const std::shared_ptr<Timeline>& course)
{
    const Arrangement* playing = m_mixer.playing();
    const bool moves = course != m_course;
    m_course = course;
    std::vector<std::shared_ptr<Lane>> lanes;
    std::vector<hosting::KeptLoaded> kept; // before those of the scene that was are dropped
    for (const ContenderSpec& spec : m_scene.contenders)
        if (!spec.location.id.empty() && !isRendered(spec.location))
            kept.emplace_back(spec.location);
    std::swap(kept, m_kept);
    for (const ContenderSpec& spec : m_scene.contenders) {
        std::shared_ptr<Lane> lane = laneOf(spec);
        const bool plays = lane && playing && std::ranges::find(playing->lanes, lane) != playing->lanes.end();
        if (lane && !(moves && plays)) {
            std::erase(m_lanes, lane);
            for (std::size_t i = 0; i < spec.values.size(); ++i)
                lane->setParameter(i, spec.values[i]);
            lane->setGain(spec.gain_db);
            lane->setOffset(spec.offset_samples);
            lane->setMix(spec.mix);
            if (moves && m_course)
                lane->begin(m_course);
        } else if (m_course) {
            lane = std::make_shared<Lane>(spec, m_clock, m_taps, m_attention);
            lane->begin(m_course);
        } else {
            continue;
        }
        lanes.push_back(std::move(lane));
    }
    std::swap(lanes, m_lanes);
    for (auto& lane : lanes)
        release(std::move(lane));
}

void Engine::hear(ContenderId id, bool gently)
{
    if (m_heard_next != no_contender) { // that was asked for before this
        m_heard_next = no_contender;
        m_dirty = m_mixer.retract() != nullptr || m_dirty;
    }
    m_mixer.hear(id, gently);
}

void Engine::hearFrom(ContenderId id, std::size_t frame, bool gently)
{
    m_mixer.setGently(gently);
    m_heard_next = id;
    seek(frame);
}

void Engine::setParameter(ContenderId id, std::size_t index, double value)
{
    for (ContenderSpec& spec : m_scene.contenders)
        if (spec.id == id && index < spec.values.size())
            spec.values[index] = value;
    for (const auto& lane : m_lanes)
        if (lane->id() == id)
            lane->setParameter(index, value);
}

void Engine::setGain(ContenderId id, std::uint32_t generation, std::optional<double> gain_db)
{
    for (ContenderSpec& spec : m_scene.contenders)
        if (spec.id == id && spec.generation == generation)
            spec.gain_db = gain_db;
    for (const auto& lane : m_lanes)
        if (lane->id() == id && lane->generation() == generation)
            lane->setGain(gain_db);
}

void Engine::setOffset(ContenderId id, std::uint32_t generation, double samples)
{
    for (ContenderSpec& spec : m_scene.contenders)
        if (spec.id == id && spec.generation == generation)
            spec.offset_samples = samples;
    for (const auto& lane : m_lanes)
        if (lane->id() == id && lane->generation() == generation)
            lane->setOffset(samples);
}

void Engine::setMix(ContenderId id, std::uint32_t generation, WetDry mix)
{
    for (ContenderSpec& spec : m_scene.contenders)
        if (spec.id == id && spec.generation == generation)
            spec.mix = mix;
    for (const auto& lane : m_lanes)
        if (lane->id() == id && lane->generation() == generation)
            lane->setMix(mix);
}

void Engine::setOutputDb(double level_db)
{
    m_mixer.setOutputGain(static_cast<float>(signal::dbToLinear(level_db)));
}

void Engine::play()
{
    m_mixer.play(true);
    m_clock->setPlaying(true);
    for (const auto& lanes : {m_lanes, m_before})
        for (const auto& lane : lanes)
            lane->wake();
}

void Engine::pause()
{
    m_mixer.play(false);
    m_clock->setPlaying(false);
}

/// Those that are there already, or stand in the place of one that is, must all be open, and what takes the
/// place of what is heard have its own gain; newcomers join later.
bool Engine::canOffer() const
{
    return std::ranges::all_of(m_lanes, [this](const std::shared_ptr<Lane>& lane) {
        return isNewcomer(*lane) || (lane->opened() && (lane->mayBeHeard() || lane->id() != audible()));
    });
}

/// Whether no lane of its contender plays.
bool Engine::isNewcomer(const Lane& lane) const
{
    const Arrangement* playing = m_mixer.playing();
    return !playing ||
           std::ranges::none_of(playing->lanes, [&](const auto& other) { return other->id() == lane.id(); });
}

void Engine::offer()
{
    auto next = std::make_unique<Arrangement>();
    next->timeline =
        m_course ? m_course : std::make_shared<Timeline>(nullptr, Section{0, Lane::stretch_frames}, 0);
    for (const auto& lane : m_lanes)
        if (!isNewcomer(*lane) || lane->filled() || lane->isSilent())
            next->lanes.push_back(lane);
    if (next->lanes.empty() && !m_lanes.empty() && next->timeline->isLive())
        return; // how far ahead live sound is to be is not known before there is any
    const Arrangement* playing = m_mixer.playing();
    if (playing && playing->timeline == next->timeline && playing->lanes == next->lanes)
        return; // as it is
    next->hear = m_heard_next;
    m_mixer.offer(std::move(next));
}

void Engine::applyPending()
{
    followPeriod();
    m_mixer.tidyReaders();
    (void)m_mixer.takeReleased();
    if (m_dirty && !m_mixer.isOffering() && canOffer())
        offer();
    const Arrangement* playing = m_mixer.playing();
    const bool all = playing && playing->lanes == m_lanes && (!m_course || playing->timeline == m_course);
    m_dirty = !all && !(m_lanes.empty() && !playing);
    if (all && std::exchange(m_spares_due, false))
        loadSpares();
    if (all)
        m_heard_next = no_contender;
    if (m_mixer.isOffering() || m_mixer.isFading() || m_mixer.hasReleased())
        return;
    // What was kept only because it played.
    std::vector<std::shared_ptr<Lane>> over;
    for (auto& lane : m_before)
        if (!playing || std::ranges::find(playing->lanes, lane) == playing->lanes.end())
            over.push_back(lane);
    for (auto& lane : over) {
        std::erase(m_before, lane);
        m_keeper->take(std::move(lane));
    }
}

void Engine::loadSpares()
{
    std::vector<hosting::Location> locations;
    for (const ContenderSpec& spec : m_scene.contenders)
        if (!spec.location.id.empty() && !isRendered(spec.location) && needsWorker(spec.location))
            locations.push_back(spec.location);
    m_keeper->loadSpares(std::move(locations));
}

/// A device that takes more at once needs lanes that are further ahead.
void Engine::followPeriod()
{
    const std::size_t largest = m_mixer.largestRender();
    if (largest <= m_period)
        return;
    m_period = largest;
    m_clock->setPeriod(largest);
    for (const auto& lanes : {m_lanes, m_before})
        for (const auto& lane : lanes)
            lane->wake();
}

bool Engine::isSettled() const
{
    // What fades out still needs its lanes, and changes nothing of what plays.
    return !m_dirty && !m_mixer.isOffering() && !m_mixer.hasReleased() &&
           (m_before.empty() || m_mixer.isFading());
}

std::size_t Engine::position() const
{
    return m_course ? m_course->frameOfSource(m_course->played.load(std::memory_order_relaxed)) : 0;
}

std::vector<Engine::LaneState> Engine::states() const
{
    const Arrangement* playing = m_mixer.playing();
    std::vector<LaneState> states;
    for (const ContenderSpec& spec : m_scene.contenders) {
        LaneState state;
        state.id = spec.id;
        state.generation = spec.generation;
        if (const auto lane = laneOf(spec)) {
            if (!lane->opened())
                state.loading_s = lane->ageS();
            state.plays = playing && std::ranges::find(playing->lanes, lane) != playing->lanes.end();
            state.fault = lane->fault();
            state.core_share = static_cast<double>(lane->coreShare());
            state.latency_frames = lane->latencyFrames();
        }
        states.push_back(std::move(state));
    }
    return states;
}

std::vector<float> Engine::stageGainsDb(ContenderId id) const
{
    for (const auto& lane : m_lanes)
        if (lane->id() == id)
            return lane->stageGainsDb();
    return {};
}

std::size_t Engine::readyFrames() const
{
    std::size_t ready = aheadFrames();
    const Arrangement* playing = m_mixer.playing();
    if (!playing)
        return 0;
    const std::uint64_t at = playing->timeline->played.load(std::memory_order_relaxed);
    for (const auto& lane : playing->lanes)
        if (!lane->isSilent())
            ready = std::min(ready, lane->readableFrom(at));
    return ready;
}

std::shared_ptr<TapReader> Engine::listen(TapPoint point, ContenderId id, std::size_t blocks)
{
    auto reader = std::make_shared<TapReader>(point, id, blocks);
    if (point != TapPoint::Sum) {
        m_taps->add(reader);
        return reader;
    }
    return m_mixer.addReader(reader) ? reader : nullptr;
}

} // namespace hr::audition
