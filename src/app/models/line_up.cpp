// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/line_up.h"

#include "audition/rendered.h"

#include <QFile>
#include <algorithm>

namespace hr::app {

LineUp::LineUp(Transport& transport, library::Store& store, Jobs& jobs, QObject* parent)
    : QObject(parent), m_transport(transport), m_store(store), m_jobs(jobs), m_matcher(jobs),
      m_rate_hz(transport.rateHz())
{
    Contender source;
    source.id = m_next_id++;
    source.title = tr("Untreated source");
    source.gain_known = true;
    m_contenders.push_back(source);
    connect(&m_matcher, &Matcher::due, this, &LineUp::matchNow);
    connect(&m_matcher, &Matcher::matched, this, &LineUp::matched);
    connect(&m_matcher, &Matcher::differenceDue, this, &LineUp::compareNow);
    connect(&m_matcher, &Matcher::differenceFound, this, &LineUp::compared);
    connect(&m_transport, &Transport::sourceChanged, this, &LineUp::followSource);
    connect(&m_transport, &Transport::lanesChanged, this, &LineUp::checkLanes);
    connect(&m_transport, &Transport::audibleChanged, this, &LineUp::audibleChanged);
    updateEngine();
    m_transport.setReference(m_reference);
    m_transport.hear(m_wanted);
}

// --- who there is ------------------------------------------------------------------------------------

const Contender* LineUp::find(ContenderId id) const
{
    const auto found = std::ranges::find(m_contenders, id, &Contender::id);
    return found == m_contenders.end() ? nullptr : &*found;
}

Contender* LineUp::findMutable(ContenderId id)
{
    const auto found = std::ranges::find(m_contenders, id, &Contender::id);
    return found == m_contenders.end() ? nullptr : &*found;
}

const Contender* LineUp::byMark(int mark) const
{
    const auto found = std::ranges::find(m_contenders, mark, &Contender::mark);
    return found == m_contenders.end() ? nullptr : &*found;
}

int LineUp::placeOf(ContenderId id) const
{
    const auto found = std::ranges::find(m_contenders, id, &Contender::id);
    return found == m_contenders.end() ? -1 : static_cast<int>(found - m_contenders.begin());
}

int LineUp::freeMark(int wanted) const
{
    if (wanted >= 1 && wanted <= most_candidates && !byMark(wanted))
        return wanted;
    int mark = 1;
    while (byMark(mark))
        ++mark;
    return mark;
}

bool LineUp::hasRoom()
{
    if (m_contenders.size() <= most_candidates)
        return true;
    emit notice(tr("The line-up holds eight candidates: remove one first."));
    return false;
}

ContenderId LineUp::insert(Contender contender, int place)
{
    const ContenderId id = contender.id;
    const auto count = static_cast<int>(m_contenders.size());
    m_contenders.insert(m_contenders.begin() + (place > 0 && place < count ? place : count),
                        std::move(contender));
    updateEngine();
    changed(*findMutable(id));
    emit contendersChanged();
    return id;
}

ContenderId LineUp::add(const QString& processor, const std::vector<processors::Setting>& settings, int place)
{
    if (!hasRoom())
        return audition::no_contender;
    Contender contender;
    auto entry = m_store.catalogue.entry(processor);
    auto became = entry ? become(contender, *entry, settings) : tl::make_unexpected(entry.error());
    if (!became) {
        emit notice(QString::fromStdString(became.error().text));
        return audition::no_contender;
    }
    contender.id = m_next_id++;
    contender.mark = freeMark();
    recallPins(contender);
    return insert(std::move(contender), place);
}

ContenderId LineUp::addKept(const QString& processor, const QString& title,
                            const std::vector<processors::Setting>& settings, int mark,
                            const std::string& state)
{
    if (!hasRoom())
        return audition::no_contender;
    Contender contender;
    contender.id = m_next_id++;
    contender.mark = freeMark(mark);
    contender.location.state = state;
    auto entry = m_store.catalogue.entry(processor);
    auto became = entry ? become(contender, *entry, settings) : tl::make_unexpected(entry.error());
    if (!became) {
        contender.processor = processor;
        contender.title = title.isEmpty() ? processor : title;
        contender.kept_settings = settings;
        contender.match = MatchState::Failed;
        contender.fault = tr("could not be opened. %1").arg(QString::fromStdString(became.error().text));
        emit notice(tr("%1 is kept in the line-up, but cannot be heard. %2")
                        .arg(contender.title, QString::fromStdString(became.error().text)));
    }
    return insert(std::move(contender), 0);
}

ContenderId LineUp::addCopy(ContenderId of)
{
    const Contender* model = find(of);
    if (!model || model->isUntreated() || !hasRoom())
        return audition::no_contender;
    Contender copy = *model;
    copy.id = m_next_id++;
    copy.mark = freeMark();
    copy.generation = 1;
    copy.gain_known = false;
    copy.difference.reset();
    const ContenderId id = insert(std::move(copy), placeOf(of) + 1);
    if (const Contender* opening = find(id); opening->opening)
        open(*opening);
    return id;
}

bool LineUp::clear()
{
    if (isTried())
        return false;
    for (const Contender& leaving : candidates())
        m_matcher.forget(leaving.id);
    m_contenders.resize(1);
    compareWith(untreated);
    hear(untreated);
    updateEngine();
    emit contendersChanged();
    emit matchChanged();
    return true;
}

std::optional<Contender> LineUp::remove(ContenderId id)
{
    const Contender* found = find(id);
    if (!found || found->isUntreated() || isHeld(id))
        return std::nullopt;
    Contender removed = *found;
    m_contenders.erase(m_contenders.begin() + placeOf(id));
    m_matcher.forget(id);
    if (m_reference == id)
        compareWith(untreated);
    if (m_wanted == id)
        hear(untreated);
    updateEngine();
    applyGains();
    emit contendersChanged();
    emit matchChanged();
    return removed;
}

void LineUp::putBack(Contender contender, int place)
{
    if (find(contender.id) || !hasRoom())
        return;
    ++contender.generation;
    contender.gain_known = false;
    contender.fault.clear();
    if (byMark(contender.mark))
        contender.mark = freeMark();
    const ContenderId id = insert(std::move(contender), place);
    if (const Contender* back = find(id); back->opening)
        open(*back);
}

void LineUp::move(ContenderId id, int place)
{
    const int from = placeOf(id);
    if (from < 1 || place < 1 || place >= static_cast<int>(m_contenders.size()) || place == from)
        return;
    const auto at = [this](int where) { return m_contenders.begin() + where; };
    from < place ? std::rotate(at(from), at(from + 1), at(place + 1))
                 : std::rotate(at(place), at(from), at(from + 1));
    emit contendersChanged();
}

void LineUp::setValue(ContenderId id, std::size_t parameter, double value)
{
    Contender* contender = findMutable(id);
    if (!contender || parameter >= contender->values.size() || contender->values[parameter] == value ||
        isHeld(id))
        return;
    contender->values[parameter] = value;
    contender->notes.erase(parameter);
    contender->pending.reset();
    if (auto& next = contender->changed_chain)
        if (const auto at = next->info.parameterIndex(contender->info.parameters[parameter].key))
            next->values[*at] = value;
    if (contender->preset)
        contender->preset->changed = true;
    if (contender->match == MatchState::Failed) { // it may do better now: through a lane of its own
        ++contender->generation;
        contender->fault.clear();
        updateEngine();
    }
    if (m_part != Part::Key)
        m_transport.setParameter(id, parameter, playedValues(contender->info, contender->values)[parameter]);
    else
        updateEngine();
    changed(*contender);
    emit valueChanged(id, parameter);
    emit settingsChanged(id);
}

void LineUp::changeTo(ContenderId id, std::vector<double> values, std::optional<AppliedPreset> preset,
                      const std::optional<std::string>& state)
{
    Contender* contender = findMutable(id);
    if (!contender || !contender->isOpen() || values.size() != contender->values.size() || isHeld(id))
        return;
    if (contender->changed_chain)
        return emit notice(tr("%1 is being changed on Build: try again in a moment.").arg(contender->title));
    contender->pending =
        Contender::Pending{std::move(values), std::move(preset), state.value_or(contender->location.state)};
    if (m_transport.source())
        changed(*contender);
    else
        take(*contender); // nothing is heard, and there is nothing to match
    emit settingsChanged(id);
}

/// What was coming is what it is from now on, through a lane of its own: processor and gain change at one
/// frame.
void LineUp::take(Contender& contender)
{
    const ContenderId id = contender.id;
    std::erase_if(contender.notes, [&](const auto& note) {
        return contender.values[note.first] != contender.pending->values[note.first];
    });
    contender.values = std::move(contender.pending->values);
    contender.preset = std::move(contender.pending->preset);
    contender.location.state = std::move(contender.pending->state);
    contender.pending.reset();
    ++contender.generation;
    updateEngine();
    for (std::size_t i = 0; i < contender.values.size(); ++i)
        emit valueChanged(id, i);
    emit settingsChanged(id);
}

void LineUp::hear(ContenderId id)
{
    if (id == m_wanted || (!find(id) && std::ranges::find(m_twins, id, &Twin::id) == m_twins.end()))
        return;
    m_wanted = id;
    m_transport.hear(id, isJump(audible(), id));
    emit audibleChanged();
}

void LineUp::hearNext(int places)
{
    const auto count = static_cast<int>(m_contenders.size());
    const int at = std::max(placeOf(m_wanted), 0);
    hear(m_contenders[static_cast<std::size_t>(((at + places) % count + count) % count)].id);
}

double LineUp::offsetOf(const Contender& contender) const
{
    return contender.difference ? contender.difference->offset_samples : 0;
}

void LineUp::updateEngine()
{
    const auto specOf = [this](ContenderId id, const Contender& c) {
        audition::Treatment treatment =
            m_part == Part::Key && !c.isUntreated()
                ? keyOf(c)
                : audition::Treatment{c.location, playedValues(c.info, c.values), mixOf(c)};
        return audition::ContenderSpec{
            id,          c.generation, std::move(treatment.location), std::move(treatment.values), gainOf(c),
            offsetOf(c), treatment.mix};
    };
    std::vector<audition::ContenderSpec> specs;
    for (const Contender& c : m_contenders)
        if (c.isOpen())
            specs.push_back(specOf(c.id, c));
    for (const Twin& twin : m_twins)
        if (const Contender* c = find(twin.of); c && twin.anchor_hz)
            specs.push_back({twin.id,
                             c->generation,
                             hosting::Location{"reference:anchor", {}},
                             {*twin.anchor_hz},
                             gainOf(*c)});
        else if (c)
            specs.push_back(specOf(twin.id, *c));
    if (m_rest)
        specs.push_back({m_rest_id,
                         1,
                         audition::renderedAt(QFile::encodeName(m_rest->file).toStdString()),
                         {},
                         restGain()});
    m_transport.setContenders(std::move(specs));
}

std::optional<double> LineUp::gainOf(const Contender& contender) const
{
    return contender.gain_known || m_live ? std::optional(contender.gain_db) : std::nullopt;
}

std::optional<double> LineUp::restGain() const
{
    return m_common_lufs ? std::optional(*m_common_lufs - m_rest->part_lufs) : std::nullopt;
}

/// Another sound is another lane: one fades into the other.
void LineUp::setRest(std::optional<Rest> rest)
{
    if (rest && (!m_rest || m_rest->file != rest->file))
        m_rest_id = m_next_id++;
    m_rest = std::move(rest);
    updateEngine();
}

// --- a blind trial's side ------------------------------------------------------------------------------

ContenderId LineUp::addTwin(ContenderId of, std::optional<double> anchor_hz)
{
    Contender* held = findMutable(of);
    if (!held)
        return audition::no_contender;
    held->changed_chain.reset(); // which would be heard in the middle of the trial
    held->chain_opens = false;
    ++held->chain_turn;
    m_twins.push_back({m_next_id++, of, anchor_hz});
    updateEngine();
    return m_twins.back().id;
}

void LineUp::releaseTwins()
{
    if (std::ranges::find(m_twins, m_wanted, &Twin::id) != m_twins.end())
        hear(untreated);
    m_twins.clear();
    updateEngine();
}

bool LineUp::isReady(ContenderId id) const
{
    const auto lanes = m_transport.lanes();
    const auto lane = std::ranges::find(lanes, id, &audition::Engine::LaneState::id);
    return lane != lanes.end() && lane->plays && !lane->fault;
}

std::optional<int> LineUp::loadingS(ContenderId id) const
{
    const auto lanes = m_transport.lanes();
    const auto lane = std::ranges::find(lanes, id, &audition::Engine::LaneState::id);
    if (lane == lanes.end() || !lane->loading_s || *lane->loading_s < 1)
        return std::nullopt;
    return static_cast<int>(*lane->loading_s);
}

bool LineUp::isHeld(ContenderId id)
{
    if (std::ranges::find(m_twins, id, &Twin::of) == m_twins.end())
        return false;
    emit notice(tr("%1 is in a blind trial: finish it, or stop it on Listen, first.").arg(find(id)->title));
    return true;
}

bool LineUp::isTried()
{
    if (m_twins.empty())
        return false;
    emit notice(tr("A blind trial is under way: finish it, or stop it on Listen, first."));
    return true;
}

} // namespace hr::app
