// SPDX-License-Identifier: GPL-3.0-or-later
#include "audio/transport.h"

#include "audition/generated_source.h"
#include "signal/levels.h"

#include <QFile>
#include <QFileInfo>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr int tick_ms = 33;
constexpr int ticks_after = 20; // until the meters have come to rest
constexpr double longest_first_s = 600;
constexpr double first_section_s = 120;

/// What repeats at first: all of it, unless it is so long that nobody could compare by it.
audition::Section firstSection(const audition::Source& source)
{
    return source.seconds() > longest_first_s
               ? audition::Section{0, static_cast<std::size_t>(first_section_s * source.rateHz())}
               : source.whole();
}

std::size_t framesOf(double seconds, double rate_hz)
{
    constexpr double most_frames = 1e15; // whatever a session's file says
    return static_cast<std::size_t>(std::llround(std::clamp(seconds * rate_hz, 0.0, most_frames)));
}

float gainOf(double level_db)
{
    return static_cast<float>(
        signal::dbToLinear(std::clamp(level_db, -Transport::most_level_db, Transport::most_level_db)));
}

audition::Section sectionOf(const audition::Source& source, const std::optional<Passage>& passage)
{
    return audition::fitted(passage ? audition::Section{framesOf(passage->first_s, source.rateHz()),
                                                        framesOf(passage->length_s, source.rateHz()),
                                                        gainOf(passage->level_db)}
                                    : firstSection(source),
                            source.frames(), audition::Lane::stretch_frames);
}

bool sameLanes(const std::vector<audition::Engine::LaneState>& a,
               const std::vector<audition::Engine::LaneState>& b)
{
    return std::ranges::equal(a, b, [](const auto& x, const auto& y) {
        return x.id == y.id && x.generation == y.generation && x.plays == y.plays &&
               x.fault.has_value() == y.fault.has_value() &&
               static_cast<int>(x.loading_s.value_or(-1)) == static_cast<int>(y.loading_s.value_or(-1));
    });
}

} // namespace

Transport::Transport(OutputSwitch& output, Jobs& jobs, QObject* parent)
    : QObject(parent), m_jobs(jobs), m_output(output), m_rate_hz(output.rateHz())
{
    m_engine = makeEngine(m_rate_hz);
    m_meter = std::make_unique<OutputMeter>(*m_engine);
    m_timer.setInterval(tick_ms);
    connect(&m_timer, &QTimer::timeout, this, &Transport::tick);
    connect(&m_output, &OutputSwitch::opened, this, &Transport::outputOpened);
    m_output.feed(m_engine);
}

Transport::~Transport() = default;

/// One whose lanes call applyPending() here, from their threads, for as long as this lives.
std::shared_ptr<audition::Engine> Transport::makeEngine(double rate_hz)
{
    const auto waiting = std::make_shared<std::atomic<bool>>(false);
    const auto call = m_late.to([this, waiting] {
        waiting->store(false);
        applyPending();
    });
    return std::make_shared<audition::Engine>(rate_hz, [waiting, call] {
        if (!waiting->exchange(true))
            call();
    });
}

std::optional<Passage> Transport::passage() const
{
    if (!source())
        return std::nullopt;
    return Passage{static_cast<double>(loop().first) / rateHz(), static_cast<double>(loop().frames) / rateHz(),
                   levelDb()};
}

void Transport::load(const QString& file, std::optional<Passage> passage)
{
    playLive(nullptr);
    load(LoadRequest{file, passage});
}

void Transport::load(const LoadRequest& asked)
{
    m_asked = asked;
    const auto source = std::make_shared<Result<std::shared_ptr<const audition::Source>>>();
    JobOrder job;
    job.title = tr("Open %1").arg(QFileInfo(asked.file).fileName());
    job.line = QStringLiteral("source");
    job.urgent = true;
    job.supersedes = true;
    job.owner = this;
    job.work = [source, file = asked.file, rate_hz = m_rate_hz](const JobControl&) {
        *source = audition::loadSource(QFile::encodeName(file).toStdString(), rate_hz);
    };
    job.finished = [this, asked, source](JobEnd end) {
        if (end == JobEnd::Cancelled)
            return;
        m_asked.reset();
        if (*source)
            return loaded(asked, **source);
        emit notice(QString::fromStdString(source->error().text));
        if (m_rate_hz != rateHz())
            followRate(!asked.for_another_rate);
    };
    m_jobs.add(std::move(job));
}

/// The engine to the rate of the output that waits: with the source that plays, where it can be had at that
/// rate.
void Transport::followRate(bool with_source)
{
    if (with_source && source())
        return load(LoadRequest{m_file, passage(), true});
    m_file.clear();
    replaceEngine(nullptr, {}, {});
}

void Transport::loaded(const LoadRequest& asked, const std::shared_ptr<const audition::Source>& source)
{
    if (asked.for_another_rate) {
        const double position_s = static_cast<double>(position()) / rateHz();
        // Its section or level may have been changed while it was being loaded.
        return replaceEngine(source, this->source() ? passage() : asked.passage, position_s);
    }
    m_file = asked.file;
    m_problem_said = false;
    if (source->rateHz() != rateHz()) {
        replaceEngine(source, asked.passage, {});
    } else {
        audition::Scene scene = m_engine->scene();
        scene.source = source;
        scene.loop = sectionOf(*source, asked.passage);
        m_engine->setScene(std::move(scene), sectionOf(*source, asked.passage).first);
        keepTicking();
        emit sourceChanged();
    }
    if (!source->remark().empty())
        emit notice(tr("%1: %2.").arg(m_file, QString::fromStdString(source->remark())));
    else if (!asked.passage && loop().frames != source->frames())
        emit notice(
            tr("%1 is long: its first two minutes repeat. Drag in its waveform to choose others.").arg(m_file));
}

void Transport::outputOpened(double rate_hz)
{
    m_rate_hz = rate_hz;
    if (rate_hz == rateHz())
        m_output.feed(m_engine); // whatever is being loaded: silence may be heard meanwhile
    if (m_asked)
        load(LoadRequest(*m_asked)); // it may be of the old rate
    else if (rate_hz != rateHz())
        followRate(true);
}

void Transport::replaceEngine(const std::shared_ptr<const audition::Source>& source,
                              std::optional<Passage> passage, std::optional<double> position_s)
{
    audition::Scene scene = m_engine->scene();
    scene.source = source;
    scene.loop = source ? sectionOf(*source, passage) : audition::Section();
    const bool was_live = isLive();
    if (scene.live && scene.live->rateHz() != m_rate_hz)
        scene.live.reset();
    const bool stays_live = scene.live != nullptr;
    const bool playing = isPlaying();
    m_underruns_before += m_engine->underruns();
    // It ends last, so that what is loaded of its contenders is kept for the new one.
    const auto before = std::exchange(m_engine, makeEngine(m_rate_hz));
    m_meter = std::make_unique<OutputMeter>(*m_engine);
    m_engine->hear(m_wanted);
    m_engine->setMonitor(m_monitor);
    m_engine->setBar(m_bar_s * m_rate_hz);
    m_engine->setReference(m_reference);
    setAccompaniment(m_accompaniment, m_side_gains);
    m_engine->hearDifference(m_difference && !stays_live);
    m_engine->setScene(scene, position_s ? framesOf(*position_s, m_rate_hz) : scene.loop.first);
    if (playing)
        m_engine->play();
    m_output.feed(m_engine);
    keepTicking();
    emit engineReplaced();
    emit sourceChanged();
    if (was_live != stays_live)
        emit liveChanged();
}

void Transport::setMonitor(const audition::Monitor& monitor)
{
    if (monitor == m_monitor)
        return;
    m_monitor = monitor;
    m_engine->setMonitor(monitor);
    emit monitorChanged();
}

void Transport::hearDifference(bool on)
{
    if (on == m_difference)
        return;
    m_difference = on;
    m_engine->hearDifference(on && !isLive());
    emit monitorChanged();
}

void Transport::setLoop(audition::Section loop)
{
    if (!source())
        return;
    audition::Scene scene = m_engine->scene();
    loop.gain = scene.loop.gain;
    scene.loop = loop;
    m_engine->setScene(std::move(scene));
    keepTicking();
    emit sourceChanged();
}

void Transport::setPassage(const Passage& passage)
{
    if (source())
        setLoop(sectionOf(*source(), passage));
}

void Transport::setLevel(double level_db)
{
    audition::Scene scene = m_engine->scene();
    if (!scene.source || gainOf(level_db) == scene.loop.gain)
        return;
    scene.loop.gain = gainOf(level_db);
    m_engine->setScene(std::move(scene));
    keepTicking();
    emit sourceChanged();
}

double Transport::levelDb() const
{
    constexpr double step = 100; // what single precision adds is not shown
    return std::round(signal::linearToDb(static_cast<double>(loop().gain)) * step) / step;
}

void Transport::playLive(std::shared_ptr<const audition::RecentInput> input)
{
    if (input == m_engine->scene().live)
        return;
    if (!isLive())
        m_left_at = position();
    audition::Scene scene = m_engine->scene();
    scene.live = std::move(input);
    const bool is_back = !scene.live && scene.source;
    m_engine->hearDifference(m_difference && !scene.live); // nothing is in step
    m_engine->setScene(std::move(scene), is_back ? std::optional(m_left_at) : std::nullopt);
    keepTicking();
    emit liveChanged();
}

audition::Section Transport::heardLoop() const
{
    return isLive() ? audition::Timeline::wrapOf(rateHz()) : loop();
}

void Transport::play(bool on)
{
    on ? m_engine->play() : m_engine->pause();
    keepTicking();
    emit playingChanged(on);
}

void Transport::seek(std::size_t frame)
{
    m_left_at = frame;
    m_engine->seek(frame);
    keepTicking();
}

void Transport::setContenders(std::vector<audition::ContenderSpec> contenders)
{
    audition::Scene scene = m_engine->scene();
    scene.contenders = std::move(contenders);
    m_engine->setScene(std::move(scene));
    keepTicking();
}

void Transport::setParameter(audition::ContenderId id, std::size_t index, double value)
{
    m_engine->setParameter(id, index, value);
}

void Transport::setGain(audition::ContenderId id, std::uint32_t generation, std::optional<double> gain_db)
{
    m_engine->setGain(id, generation, gain_db);
    keepTicking(); // it may be heard from now on
}

void Transport::setOffset(audition::ContenderId id, std::uint32_t generation, double samples)
{
    m_engine->setOffset(id, generation, samples);
}

void Transport::setMix(audition::ContenderId id, std::uint32_t generation, audition::WetDry mix)
{
    m_engine->setMix(id, generation, mix);
}

void Transport::setAccompaniment(audition::ContenderId id, chain::SideGains gains)
{
    m_accompaniment = id;
    m_side_gains = gains;
    m_engine->setAccompaniment(id, static_cast<float>(gains.left), static_cast<float>(gains.right));
}

void Transport::setReference(audition::ContenderId id)
{
    m_reference = id;
    m_engine->setReference(id);
}

void Transport::hear(audition::ContenderId id, bool gently)
{
    m_wanted = id;
    if (m_restarting && source() && isPlaying() && !isLive())
        m_engine->hearFrom(id, loop().first, gently);
    else
        m_engine->hear(id, gently);
    keepTicking();
}

void Transport::setRestarting(bool on)
{
    if (on == m_restarting)
        return;
    m_restarting = on;
    emit monitorChanged();
}

void Transport::setBar(double bar_s)
{
    m_bar_s = bar_s;
    m_engine->setBar(bar_s * rateHz());
}

Underruns Transport::underruns()
{
    return {m_underruns_before + m_engine->underruns(), m_output.xruns(isPlaying())};
}

void Transport::applyPending()
{
    m_engine->applyPending();
    if (auto lanes = m_engine->states(); !sameLanes(lanes, m_lanes_told)) {
        m_lanes_told = std::move(lanes);
        emit lanesChanged();
    }
    if (audible() != m_audible_told) {
        m_audible_told = audible();
        emit audibleChanged();
    }
}

/// There is nothing to look at while nothing plays and nothing is under way: then the timer rests.
void Transport::keepTicking()
{
    m_ticks_left = ticks_after;
    if (!m_timer.isActive())
        m_timer.start();
}

void Transport::tick()
{
    applyPending();
    if (isPlaying() || !m_engine->isSettled())
        m_ticks_left = ticks_after;
    else if (--m_ticks_left == 0)
        m_timer.stop();
    emit positionMoved(position());
    emit levelsMeasured({m_meter->read(), m_engine->takeLimiterActed(), underruns()});
    if (source() && !m_problem_said && !source()->problem().empty()) {
        m_problem_said = true;
        emit notice(QString::fromStdString(source()->problem()));
    }
}

} // namespace hr::app
