// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/alternation.h"

#include "signal/tap_tempo.h"

#include <cmath>

namespace hr::app {

Alternation::Alternation(LineUp& line_up, Transport& transport, const BlindTrials& trials, SourceList& sources,
                         QObject* parent)
    : QObject(parent), m_line_up(line_up), m_transport(transport), m_trials(trials), m_sources(sources)
{
    connect(&m_transport, &Transport::positionMoved, this, &Alternation::follow);
    connect(&m_transport, &Transport::sourceChanged, this, [this] {
        m_frame.reset();
        if (m_every.unit == Unit::Bars && !hasBars())
            set({});
        followTempo();
    });
}

bool Alternation::hasBars() const
{
    return m_sources.of(m_transport.sourceFile()).tempo_bpm > 0;
}

void Alternation::setInTime(bool on)
{
    if (on == m_in_time)
        return;
    m_in_time = on;
    followTempo();
    emit changed();
}

void Alternation::followTempo()
{
    m_transport.setBar(m_in_time && hasBars() ? barS() : 0);
}

double Alternation::barS() const
{
    return signal::beats_a_bar * 60 / m_sources.of(m_transport.sourceFile()).tempo_bpm;
}

/// Of so many bars, or of the section: what is asked for in it is heard with the next.
bool Alternation::isLastBarOf(std::size_t frame, double bars) const
{
    const audition::Section loop = m_transport.loop();
    const double bar_frames = barS() * m_transport.rateHz();
    const double bar = std::floor(static_cast<double>(frame) / bar_frames);
    return std::fmod(bar + 1, bars) == 0 ||
           (bar + 1) * bar_frames >= static_cast<double>(loop.first + loop.frames) - 1;
}

void Alternation::set(const Every& every)
{
    const Every wanted = every.unit == Unit::Bars && !hasBars() ? Every() : every;
    m_frame.reset();
    m_played_s = 0;
    if (wanted == m_every)
        return;
    m_every = wanted;
    emit changed();
}

void Alternation::follow(std::size_t frame)
{
    if (m_every.count <= 0 || m_trials.isRunning() || !m_transport.isPlaying())
        return m_frame.reset();
    const auto before = std::exchange(m_frame, frame);
    if (!before || frame == *before)
        return;
    const double rate_hz = m_transport.rateHz();
    if (m_every.unit == Unit::Bars) {
        const double length_s = (m_in_time ? 1 : m_every.count) * barS();
        const auto bar = [&](std::size_t at) {
            return std::floor(static_cast<double>(at) / rate_hz / length_s);
        };
        // The loop starts over, or the next bars do; in time, the bar before has to ask for it.
        if ((frame < *before || bar(frame) != bar(*before)) &&
            (!m_in_time || isLastBarOf(frame, m_every.count)))
            hearNext();
        return;
    }
    const audition::Section loop = m_transport.loop();
    const std::size_t moved = frame > *before ? frame - *before : loop.frames - (*before - frame);
    m_played_s += static_cast<double>(moved) / rate_hz;
    if (m_played_s >= m_every.count) {
        m_played_s = std::fmod(m_played_s, m_every.count);
        hearNext();
    }
}

/// One that cannot be heard is passed over.
void Alternation::hearNext()
{
    const auto& all = m_line_up.contenders();
    const int from = std::max(0, m_line_up.placeOf(m_line_up.wanted()));
    for (std::size_t step = 1; step < all.size(); ++step) {
        const Contender& next = all[(static_cast<std::size_t>(from) + step) % all.size()];
        if (next.isOpen() && next.match == MatchState::Matched)
            return m_line_up.hear(next.id);
    }
}

} // namespace hr::app
