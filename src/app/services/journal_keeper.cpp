// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/journal_keeper.h"

#include "processors/value_text.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr int heard_rest_ms = 2000;
constexpr int settings_rest_ms = 3000;
constexpr int measured_rest_ms = 4000; // many in a row are one line
constexpr int most_named = 4;          // of what was turned, or measured

QString named(const Contender& contender)
{
    return contender.isUntreated() ? QObject::tr("the source")
                                   : QChar(QLatin1Char('A').unicode() + contender.mark - 1) + QLatin1Char(' ') +
                                         contender.calledHere();
}

QString withUnit(const processors::ParameterInfo& parameter, double value)
{
    return QString::fromStdString(processors::valueWithUnit(parameter, value));
}

} // namespace

JournalKeeper::JournalKeeper(library::Store& store, LineUp& line_up, Transport& transport, SourceList& sources,
                             BlindTrials& trials, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_line_up(line_up), m_transport(transport), m_sources(sources),
      m_trials(trials), m_notices(notices)
{
    for (QTimer* timer : {&m_heard_soon, &m_settings_soon, &m_measured_soon})
        timer->setSingleShot(true);
    m_heard_soon.setInterval(heard_rest_ms);
    m_settings_soon.setInterval(settings_rest_ms);
    m_measured_soon.setInterval(measured_rest_ms);
    connect(&m_measured_soon, &QTimer::timeout, this, &JournalKeeper::noteMeasured);
    connect(&m_heard_soon, &QTimer::timeout, this, &JournalKeeper::noteHeard);
    connect(&m_settings_soon, &QTimer::timeout, this, &JournalKeeper::noteSettings);
    const auto heard = [this] {
        if (!m_transport.isPlaying() || m_trials.isRunning() || !m_line_up.find(m_transport.audible()))
            return;
        m_heard.insert(m_transport.audible());
        m_heard_soon.start();
    };
    connect(&m_transport, &Transport::audibleChanged, this, heard);
    connect(&m_transport, &Transport::playingChanged, this, heard); // who is audible from the beginning
    connect(&m_transport, &Transport::sourceChanged, this, [this] { m_heard.clear(); });
    connect(&m_line_up, &LineUp::contendersChanged, this,
            [this] { std::erase_if(m_heard, [this](ContenderId id) { return !m_line_up.find(id); }); });
    const auto turned = [this](ContenderId id) {
        const Contender* contender = m_line_up.find(id);
        if (!contender)
            return;
        const auto [known, is_new] = m_at_rest.try_emplace(id, contender->values);
        m_before.try_emplace(id, is_new ? contender->values : known->second);
        m_settings_soon.start();
    };
    connect(&m_line_up, &LineUp::contendersChanged, this, [this] {
        for (const Contender& contender : m_line_up.candidates())
            m_at_rest.try_emplace(contender.id, contender.values);
    });
    connect(&m_line_up, &LineUp::valueChanged, this, turned);
    connect(&m_line_up, &LineUp::settingsChanged, this, turned);
    connect(&m_store.changes(), &library::Changes::measured, this, [this](const QString& processor) {
        const auto entry = m_store.catalogue.entry(processor);
        const QString title = entry ? entry->title() : tr("a chain");
        if (!m_measured.contains(title))
            m_measured << title;
        m_measured_soon.start();
    });
    connect(&m_trials, &BlindTrials::changed, this, [this] {
        const BlindTrial* trial = m_trials.current();
        const bool over = trial && trial->stage() == BlindTrial::Stage::Over && !trial->document().is_null();
        if (over && trial != m_noted_trial) {
            const auto result = trial->document().value("result", nlohmann::ordered_json::object());
            QStringList who;
            for (const Contender& contender : trial->tried())
                who << named(contender);
            note(QStringLiteral("trial"),
                 tr("blind trial, %1: %2")
                     .arg(who.join(QStringLiteral(", ")),
                          QString::fromStdString(result.value("sentence", std::string()))));
        }
        m_noted_trial = over ? trial : nullptr;
    });
}

std::vector<library::JournalLine> JournalKeeper::newest(int count, const QString& words) const
{
    auto lines = m_store.journal.newest(count, words);
    return m_notices.succeeded(lines) ? std::move(*lines) : std::vector<library::JournalLine>();
}

void JournalKeeper::note(const QString& kind, const QString& text)
{
    if (m_notices.succeeded(m_store.journal.note(kind, text)))
        emit noted();
}

void JournalKeeper::noteMeasured()
{
    const auto more = m_measured.size() - most_named;
    const QString named =
        m_measured.first(std::min<qsizetype>(most_named, m_measured.size())).join(QStringLiteral(", "));
    note(QStringLiteral("measured"),
         more > 0 ? tr("measured %1, and %2 more").arg(named).arg(more) : tr("measured %1").arg(named));
    m_measured.clear();
}

/// Once two or more of the line-up have been heard on the same section, and nobody switches any more.
void JournalKeeper::noteHeard()
{
    if (m_heard.size() < 2 || !m_transport.passage())
        return;
    QStringList who;
    for (const Contender& contender : m_line_up.contenders())
        if (m_heard.contains(contender.id))
            who << named(contender);
    const auto fair = m_line_up.fairWithinLu();
    const Passage passage = *m_transport.passage();
    const QString text = tr("heard %1 on %2, %3 to %4 s, %5")
                             .arg(who.join(QStringLiteral(", ")), m_sources.of(m_transport.sourceFile()).name,
                                  QString::number(passage.first_s, 'f', 1),
                                  QString::number(passage.first_s + passage.length_s, 'f', 1),
                                  fair && m_line_up.isMatchedByLoudness()
                                      ? tr("fair within %1 LU").arg(QString::number(*fair, 'f', 2))
                                      : tr("not matched by loudness"));
    if (text != m_last_heard)
        note(QStringLiteral("heard"), text);
    m_last_heard = text;
}

void JournalKeeper::noteSettings()
{
    for (const auto& [id, before] : m_before) {
        const Contender* contender = m_line_up.find(id);
        if (!contender || contender->values.size() != before.size())
            continue;
        QStringList turned;
        for (std::size_t i = 0; i < before.size() && i < contender->info.parameters.size(); ++i)
            if (before[i] != contender->values[i]) {
                const auto& parameter = contender->info.parameters[i];
                turned << tr("%1 %2 → %3")
                              .arg(QString::fromStdString(parameter.name), withUnit(parameter, before[i]),
                                   withUnit(parameter, contender->values[i]));
            }
        if (turned.isEmpty())
            continue;
        const auto more = turned.size() - most_named;
        note(QStringLiteral("settings"),
             more > 0 ? tr("%1: %2, and %3 more")
                            .arg(named(*contender), turned.first(most_named).join(QStringLiteral(", ")))
                            .arg(more)
                      : tr("%1: %2").arg(named(*contender), turned.join(QStringLiteral(", "))));
        m_at_rest[id] = contender->values;
    }
    m_before.clear();
}

} // namespace hr::app
