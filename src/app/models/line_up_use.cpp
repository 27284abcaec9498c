// SPDX-License-Identifier: GPL-3.0-or-later
//
// How the line-up's candidates are used: each in the place of the source, or beside it on a return.
#include "models/line_up.h"

#include "processors/wetness.h"
#include "signal/levels.h"

#include <algorithm>

namespace hr::app {

void LineUp::setUse(Use use)
{
    if (use == m_use || isTried())
        return;
    m_use = use;
    usedOtherwise();
}

void LineUp::hearWetAlone(bool on)
{
    if (on == m_wet_alone || isTried())
        return;
    m_wet_alone = on;
    usedOtherwise();
}

/// Everybody sounds otherwise: what is audible stays until that is open and matched, and is then changed over
/// to at one frame.
void LineUp::usedOtherwise()
{
    for (Contender& contender : m_contenders)
        if (!contender.isUntreated() && contender.isOpen()) {
            ++contender.generation;
            contender.gain_known = false;
        }
    updateEngine();
    for (Contender& contender : m_contenders)
        if (!contender.isUntreated())
            changed(contender);
    emit useChanged();
}

void LineUp::setAmount(ContenderId id, double percent)
{
    setMixed(id, &Contender::amount_percent, std::clamp(percent, 0.0, 100.0));
}

void LineUp::setReturn(ContenderId id, double level_db)
{
    setMixed(id, &Contender::return_db, std::clamp(level_db, least_return_db, most_return_db));
}

void LineUp::setMixed(ContenderId id, double Contender::*figure, double value)
{
    Contender* contender = findMutable(id);
    if (!contender || contender->isUntreated() || contender->*figure == value || isHeld(id))
        return;
    contender->*figure = value;
    m_transport.setMix(id, contender->generation, mixOf(*contender));
    changed(*contender);
    emit settingsChanged(id);
}

audition::WetDry LineUp::mixOf(const Contender& contender) const
{
    if (contender.isUntreated() || m_wet_alone)
        return {};
    return m_use == Use::Send ? audition::WetDry::sendAndReturn(signal::dbToLinear(contender.return_db))
                              : audition::WetDry::insert(contender.amount_percent);
}

std::vector<double> LineUp::playedValues(const Contender& contender, const std::vector<double>& values) const
{
    return m_use == Use::Send || m_wet_alone ? processors::fullyWet(contender.info, values) : values;
}

audition::Treatment LineUp::treatmentOf(const Contender& contender) const
{
    return {contender.location,
            playedValues(contender, contender.coming ? contender.coming->values : contender.values),
            mixOf(contender)};
}

} // namespace hr::app
