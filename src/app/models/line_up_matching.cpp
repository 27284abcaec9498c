// SPDX-License-Identifier: GPL-3.0-or-later
//
// The line-up's fairness: what each is brought to, and what is known of it.
#include "models/line_up.h"

#include <algorithm>

namespace hr::app {

/// It sounds otherwise from now on: to be matched again.
void LineUp::changed(Contender& contender)
{
    if (!contender.isOpen())
        return;
    contender.mix_loudness.reset();
    toBeMatched(contender);
}

void LineUp::toBeMatched(Contender& contender)
{
    contender.match = MatchState::Waiting;
    m_matcher.schedule(contender.id);
    emit matchChanged();
}

/// What was matched goes along with the mix at once, as far as it can be told; it is measured all the same.
void LineUp::mixedOtherwise(Contender& contender, const audition::WetDry& before)
{
    if (const auto& known = contender.mix_loudness; known && contender.match != MatchState::Failed) {
        const auto was = known->levelDb(before);
        const auto is = known->levelDb(mixOf(contender));
        auto& levels = contender.loop.levels;
        for (auto* level : {&levels.loudness_lufs, &levels.band_lufs, &levels.rms_dbfs, &levels.true_peak_dbtp})
            if (*level && was && is)
                **level += *is - *was;
        applyGains();
    }
    toBeMatched(contender);
}

void LineUp::matchNow(ContenderId id)
{
    const Contender* contender = find(id);
    if (contender && !m_transport.source() && m_live)
        matched(id, {audition::LoopLoudness()}); // it is matched by what comes in
    else if (contender && m_transport.source())
        m_matcher.start(id, {m_transport.source(), m_transport.loop(), treatmentOf(*contender), m_rule});
}

void LineUp::matched(ContenderId id, const MatchAnswer& answer)
{
    Contender* contender = findMutable(id);
    if (!contender)
        return;
    const auto& result = answer.loudness;
    const bool to_be_taken = contender->pending || contender->changed_chain;
    if (!result && to_be_taken && isCancelled(result.error()))
        return; // it is being closed
    if (!result && to_be_taken) {
        contender->pending.reset();
        contender->changed_chain.reset();
        emit notice(tr("With these settings %1 %2; it stays as it was.")
                        .arg(contender->title, QString::fromStdString(hosting::sentence(result.error()))));
        emit settingsChanged(id);
        return changed(*contender);
    }
    contender->loop = result.value_or(audition::LoopLoudness());
    if (!result) {
        contender->match = MatchState::Failed;
        contender->fault = QString::fromStdString(hosting::sentence(result.error()));
    } else {
        contender->match = result->levels.loudness_lufs ? MatchState::Matched : MatchState::Silent;
        contender->fault.clear();
    }
    contender->gain_known = true;
    applyGains();
    if (contender->changed_chain)
        takeChangedChain(*contender);
    else if (contender->pending)
        take(*contender);
    if (id != m_reference)
        return m_matcher.scheduleDifference(id), emit matchChanged();
    for (Contender& other : m_contenders) // it is another reference than the one they were compared with
        if (other.id != id && other.match == MatchState::Matched) {
            other.difference.reset();
            m_matcher.scheduleDifference(other.id);
        }
    emit matchChanged();
}

void LineUp::applyGains()
{
    std::vector<audition::Part> parts;
    for (const Contender& contender : m_contenders)
        parts.push_back({contender.heardLoop(), contender.by_hand_db});
    const auto fairness = audition::fairnessOf(parts, basis(), static_cast<std::size_t>(placeOf(m_reference)));
    m_common_lufs = fairness.common_lufs;
    m_within_lu = fairness.withinLu(parts);
    if (m_rest)
        m_transport.setGain(m_rest_id, 1, restGain());
    for (std::size_t i = 0; i < m_contenders.size(); ++i) {
        Contender& c = m_contenders[i];
        c.gain_db = fairness.gains_db[i];
        c.matched_db = fairness.matched_db[i];
        c.apart_lu = fairness.apart_lu[i];
        m_transport.setGain(c.id, c.generation, gainOf(c));
        for (const Twin& twin : m_twins)
            if (twin.of == c.id)
                m_transport.setGain(twin.id, c.generation, gainOf(c));
    }
}

void LineUp::setLive(std::optional<std::map<ContenderId, std::optional<double>>> lufs)
{
    m_live = lufs.has_value();
    for (Contender& contender : m_contenders) {
        contender.live_loop.reset();
        if (!m_live || !lufs->contains(contender.id))
            continue;
        contender.live_loop.emplace();
        contender.live_loop->levels.loudness_lufs = lufs->at(contender.id);
    }
    applyGains();
    emit matchChanged();
}

void LineUp::compareNow(ContenderId id)
{
    const Contender* contender = find(id);
    const Contender* reference = find(m_reference);
    if (contender && id != m_reference && contender->isOpen() && reference->isOpen() && m_transport.source())
        m_matcher.startDifference(
            id, {m_transport.source(), m_transport.loop(), treatmentOf(*reference), treatmentOf(*contender)});
}

void LineUp::compared(ContenderId id, const std::optional<audition::Difference>& difference)
{
    Contender* contender = findMutable(id);
    if (!contender)
        return;
    contender->difference = difference;
    if (difference && find(m_reference)->isUntreated() && contender->match == MatchState::Matched &&
        !contender->mix_loudness)
        contender->mix_loudness = audition::MixLoudness::from(mixOf(*contender), *difference);
    m_transport.setOffset(id, contender->generation, difference ? difference->offset_samples : 0);
    emit matchChanged();
}

void LineUp::setReference(ContenderId id)
{
    if (find(id) && id != m_reference && !isTried())
        compareWith(id);
}

void LineUp::compareWith(ContenderId id)
{
    m_reference = id;
    m_transport.setReference(id);
    for (Contender& contender : m_contenders) {
        contender.difference.reset();
        m_transport.setOffset(contender.id, contender.generation, 0);
        m_matcher.scheduleDifference(contender.id);
    }
    applyGains();
    emit contendersChanged();
    emit matchChanged();
}

void LineUp::setRule(const audition::MatchRule& rule)
{
    if (rule == m_rule || isTried())
        return;
    // Of a band only what has been measured of this band is known.
    const bool again = rule.basis == audition::Basis::Band;
    m_rule = rule;
    if (again)
        for (Contender& contender : m_contenders)
            changed(contender);
    else
        applyGains();
    emit ruleChanged();
    emit matchChanged();
}

void LineUp::tempoChanged()
{
    for (Contender& contender : m_contenders)
        if (contender.info.takes_tempo)
            changed(contender);
}

void LineUp::setByHand(ContenderId id, std::optional<double> gain_db)
{
    Contender* contender = findMutable(id);
    if (!contender || contender->by_hand_db == gain_db || isHeld(id))
        return;
    contender->by_hand_db = gain_db;
    applyGains();
    emit matchChanged();
}

void LineUp::checkLanes()
{
    bool changed_state = false;
    for (const auto& lane : m_transport.lanes()) {
        changed_state = changed_state || lane.loading_s.has_value(); // which is told, second by second
        Contender* contender = findMutable(lane.id);
        if (!contender || contender->generation != lane.generation || !lane.fault ||
            !contender->fault.isEmpty())
            continue;
        contender->fault = QString::fromStdString(hosting::sentence(*lane.fault));
        contender->match = MatchState::Failed;
        emit notice(tr("%1 %2. It is silent now; the others play on.").arg(contender->title, contender->fault));
        changed_state = true;
    }
    if (changed_state)
        emit matchChanged();
}

std::optional<double> LineUp::fairWithinLu() const
{
    if (isMatching() || !m_common_lufs)
        return std::nullopt;
    return m_within_lu;
}

bool LineUp::isMatchedByLoudness() const
{
    return basis() == audition::Basis::Loudness &&
           std::ranges::none_of(m_contenders, [](const Contender& c) { return c.by_hand_db.has_value(); });
}

std::optional<double> LineUp::differenceDb(const Contender& contender) const
{
    if (contender.id == m_reference || !contender.difference)
        return std::nullopt;
    return contender.difference->levelDb(contender.gain_db - find(m_reference)->gain_db);
}

/// Whether it would be louder by more than ears should meet at once.
bool LineUp::isJump(ContenderId from, ContenderId to) const
{
    const Contender* before = find(from);
    const Contender* after = find(to);
    return before && after && before->apart_lu && after->apart_lu &&
           *after->apart_lu - *before->apart_lu > audition::jump_from_lu;
}

} // namespace hr::app
