// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/line_up.h"

#include "exchange/chain_file.h"
#include "processors/settings.h"
#include "processors/value_text.h"

#include <QFileInfo>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr int settle_ms = 120;
constexpr double longest_first_s = 600;
constexpr double first_section_s = 120;
/// What is not matched yet is held back rather than heard unmatched.
constexpr double held_back_db = -120;

/// What repeats at first: all of it, unless it is so long that nobody could compare by it.
audition::Section firstSection(const audition::Source& source)
{
    return source.seconds() > longest_first_s
               ? audition::Section{0, static_cast<std::size_t>(first_section_s * source.rateHz())}
               : source.whole();
}

} // namespace

std::vector<processors::Setting> Contender::settings() const
{
    std::vector<processors::Setting> changed;
    for (std::size_t i = 0; i < values.size(); ++i)
        if (values[i] != info.parameters[i].default_value)
            changed.push_back({info.parameters[i].key, values[i]});
    return changed;
}

chain::Chain Contender::chainNow() const
{
    return chain::with(*chain, info, values);
}

library::CollectionItem Contender::item() const
{
    return chain ? itemOf(chainNow()) : library::CollectionItem{0, QStringLiteral("processor"), id, settings()};
}

library::CollectionItem itemOf(const chain::Chain& chain)
{
    return {0,
            QStringLiteral("chain"),
            QString::fromStdString(chain.name),
            {},
            QString::fromStdString(chain::toText(chain))};
}

LineUp::LineUp(AudioSession& audio, library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_audio(audio), m_store(store), m_jobs(jobs)
{
    Contender reference;
    reference.title = tr("Untreated source");
    reference.maker = tr("the reference");
    m_contenders.push_back(reference);
    m_tickets.push_back(0);
    m_settle.setSingleShot(true);
    m_settle.setInterval(settle_ms);
    connect(&m_settle, &QTimer::timeout, this, &LineUp::startMatching);
    connect(&m_audio, &AudioSession::levelsMeasured, this, &LineUp::checkFaults);
    updateEngine();
}

int LineUp::add(const QString& id, const std::vector<processors::Setting>& settings, int lane)
{
    if (count() > most_candidates) {
        emit notice(tr("The line-up holds eight candidates: remove one first."));
        return 0;
    }
    auto entry = m_store.catalogue.entry(id);
    auto build = entry ? fittingBuild(*entry) : entry;
    auto info = build ? m_store.catalogue.info(build->id)
                      : Result<processors::ProcessorInfo>(tl::make_unexpected(build.error()));
    if (!info) {
        emit notice(QString::fromStdString(info.error().text));
        return 0;
    }
    if (build->state == library::State::Quarantined) {
        emit notice(tr("%1 is in quarantine and cannot be heard: its particulars on Find say why.")
                        .arg(entry->title()));
        return 0;
    }
    Contender contender;
    contender.id = id;
    contender.title = entry->title();
    contender.maker = entry->maker;
    contender.info = std::move(*info);
    contender.location = {build->id.toStdString(), build->bundle.toStdString()};
    contender.values = processors::defaultValues(contender.info);
    apply(contender, settings);
    return insert(std::move(contender), lane);
}

/// Of the builds joined under it, the one for the source's channels.
Result<library::Entry> LineUp::fittingBuild(const library::Entry& entry) const
{
    auto joined = m_store.builds.joined();
    if (!joined)
        return tl::make_unexpected(joined.error());
    std::vector<library::Entry> builds{entry};
    for (const QString& id : joined->keys(entry.id))
        if (auto build = m_store.catalogue.entry(id))
            builds.push_back(std::move(*build));
    return *library::fittingBuild(builds, m_source ? static_cast<int>(m_source->fileChannels()) : 2);
}

void LineUp::apply(Contender& contender, const std::vector<processors::Setting>& settings)
{
    QStringList clamped;
    for (const processors::Setting& s : settings)
        if (const auto index = contender.info.parameterIndex(s.key)) { // a newer version may lack it
            const processors::ParameterInfo& p = contender.info.parameters[*index];
            contender.values[*index] = std::clamp(s.value, p.minimum, p.maximum);
            if (contender.values[*index] != s.value)
                clamped << tr("%1 to %2")
                               .arg(QString::fromStdString(p.name),
                                    QString::fromStdString(processors::valueText(p, contender.values[*index])));
        }
    if (!clamped.isEmpty())
        emit notice(tr("%1: values beyond the range were brought inside it, %2.")
                        .arg(contender.title, clamped.join(QStringLiteral(", "))));
}

int LineUp::insert(Contender contender, int lane)
{
    const int at = lane > 0 && lane < count() ? lane : count();
    m_contenders.insert(m_contenders.begin() + at, std::move(contender));
    m_tickets.insert(m_tickets.begin() + at, 0);
    if (m_heard >= at)
        ++m_heard;
    updateEngine();
    scheduleMatch(at);
    emit contendersChanged();
    emit heardChanged(m_heard);
    return at;
}

void LineUp::addChainFile(const QString& file)
{
    auto chain = exchange::readChain(file.toStdString());
    if (!chain)
        emit notice(QString::fromStdString(chain.error().text));
    else
        addChain(*chain);
}

void LineUp::addChain(const chain::Chain& chain)
{
    if (count() > most_candidates) {
        emit notice(tr("The line-up holds eight candidates: remove one first."));
        return;
    }
    const chain::Placed placed = chain::place(chain, [this](const std::string& id) {
        return m_store.catalogue.location(QString::fromStdString(id));
    });
    const auto info = std::make_shared<hosting::FaultOr<processors::ProcessorInfo>>();
    JobOrder job;
    job.title = tr("Open the chain %1").arg(QString::fromStdString(chain.name));
    job.urgent = true;
    job.owner = this;
    job.work = [info, location = placed.location](const JobControl&) {
        auto opened = hosting::openInstance(location);
        *info = opened ? hosting::FaultOr<processors::ProcessorInfo>((*opened)->info())
                       : tl::make_unexpected(opened.error());
    };
    job.finished = [this, info, chain, placed](bool ran) {
        if (ran)
            chainOpened(chain, placed, *info);
    };
    m_jobs.add(std::move(job));
}

void LineUp::chainOpened(const chain::Chain& chain, const chain::Placed& placed,
                         const hosting::FaultOr<processors::ProcessorInfo>& info)
{
    const QString name = QString::fromStdString(chain.name);
    if (!info) {
        emit notice(tr("The chain %1 %2.").arg(name, QString::fromStdString(hosting::sentence(info.error()))));
        return;
    }
    auto values = chain::values(chain, *info);
    if (!values) {
        emit notice(
            tr("The chain %1 cannot be used. %2").arg(name, QString::fromStdString(values.error().text)));
        return;
    }
    if (count() > most_candidates)
        return;
    QStringList missing;
    for (const std::string& id : placed.missing)
        missing << QString::fromStdString(id);
    if (!missing.isEmpty())
        emit notice(tr("The chain %1 goes round what is not installed: %2.")
                        .arg(name, missing.join(QStringLiteral(", "))));
    Contender contender;
    contender.id = QString::fromStdString(placed.location.id);
    contender.title = name;
    contender.maker = tr("chain of %1").arg(chain.stages.size());
    contender.info = *info;
    contender.location = placed.location;
    contender.values = *values;
    contender.chain = chain;
    insert(std::move(contender), 0);
}

void LineUp::remove(int lane)
{
    if (lane < 1 || lane >= count())
        return;
    m_contenders.erase(m_contenders.begin() + lane);
    m_tickets.erase(m_tickets.begin() + lane);
    if (m_heard == lane)
        m_heard = 0;
    else if (m_heard > lane)
        --m_heard;
    updateEngine();
    applyGains();
    emit contendersChanged();
    emit matchChanged();
    emit heardChanged(m_heard);
}

void LineUp::setValue(int lane, int parameter, double value)
{
    auto& contender = m_contenders[static_cast<std::size_t>(lane)];
    contender.values[static_cast<std::size_t>(parameter)] = value;
    m_audio.engine().setParameter(static_cast<std::size_t>(lane), static_cast<std::size_t>(parameter), value);
    scheduleMatch(lane);
    emit valueChanged(lane, parameter);
}

void LineUp::hear(int lane)
{
    if (lane < 0 || lane >= count() || lane == m_heard)
        return;
    m_heard = lane;
    m_audio.engine().hear(static_cast<std::size_t>(lane));
    emit heardChanged(lane);
}

void LineUp::loadSource(const QString& file, std::optional<audition::Section> loop)
{
    const double rate_hz = m_audio.rateHz();
    const auto loaded = std::make_shared<Result<std::shared_ptr<const audition::Source>>>();
    JobOrder job;
    job.title = tr("Open %1").arg(QFileInfo(file).fileName());
    job.line = QStringLiteral("source"); // so that the last one asked for wins
    job.urgent = true;
    job.owner = this;
    job.work = [loaded, file, rate_hz](const JobControl&) {
        *loaded = audition::Source::load(file.toStdString(), rate_hz);
    };
    job.finished = [this, loaded, file, loop](bool ran) {
        if (!ran)
            return;
        if (!*loaded) {
            emit notice(QString::fromStdString(loaded->error().text));
            return;
        }
        setSource(**loaded, file, loop);
    };
    m_jobs.add(std::move(job));
}

void LineUp::setSource(const std::shared_ptr<const audition::Source>& source, const QString& file,
                       const std::optional<audition::Section>& loop)
{
    m_source = source;
    m_source_file = file;
    m_loop = audition::fitted(loop.value_or(firstSection(*m_source)), m_source->frames(),
                              audition::Lane::stretch_frames);
    m_problem_said = false;
    m_audio.engine().setSource(m_source, m_loop);
    fitBuilds();
    for (int lane = 0; lane < count(); ++lane)
        scheduleMatch(lane);
    if (!m_source->remark().empty())
        emit notice(tr("%1: %2.").arg(file, QString::fromStdString(m_source->remark())));
    else if (!loop && m_loop != m_source->whole())
        emit notice(
            tr("%1 is long: its first two minutes repeat. Drag in its waveform to choose others.").arg(file));
    emit sourceChanged();
}

/// For another number of channels another build may be the one to take.
void LineUp::fitBuilds()
{
    bool changed = false;
    for (Contender& contender : m_contenders) {
        if (contender.id.isEmpty() || contender.chain)
            continue;
        auto entry = m_store.catalogue.entry(contender.id);
        auto build = entry ? fittingBuild(*entry) : entry;
        auto info = build ? m_store.catalogue.info(build->id)
                          : Result<processors::ProcessorInfo>(tl::make_unexpected(build.error()));
        if (!info || contender.location.id == info->id)
            continue;
        const auto settings = contender.settings();
        contender.info = std::move(*info);
        contender.location = {build->id.toStdString(), build->bundle.toStdString()};
        contender.values = processors::defaultValues(contender.info);
        apply(contender, settings);
        changed = true;
    }
    if (changed) {
        updateEngine();
        emit contendersChanged();
    }
}

void LineUp::setLoop(audition::Section loop)
{
    if (!m_source)
        return;
    m_audio.engine().setLoop(loop);
    m_loop = m_audio.engine().loop();
    for (int lane = 0; lane < count(); ++lane)
        scheduleMatch(lane);
    emit sourceChanged();
}

void LineUp::updateEngine()
{
    std::vector<audition::LaneSpec> lanes;
    for (const Contender& contender : m_contenders)
        lanes.push_back({contender.location, contender.values});
    m_audio.engine().setLineUp(lanes);
    m_audio.engine().hear(static_cast<std::size_t>(m_heard));
    applyGains();
}

void LineUp::scheduleMatch(int lane)
{
    m_tickets[static_cast<std::size_t>(lane)] = ++m_next_ticket;
    m_contenders[static_cast<std::size_t>(lane)].match = MatchState::Waiting;
    m_settle.start();
    emit matchChanged();
}

void LineUp::startMatching()
{
    if (!m_source)
        return;
    for (int lane = 0; lane < count(); ++lane) {
        const Contender& contender = at(lane);
        const quint64 ticket = m_tickets[static_cast<std::size_t>(lane)];
        if (contender.match != MatchState::Waiting)
            continue;
        ++m_matching;
        const auto result = std::make_shared<hosting::FaultOr<audition::LoopLoudness>>();
        JobOrder job;
        job.urgent = true;
        job.owner = this;
        job.work = [result, source = m_source, loop = m_loop, location = contender.location,
                    values = contender.values](const JobControl& control) {
            *result = location.id.empty()
                          ? hosting::FaultOr<audition::LoopLoudness>(audition::measureLoop(*source, loop))
                          : audition::measureLoop(*source, loop, location, values, control.cancelled());
        };
        job.finished = [this, ticket, result](bool) { matched(ticket, *result); };
        m_jobs.add(std::move(job));
    }
}

void LineUp::matched(quint64 ticket, const hosting::FaultOr<audition::LoopLoudness>& result)
{
    --m_matching;
    // Lanes may have moved since: the ticket finds the one it was for.
    const auto found = std::ranges::find(m_tickets, ticket);
    if (found == m_tickets.end()) {
        emit matchChanged();
        return; // changed again meanwhile
    }
    Contender& contender = m_contenders[static_cast<std::size_t>(found - m_tickets.begin())];
    if (!result) {
        contender.match = MatchState::Failed;
        contender.loudness_lufs.reset();
        contender.fault = QString::fromStdString(hosting::sentence(result.error()));
    } else {
        contender.loudness_lufs = result->loudness_lufs;
        contender.spread_lu = result->spread_lu;
        contender.match = result->loudness_lufs ? MatchState::Matched : MatchState::Silent;
        contender.fault.clear();
    }
    applyGains();
    emit matchChanged();
}

void LineUp::applyGains()
{
    std::vector<std::optional<double>> loudness;
    for (const Contender& contender : m_contenders)
        loudness.push_back(contender.loudness_lufs);
    const auto gains = audition::matchingGainsDb(loudness);
    for (std::size_t i = 0; i < m_contenders.size(); ++i) {
        m_contenders[i].gain_db = gains[i];
        const bool known =
            m_contenders[i].loudness_lufs || m_contenders[i].match == MatchState::Silent || i == 0;
        m_audio.engine().setGainDb(i, known ? gains[i] : held_back_db);
    }
}

void LineUp::checkFaults()
{
    if (m_source && !m_problem_said && !m_source->problem().empty()) {
        m_problem_said = true;
        emit notice(QString::fromStdString(m_source->problem()));
    }
    bool changed = false;
    for (std::size_t i = 1; i < m_contenders.size(); ++i) {
        const auto fault = m_audio.engine().fault(i);
        if (!fault || !m_contenders[i].fault.isEmpty())
            continue;
        m_contenders[i].fault = QString::fromStdString(hosting::sentence(*fault));
        m_contenders[i].match = MatchState::Failed;
        emit notice(tr("%1 %2. It is silent now; the others play on.")
                        .arg(m_contenders[i].title, m_contenders[i].fault));
        changed = true;
    }
    if (changed)
        emit matchChanged();
}

std::optional<double> LineUp::commonLufs() const
{
    std::optional<double> common;
    for (const Contender& contender : m_contenders)
        if (contender.loudness_lufs)
            common = std::min(common.value_or(*contender.loudness_lufs), *contender.loudness_lufs);
    return common;
}

std::optional<double> LineUp::fairWithinLu() const
{
    if (isMatching() || !commonLufs())
        return std::nullopt;
    double worst = 0;
    for (const Contender& contender : m_contenders)
        worst = std::max(worst, contender.spread_lu);
    return worst;
}

} // namespace hr::app
