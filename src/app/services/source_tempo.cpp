// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/source_tempo.h"

#include "library/store.h"
#include "signal/number_text.h"

#include <cmath>

namespace hr::app {

namespace {

QString tempoKey(const QString& file)
{
    return QStringLiteral("tempo/") + file;
}

} // namespace

SourceTempo::SourceTempo(library::Store& store, Transport& transport, SourceList& sources, SourceRhythm& rhythm,
                         Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_transport(transport), m_sources(sources), m_rhythm(rhythm),
      m_notices(notices)
{
    m_clock.start();
    connect(&m_transport, &Transport::sourceChanged, this, &SourceTempo::recall);
}

double SourceTempo::bpm() const
{
    return m_transport.sourceFile().isEmpty() ? 0 : m_sources.of(m_transport.sourceFile()).tempo_bpm;
}

void SourceTempo::recall()
{
    if (!m_to_estimate.isEmpty() && m_transport.sourceFile() == m_to_estimate) {
        m_to_estimate.clear();
        m_rhythm.find(m_transport.loop(), [this](const audition::Rhythm& rhythm) {
            if (rhythm.tempo_bpm && bpm() == 0)
                estimated(rhythm);
        });
    }
    bool kept = false;
    const double bpm = m_store.setting(tempoKey(m_transport.sourceFile())).toDouble(&kept);
    if (!kept || bpm == this->bpm())
        return;
    m_sources.setTempo(m_transport.sourceFile(), bpm);
    emit changed();
}

void SourceTempo::set(double bpm)
{
    if (m_transport.sourceFile().isEmpty())
        return;
    constexpr double step = 10; // tenths of a beat a minute
    const double rounded = std::round(bpm * step) / step;
    m_sources.setTempo(m_transport.sourceFile(), rounded);
    (void)m_notices.succeeded(m_store.setSetting(tempoKey(m_transport.sourceFile()), QString::number(rounded)));
    emit changed();
}

void SourceTempo::tap()
{
    if (const auto bpm = m_taps.tap(1e-9 * static_cast<double>(m_clock.nsecsElapsed())))
        set(*bpm);
}

void SourceTempo::estimate()
{
    m_rhythm.find(m_transport.loop(), [this](const audition::Rhythm& rhythm) {
        if (!rhythm.tempo_bpm)
            return m_notices.say(
                tr("No beat recurs clearly enough in this section: tap the tempo (T), or type it (Shift+T)."));
        estimated(rhythm);
    });
}

void SourceTempo::estimated(const audition::Rhythm& rhythm)
{
    set(*rhythm.tempo_bpm);
    m_notices.say(tr("%1 bpm, estimated from the sound with a certainty of %2 %. It may be half or twice of "
                     "what you would count.")
                      .arg(bpm())
                      .arg(std::lround(100 * rhythm.certainty)));
}

void SourceTempo::type(const QString& text)
{
    QString figure = text.trimmed().toLower();
    if (figure.endsWith(QStringLiteral("bpm")))
        figure.chop(3);
    const auto bpm = signal::typedNumber(figure.toStdString());
    const bool fits = bpm && (*bpm == 0 || (*bpm >= signal::slowest_bpm && *bpm <= signal::fastest_bpm));
    if (!fits)
        return m_notices.say(tr("“%1” is not a tempo: type %2 to %3 beats a minute, or 0 for none.")
                                 .arg(text)
                                 .arg(signal::slowest_bpm)
                                 .arg(signal::fastest_bpm));
    set(*bpm);
}

} // namespace hr::app
