// SPDX-License-Identifier: GPL-3.0-or-later
//
// How the line-up's candidates are used, each in the place of the source, or beside it on a return; and what of
// them is heard.
#include "models/line_up.h"

#include "chain/key_signal.h"
#include "hosting/instance.h"
#include "library/set_up.h"
#include "processors/wetness.h"
#include "signal/levels.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

void LineUp::setUse(Use use)
{
    if (use == m_use || isTried())
        return;
    m_use = use;
    usedOtherwise();
}

void LineUp::setPart(Part part)
{
    if (part == m_part || isTried())
        return;
    m_part = part;
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

void LineUp::setOn(ContenderId id, bool on)
{
    setMixed(id, &Contender::on, on);
}

template<class Figure>
void LineUp::setMixed(ContenderId id, Figure Contender::*figure, Figure value)
{
    Contender* contender = findMutable(id);
    if (!contender || contender->isUntreated() || contender->*figure == value || isHeld(id))
        return;
    const audition::WetDry before = mixOf(*contender);
    contender->*figure = value;
    if (contender->isOpen()) {
        m_transport.setMix(id, contender->generation, mixOf(*contender));
        mixedOtherwise(*contender, before);
    }
    emit settingsChanged(id);
}

audition::WetDry LineUp::mixOf(const Contender& contender) const
{
    if (contender.isUntreated() || m_part != Part::Whole)
        return {};
    if (!contender.on)
        return audition::WetDry::insert(0);
    return m_use == Use::Send ? audition::WetDry::sendAndReturn(signal::dbToLinear(contender.return_db))
                              : audition::WetDry::insert(contender.amount_percent);
}

std::vector<double> LineUp::playedValues(const processors::ProcessorInfo& info,
                                         const std::vector<double>& values) const
{
    return m_use == Use::Send || m_part == Part::Wet ? processors::fullyWet(info, values) : values;
}

audition::Treatment LineUp::treatmentOf(const Contender& contender) const
{
    if (m_part == Part::Key && !contender.isUntreated())
        return keyOf(contender);
    if (const auto& next = contender.changed_chain)
        return {next->location, playedValues(next->info, next->values), mixOf(contender)};
    hosting::Location location = contender.location;
    if (contender.pending)
        location.state = contender.pending->state;
    return {std::move(location),
            playedValues(contender.info, contender.pending ? contender.pending->values : contender.values),
            mixOf(contender)};
}

// --- the key signal ------------------------------------------------------------------------------------

namespace {

struct Corners {
    bool measured = false;
    std::optional<double> low_hz, high_hz;
};

/// Of its detector, as it was measured last at these settings.
Corners cornersOf(const library::Store& store, const Contender& contender)
{
    const auto readings = store.runs.of(
        library::setUpOf(store.catalogue, contender.location, contender.described, contender.values));
    if (readings)
        for (const library::StoredReading& one : *readings)
            if (one.test == QStringLiteral("detector"))
                return {true, one.reading.number("detector_corner_low_hz"),
                        one.reading.number("detector_corner_high_hz")};
    return {};
}

} // namespace

audition::Treatment LineUp::keyOf(const Contender& contender) const
{
    const auto values = contender.pending ? contender.pending->values : contender.values;
    if (contender.chain)
        if (const auto key = chain::keySignal(contender.chainNow())) {
            const auto place = [this](const std::string& id) {
                return m_store.catalogue.location(QString::fromStdString(id));
            };
            return {chain::place(*key, place).location, values}; // the same nodes: the same parameters
        }
    const Corners corners = cornersOf(m_store, contender);
    const chain::Chain key = chain::detectorSignal(corners.low_hz, corners.high_hz);
    const auto location = chain::place(key, [](const std::string&) { return hosting::Location(); }).location;
    const auto opened = hosting::openInstance(location); // of nobody's code but ours: here
    const auto key_values = opened ? chain::values(key, (*opened)->info()) : Result<std::vector<double>>();
    return {location, key_values.value_or(std::vector<double>())};
}

QString LineUp::keyText(const Contender& contender) const
{
    if (m_part != Part::Key || contender.isUntreated() || !contender.isOpen())
        return {};
    if (contender.chain && chain::keySignal(contender.chainNow()))
        return tr("the key of the chain");
    const Corners corners = cornersOf(m_store, contender);
    if (!corners.measured)
        return tr("key: the source; measure its detector to hear its filter");
    if (!corners.low_hz && !corners.high_hz)
        return tr("key: the source, unfiltered as measured");
    QStringList words;
    if (corners.low_hz)
        words << tr("above %1 Hz").arg(std::lround(*corners.low_hz));
    if (corners.high_hz)
        words << tr("below %1 Hz").arg(std::lround(*corners.high_hz));
    return tr("key: the source %1, as measured").arg(words.join(tr(" and ")));
}

} // namespace hr::app
