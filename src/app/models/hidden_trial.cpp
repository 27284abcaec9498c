// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/hidden_trial.h"

#include <algorithm>
#include <random>

namespace hr::app {

using audition::RatingSheet;

// --- what both have -----------------------------------------------------------------------------------

void HiddenTrial::begin(const std::vector<ContenderId>& candidates, int passes)
{
    if (!disabledReason(candidates).isEmpty())
        return;
    prepare(candidates.size(), passes);
    start(candidates);
    m_lanes.clear();
    addLanes(candidates);
    m_was_heard.assign(labels(), false);
    m_heard = hasOpenReference() ? std::optional<Label>() : std::optional<Label>(0);
    hear(m_heard);
    askWhenReady();
}

void HiddenTrial::addLane(ContenderId of, std::optional<double> anchor_hz)
{
    m_lanes.push_back(addHidden(of, anchor_hz));
}

void HiddenTrial::hear(std::optional<Label> label)
{
    if (!isRunning() || (label ? *label >= labels() : !hasOpenReference()))
        return;
    m_heard = label;
    if (label)
        m_was_heard[*label] = true;
    m_around.line_up.hear(label ? m_lanes[behind(*label)] : LineUp::untreated);
    emit changed();
}

QString HiddenTrial::whyNotAnswer() const
{
    if (stage() != Stage::Asking)
        return tr("Everything that will be heard is being opened.");
    const auto missed = std::ranges::find(m_was_heard, false);
    return missed == m_was_heard.end() ? QString()
                                       : tr("Not everything has been heard in this pass: listen to %1 first.")
                                             .arg(missed - m_was_heard.begin() + 1);
}

void HiddenTrial::next(bool over)
{
    if (over)
        return finish();
    m_was_heard.assign(labels(), false);
    hear(hasOpenReference() ? std::optional<Label>() : std::optional<Label>(0));
}

std::pair<QString, QString> HiddenTrial::keys() const
{
    QStringList who;
    for (const Contender& contender : tried())
        who << keyOf(contender);
    who.sort(); // the same ones, in whichever order
    return {kind(), who.join(QLatin1Char('\n'))};
}

nlohmann::ordered_json HiddenTrial::candidatesSaid() const
{
    auto said = nlohmann::ordered_json::array();
    for (const Contender& contender : tried()) {
        auto one = describe(contender);
        one["name"] = nameOf(contender);
        said.push_back(std::move(one));
    }
    return said;
}

// --- preference ---------------------------------------------------------------------------------------

QString PreferenceTrial::disabledReason(const std::vector<ContenderId>& candidates) const
{
    if (candidates.size() < audition::fewest_ranked)
        return tr("Preference needs two or more: choose which to put in order.");
    if (candidates.size() > audition::most_ranked)
        return tr("At most %1 can be put in order: choose fewer.").arg(audition::most_ranked);
    return disabledReasonFor(candidates);
}

void PreferenceTrial::prepare(std::size_t candidates, int passes)
{
    m_sheet.emplace(candidates, passes, std::random_device{}());
}

void PreferenceTrial::addLanes(const std::vector<ContenderId>& candidates)
{
    for (const ContenderId id : candidates)
        addLane(id);
}

void PreferenceTrial::rank(const std::vector<Label>& best_first)
{
    if (!whyNotAnswer().isEmpty())
        return;
    m_sheet->rank(best_first);
    next(m_sheet->isOver());
}

std::vector<std::string> PreferenceTrial::names() const
{
    std::vector<std::string> names;
    for (const Contender& contender : tried())
        names.push_back(nameOf(contender));
    return names;
}

std::string PreferenceTrial::sentence() const
{
    const auto agreement = m_sheet->agreement();
    return agreement ? agreement->sentence(names()) : tr("Stopped before the first answer.").toStdString();
}

nlohmann::ordered_json PreferenceTrial::answers() const
{
    return {{"kind", "preference"}, {"candidates", candidatesSaid()}, {"result", m_sheet->toJson(names())}};
}

// --- rating -------------------------------------------------------------------------------------------

QString RatingTrial::disabledReason(const std::vector<ContenderId>& candidates) const
{
    if (candidates.empty())
        return tr("There is nothing to grade: choose one or more candidates.");
    if (candidates.size() > RatingSheet::most_candidates)
        return tr("At most %1 can be graded: choose fewer.").arg(RatingSheet::most_candidates);
    if (std::ranges::find(candidates, LineUp::untreated) != candidates.end())
        return tr("The source is graded anyway, hidden: choose candidates only.");
    auto all = candidates;
    all.push_back(LineUp::untreated);
    return disabledReasonFor(all);
}

void RatingTrial::prepare(std::size_t candidates, int passes)
{
    m_sheet.emplace(candidates, passes, std::random_device{}());
}

void RatingTrial::addLanes(const std::vector<ContenderId>& candidates)
{
    addLane(LineUp::untreated);
    addLane(LineUp::untreated, RatingSheet::low_anchor_hz);
    addLane(LineUp::untreated, RatingSheet::mid_anchor_hz);
    for (const ContenderId id : candidates)
        addLane(id);
}

void RatingTrial::grade(const std::vector<int>& of_labels)
{
    if (!whyNotAnswer().isEmpty())
        return;
    m_sheet->grade(of_labels);
    next(m_sheet->isOver());
}

std::vector<std::string> RatingTrial::names() const
{
    std::vector<std::string> names{tr("the hidden source").toStdString(), tr("anchor at 3.5 kHz").toStdString(),
                                   tr("anchor at 7 kHz").toStdString()};
    for (const Contender& contender : tried())
        names.push_back(nameOf(contender));
    return names;
}

nlohmann::ordered_json RatingTrial::answers() const
{
    return {{"kind", "rating"}, {"candidates", candidatesSaid()}, {"result", m_sheet->toJson(names())}};
}

} // namespace hr::app
