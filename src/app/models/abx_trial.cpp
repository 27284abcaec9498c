// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/abx_trial.h"

#include "chain/chain_json.h"

#include <QFileInfo>
#include <algorithm>
#include <random>

namespace hr::app {

namespace {

constexpr int look_again_ms = 50;

std::string isoText(const QDateTime& time)
{
    return time.toUTC().toString(Qt::ISODate).toStdString();
}

} // namespace

AbxTrial::AbxTrial(LineUp& line_up, Transport& transport, const BenchQueue& bench, library::Store& store,
                   SourceList& sources, Notices& notices, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_transport(transport), m_bench(bench), m_store(store),
      m_sources(sources), m_notices(notices)
{
    m_ready.setInterval(look_again_ms);
    connect(&m_ready, &QTimer::timeout, this, &AbxTrial::waitUntilReady);
    connect(&m_transport, &Transport::lanesChanged, this, &AbxTrial::watch);
    connect(&m_transport, &Transport::sourceChanged, this, [this] {
        if (!isRunning())
            return;
        m_notices.say(tr("What plays (source, section or rate) was changed: the blind trial was stopped."));
        stop();
    });
}

QString AbxTrial::disturbed() const
{
    return isRunning() ? tr("A blind trial is under way: finish it, or stop it on Listen, first.") : QString();
}

QString AbxTrial::hindrance(ContenderId first, ContenderId second) const
{
    const Contender* one = m_line_up.find(first);
    const Contender* other = m_line_up.find(second);
    if (isRunning())
        return disturbed();
    if (!one || !other || one == other)
        return tr("A blind trial needs two that differ: add a candidate from Find.");
    if (!m_transport.source())
        return tr("There is no source to play: open an audio file first.");
    for (const Contender* contender : {one, other}) {
        if (!contender->isOpen() || contender->match == MatchState::Failed)
            return tr("%1 cannot be heard, so that it cannot be tried.").arg(contender->title);
        if (contender->match == MatchState::Silent)
            return tr("%1 is silent over this section: choose another.").arg(contender->title);
        if (contender->match == MatchState::Waiting)
            return tr("%1 is still being matched: try again in a moment.").arg(contender->title);
        if (std::abs(contender->apart_lu.value_or(0)) > audition::fair_within_lu)
            return tr("%1 is %2 LU louder or quieter than the reference: match it by loudness first.")
                .arg(contender->title, QString::number(std::abs(*contender->apart_lu), 'f', 1));
        if (contender->loop.spread_lu > audition::fair_within_lu)
            return tr("The loudness of %1 varies by %2 LU from pass to pass, so that it might be told by that "
                      "alone: choose a longer section.")
                .arg(contender->title, QString::number(contender->loop.spread_lu, 'f', 2));
    }
    return {};
}

double AbxTrial::apartLu() const
{
    return std::max(m_first.unfairLu(), m_second.unfairLu());
}

void AbxTrial::begin(ContenderId first, ContenderId second, int rounds)
{
    if (!hindrance(first, second).isEmpty())
        return;
    m_first = *m_line_up.find(first);
    m_second = *m_line_up.find(second);
    m_sheet.emplace(rounds, std::random_device{}());
    m_document = nullptr;
    m_started = QDateTime::currentDateTimeUtc();
    const auto passage = m_transport.passage();
    m_source = {{"title", m_sources.of(m_transport.sourceFile()).name.toStdString()},
                {"file", m_transport.sourceFile().toStdString()},
                {"first_s", passage->first_s},
                {"length_s", passage->length_s}};
    m_x_as_first = m_line_up.addTwin(first);
    m_x_as_second = m_line_up.addTwin(second);
    m_stage = Stage::GettingReady;
    hear(Which::First);
    m_ready.start();
    emit changed();
}

void AbxTrial::waitUntilReady()
{
    const auto everyone = {m_first.id, m_second.id, m_x_as_first, m_x_as_second};
    if (m_stage != Stage::GettingReady)
        return m_ready.stop();
    if (!std::ranges::all_of(everyone, [this](ContenderId id) { return m_line_up.isReady(id); }))
        return;
    m_ready.stop();
    m_stage = Stage::Asking;
    m_transport.play(true);
    emit changed();
}

/// One that fails cannot be told from silence.
void AbxTrial::watch()
{
    if (!isRunning())
        return;
    const auto concerned = {m_first.id, m_second.id, m_x_as_first, m_x_as_second};
    for (const auto& lane : m_transport.lanes())
        if (lane.fault && std::ranges::find(concerned, lane.id) != concerned.end()) {
            m_notices.say(tr("One of the two failed: the blind trial was stopped."));
            return stop();
        }
}

void AbxTrial::hear(Which which)
{
    if (!isRunning())
        return;
    m_heard = which;
    m_line_up.hear(which == Which::First    ? m_first.id
                   : which == Which::Second ? m_second.id
                   : m_sheet->xIsSecond()   ? m_x_as_second
                                            : m_x_as_first);
    emit changed();
}

void AbxTrial::answer(bool x_is_second)
{
    if (m_stage != Stage::Asking)
        return;
    m_sheet->answer(x_is_second);
    if (m_sheet->isOver())
        return finish();
    hear(Which::First);
}

void AbxTrial::stop()
{
    if (!isRunning())
        return;
    m_sheet->stop();
    finish();
}

void AbxTrial::finish()
{
    m_stage = Stage::Over;
    m_ready.stop();
    m_line_up.releaseTwins();
    if (m_sheet->answered() > 0) {
        m_document = {{"format", "honest-rack-trial"},
                      {"version", 1},
                      {"kind", "abx"},
                      {"started", isoText(m_started)},
                      {"ended", isoText(QDateTime::currentDateTimeUtc())},
                      {"first", describe(m_first)},
                      {"second", describe(m_second)},
                      {"source", m_source},
                      {"match", {{"apart_lu", apartLu()}}},
                      {"result", m_sheet->toJson()}};
        (void)m_notices.said(m_store.trials.store({0, keyOf(m_first), keyOf(m_second), m_document}));
    }
    emit changed();
}

void AbxTrial::putAway()
{
    if (m_stage != Stage::Over)
        return;
    m_stage = Stage::None;
    emit changed();
}

QString AbxTrial::keyOf(const Contender& contender) const
{
    return contender.isUntreated() ? QStringLiteral("source") : m_bench.setUpOf(contender).key();
}

nlohmann::ordered_json AbxTrial::describe(const Contender& contender) const
{
    nlohmann::ordered_json said{{"title", contender.title.toStdString()}};
    if (contender.isUntreated())
        said["untreated"] = true;
    else if (contender.chain)
        said["chain"] = chain::toJson(contender.chainNow());
    else {
        said["processor"] = contender.processor.toStdString();
        said["settings"] = m_bench.setUpOf(contender).settings;
    }
    if (contender.loudnessLufs())
        said["loudness_lufs"] = *contender.loudnessLufs();
    said["gain_db"] = contender.gain_db;
    return said;
}

std::vector<library::Trial> AbxTrial::earlier(ContenderId first, ContenderId second) const
{
    const Contender* one = m_line_up.find(first);
    const Contender* other = m_line_up.find(second);
    if (!one || !other || !one->isOpen() || !other->isOpen())
        return {};
    auto found = m_store.trials.between(keyOf(*one), keyOf(*other));
    return found ? std::move(*found) : std::vector<library::Trial>();
}

} // namespace hr::app
