// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/blind_trial.h"

#include "chain/chain_json.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr int look_again_ms = 50;

std::string isoText(const QDateTime& time)
{
    return time.toUTC().toString(Qt::ISODate).toStdString();
}

} // namespace

BlindTrial::BlindTrial(const Around& around, QObject* parent) : QObject(parent), m_around(around)
{
    m_ready.setInterval(look_again_ms);
    connect(&m_ready, &QTimer::timeout, this, &BlindTrial::waitUntilReady);
    connect(&m_around.transport, &Transport::lanesChanged, this, &BlindTrial::watch);
    connect(&m_around.transport, &Transport::sourceChanged, this, [this] {
        if (!isRunning())
            return;
        m_around.notices.say(
            tr("What plays (source, section or rate) was changed: the blind trial was stopped."));
        stop();
    });
}

QString BlindTrial::disabledReasonFor(const std::vector<ContenderId>& contenders) const
{
    if (m_around.line_up.isTried())
        return tr("A blind trial is under way: finish it, or stop it on Listen, first.");
    if (m_around.transport.isLive())
        return tr("What comes in live is never the same twice: go back to a source first.");
    if (!m_around.transport.source())
        return tr("There is no source to play: open an audio file first.");
    for (const ContenderId id : contenders) {
        const Contender* contender = m_around.line_up.find(id);
        if (!contender)
            return tr("One of them has left the line-up: choose another.");
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

double BlindTrial::apartLu() const
{
    double apart_lu = 0;
    for (const Contender& contender : m_tried)
        apart_lu = std::max(apart_lu, contender.unfairLu());
    return apart_lu;
}

void BlindTrial::start(const std::vector<ContenderId>& contenders)
{
    m_tried.clear();
    m_hidden.clear();
    for (const ContenderId id : contenders)
        m_tried.push_back(*m_around.line_up.find(id));
    m_document = nullptr;
    m_started = QDateTime::currentDateTimeUtc();
    const QString file = m_around.transport.sourceFile();
    const auto passage = m_around.transport.passage();
    m_source = {{"title", m_around.sources.of(file).name.toStdString()},
                {"file", file.toStdString()},
                {"first_s", passage->first_s},
                {"length_s", passage->length_s}};
    m_stage = Stage::GettingReady;
}

ContenderId BlindTrial::addHidden(ContenderId of, std::optional<double> anchor_hz)
{
    m_hidden.push_back(m_around.line_up.addTwin(of, anchor_hz));
    return m_hidden.back();
}

void BlindTrial::askWhenReady()
{
    m_ready.start();
    emit changed();
}

bool BlindTrial::isConcerned(ContenderId id) const
{
    return std::ranges::find(m_hidden, id) != m_hidden.end() ||
           std::ranges::find(m_tried, id, &Contender::id) != m_tried.end();
}

void BlindTrial::waitUntilReady()
{
    if (m_stage != Stage::GettingReady)
        return m_ready.stop();
    const LineUp& line_up = m_around.line_up;
    if (!std::ranges::all_of(m_hidden, [&](ContenderId id) { return line_up.isReady(id); }) ||
        !std::ranges::all_of(m_tried, [&](const Contender& c) { return line_up.isReady(c.id); }))
        return;
    m_ready.stop();
    m_stage = Stage::Asking;
    m_around.transport.play(true);
    emit changed();
}

/// One that fails cannot be told from silence.
void BlindTrial::watch()
{
    if (!isRunning())
        return;
    for (const auto& lane : m_around.transport.lanes())
        if (lane.fault && isConcerned(lane.id)) {
            m_around.notices.say(tr("One of those that are tried failed: the blind trial was stopped, and the "
                                    "round it failed in does not count."));
            return stop();
        }
}

void BlindTrial::stop()
{
    if (!isRunning())
        return;
    stopSheet();
    finish();
}

void BlindTrial::finish()
{
    m_stage = Stage::Over;
    m_ready.stop();
    m_around.line_up.releaseTwins();
    if (answered() > 0) {
        m_document = {{"format", "honest-rack-trial"},
                      {"version", 1},
                      {"started", isoText(m_started)},
                      {"ended", isoText(QDateTime::currentDateTimeUtc())}};
        m_document.update(answers());
        m_document["source"] = m_source;
        m_document["match"] = {{"apart_lu", apartLu()}};
        const auto [first, second] = keys();
        (void)m_around.notices.succeeded(m_around.store.trials.store({0, first, second, m_document}));
    }
    emit changed();
}

void BlindTrial::putAway()
{
    if (m_stage != Stage::Over)
        return;
    m_stage = Stage::None;
    emit changed();
}

std::string BlindTrial::nameOf(const Contender& contender)
{
    return contender.isUntreated() ? tr("the source").toStdString()
                                   : std::string(1, static_cast<char>('A' + contender.mark - 1));
}

QString BlindTrial::keyOf(const Contender& contender) const
{
    return contender.isUntreated() ? QStringLiteral("source") : m_around.bench.setUpOf(contender).key();
}

nlohmann::ordered_json BlindTrial::describe(const Contender& contender) const
{
    nlohmann::ordered_json said{{"title", contender.title.toStdString()}};
    if (contender.isUntreated())
        said["untreated"] = true;
    else if (contender.rendered)
        said["rendered"] = contender.rendered->file.toStdString();
    else if (contender.chain)
        said["chain"] = chain::toJson(contender.chainNow());
    else {
        said["processor"] = contender.processor.toStdString();
        said["settings"] = m_around.bench.setUpOf(contender).settings;
    }
    if (contender.loudnessLufs())
        said["loudness_lufs"] = *contender.loudnessLufs();
    said["gain_db"] = contender.gain_db;
    if (!contender.isUntreated() && m_around.line_up.use() == LineUp::Use::Send)
        said["return_db"] = contender.return_db;
    else if (contender.amount_percent != 100)
        said["amount_percent"] = contender.amount_percent;
    return said;
}

std::vector<library::Trial> BlindTrial::earlier() const
{
    if (m_tried.empty())
        return {};
    const auto [first, second] = keys();
    auto found = m_around.store.trials.between(first, second);
    return found ? std::move(*found) : std::vector<library::Trial>();
}

} // namespace hr::app
