// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/live_tap.h"

namespace hr::app {

using audition::TapBlock;
using audition::TapPoint;

LiveTap::Live::Live(double rate_hz, const audition::Section& loop)
    : levels(rate_hz), in_spectrum(rate_hz), out_spectrum(rate_hz), gain(rate_hz, remembered_s), wave(loop),
      pitch(rate_hz)
{
}

LiveTap::LiveTap(Transport& transport, LineUp& line_up, QObject* parent)
    : QObject(parent), m_transport(transport), m_line_up(line_up)
{
    connect(&m_transport, &Transport::positionMoved, this, &LiveTap::follow);
    connect(&m_transport, &Transport::engineReplaced, this, &LiveTap::end);
    connect(&m_transport, &Transport::sourceChanged, this, &LiveTap::end);
    connect(&m_transport, &Transport::liveChanged, this, &LiveTap::end);
}

void LiveTap::watch(QObject* viewer, bool on)
{
    if (!on)
        m_viewers.erase(viewer);
    else if (m_viewers.insert(viewer).second)
        connect(viewer, &QObject::destroyed, this, [this](const QObject* gone) { m_viewers.erase(gone); });
    if (m_viewers.empty())
        end();
}

void LiveTap::begin()
{
    const auto listen = [this](TapPoint point) { return m_transport.listen(point, m_contender); };
    m_in = listen(TapPoint::Input);
    m_out = listen(TapPoint::Output);
    m_matched = listen(TapPoint::Matched);
    m_live.emplace(m_transport.rateHz(), m_transport.heardLoop());
    setAveraging(m_averaging_s);
}

void LiveTap::end()
{
    m_in = m_out = m_matched = nullptr;
    m_contender = audition::no_contender;
    m_live.reset();
    emit updated();
}

void LiveTap::setAveraging(double seconds)
{
    m_averaging_s = seconds;
    if (!m_live)
        return;
    m_live->in_spectrum.setAveraging(seconds);
    m_live->out_spectrum.setAveraging(seconds);
}

void LiveTap::forgetPeaks()
{
    if (!m_live)
        return;
    m_live->in_spectrum.clear();
    m_live->out_spectrum.clear();
}

/// In a trial nobody is named, and nothing is shown.
void LiveTap::follow()
{
    if (m_viewers.empty())
        return;
    const Contender* audible = m_line_up.find(m_transport.audible());
    if (!audible) {
        if (m_live)
            end();
        return;
    }
    if (!m_live || audible->id != m_contender || audible->generation != m_generation) {
        m_contender = audible->id;
        m_generation = audible->generation;
        begin();
    }
    // No more than were there: what is written meanwhile is for the next time.
    TapBlock block;
    const auto each = [&block](audition::TapReader& reader, const auto& add) {
        for (std::size_t left = reader.waiting(); left > 0 && reader.take(block); --left)
            add();
    };
    each(*m_in, [&] {
        m_live->in_spectrum.add(block);
        m_live->gain.addInput(block);
        m_live->wave.addInput(block);
    });
    each(*m_out, [&] { m_live->gain.addOutput(block); });
    each(*m_matched, [&] {
        m_live->levels.add(block);
        m_live->out_spectrum.add(block);
        m_live->wave.addOutput(block);
        m_live->pitch.add(block);
    });
    m_live->in_spectrum.update();
    m_live->out_spectrum.update();
    m_live->history.add(m_live->levels, m_live->out_spectrum);
    emit updated();
}

} // namespace hr::app
