// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/tempo_follower.h"

#include "processors/note_value.h"

#include <utility>

namespace hr::app {

TempoFollower::TempoFollower(LineUp& line_up, Transport& transport, SourceTempo& tempo, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_transport(transport), m_tempo(tempo)
{
    for (const auto then : {&TempoFollower::tell, &TempoFollower::follow}) {
        connect(&m_tempo, &SourceTempo::changed, this, then);
        connect(&m_transport, &Transport::sourceChanged, this, then);
    }
    connect(&m_line_up, &LineUp::settingsChanged, this, &TempoFollower::follow);
}

void TempoFollower::tell()
{
    const auto& source = m_transport.source();
    if (!source || source->tempoBpm() == m_tempo.bpm())
        return;
    source->setTempo(m_tempo.bpm());
    m_line_up.tempoChanged();
}

void TempoFollower::follow()
{
    struct Due {
        ContenderId id;
        std::size_t parameter;
        double value;
        QString note;
    };
    if (std::exchange(m_following, true))
        return;           // what is set here says that settings have changed
    std::vector<Due> due; // told apart first: setting one changes what is gone through
    for (const Contender& contender : m_line_up.candidates())
        for (const auto& [parameter, note] : contender.notes) {
            const processors::ParameterInfo& info = contender.info.parameters[parameter];
            const auto value = processors::noteInUnit(note.toStdString(), m_tempo.bpm(), info.unit);
            if (contender.follows_tempo && value && info.allowed(*value) != contender.values[parameter])
                due.push_back({contender.id, parameter, info.allowed(*value), note});
        }
    for (const Due& one : due) {
        m_line_up.setValue(one.id, one.parameter, one.value);
        m_line_up.setNote(one.id, one.parameter, one.note);
    }
    m_following = false;
}

} // namespace hr::app
