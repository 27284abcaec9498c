// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/settings_steps.h"

#include "actions/undoable.h"
#include "processors/settings.h"

#include <algorithm>

namespace hr::app {

using library::Preset;

namespace {

QString kindOf(const Contender& contender)
{
    return contender.chain ? QString::fromStdString(contender.location.id) : contender.processor;
}

/// Where it is going, or is.
const std::vector<double>& latestValues(const Contender& contender)
{
    return contender.pending ? contender.pending->values : contender.values;
}

const std::string& latestState(const Contender& contender)
{
    return contender.pending ? contender.pending->state : contender.location.state;
}

const std::optional<AppliedPreset>& latestPreset(const Contender& contender)
{
    return contender.pending ? contender.pending->preset : contender.preset;
}

} // namespace

SettingsSteps::SettingsSteps(LineUp& line_up, library::Store& store, QUndoStack& undo, Notices& notices,
                             QObject* parent)
    : QObject(parent), m_line_up(line_up), m_store(store), m_undo(undo), m_notices(notices)
{
}

/// Held parameters keep what they have. What is put back is kept by the parameters' keys: another build or rate
/// may have them in another order.
void SettingsSteps::take(const QString& words, ContenderId id, std::vector<double> values,
                         std::optional<AppliedPreset> preset, const std::optional<std::string>& state)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || contender->isUntreated() || values.size() != contender->values.size())
        return;
    const auto& before = latestValues(*contender);
    for (const std::size_t held : contender->held)
        values[held] = before[held];
    const auto change = [this, id](const std::vector<processors::Setting>& settings,
                                   const std::optional<AppliedPreset>& applied, const std::string& its_state) {
        if (const Contender* now = m_line_up.find(id))
            m_line_up.changeTo(id, processors::nearestValues(now->info, settings), applied, its_state);
    };
    m_undo.push(new Undoable(
        words,
        [change, after = contender->allSettings(values), preset = std::move(preset),
         state_after = state.value_or(latestState(*contender))] { change(after, preset, state_after); },
        [change, settings_before = contender->allSettings(before), preset_before = latestPreset(*contender),
         state_before = latestState(*contender)] { change(settings_before, preset_before, state_before); }));
}

std::vector<Preset> SettingsSteps::presets(const Contender& contender) const
{
    if (contender.chain || !contender.isOpen() || contender.isUntreated())
        return {};
    processors::ProcessorInfo info = contender.described;
    info.id = contender.processor.toStdString(); // whichever build it is
    auto found = m_store.presets.of(info);
    return m_notices.succeeded(found) ? std::move(*found) : std::vector<Preset>();
}

void SettingsSteps::stepPreset(ContenderId id, int steps)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender)
        return;
    const auto all = presets(*contender);
    if (all.size() < 2)
        return m_notices.say(
            tr("%1 has no presets: save one on Find, or step through another.").arg(contender->title));
    const auto count = static_cast<int>(all.size());
    const auto& now = latestPreset(*contender);
    const auto at =
        std::ranges::find_if(all, [&](const Preset& one) { return one.id == (now ? now->id : QString()); });
    const int place = at == all.end() ? 0 : static_cast<int>(at - all.begin());
    takePreset(id, all[static_cast<std::size_t>(((place + steps) % count + count) % count)]);
}

void SettingsSteps::takePreset(ContenderId id, const Preset& preset)
{
    if (const Contender* contender = m_line_up.find(id))
        take(tr("take the preset “%1”").arg(preset.name), id,
             processors::nearestValues(contender->info, preset.settings), AppliedPreset{preset.id, preset.name},
             preset.state);
}

void SettingsSteps::takeDefaults(ContenderId id)
{
    if (const Contender* contender = m_line_up.find(id))
        take(tr("set %1 to its defaults").arg(contender->title), id, processors::defaultValues(contender->info),
             {}, std::string());
}

void SettingsSteps::takeRandom(ContenderId id)
{
    if (const Contender* contender = m_line_up.find(id))
        take(tr("set %1 at random").arg(contender->title), id,
             processors::randomValues(contender->info, latestValues(*contender), contender->held,
                                      contender->limits, m_random));
}

void SettingsSteps::storeSnapshot(ContenderId id, std::size_t place)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || contender->isUntreated() || place >= contender->snapshots.size())
        return;
    using Kept = std::optional<std::vector<processors::Setting>>;
    const auto put = [this, id, place](const Kept& kept) {
        const Contender* now = m_line_up.find(id);
        if (now)
            m_line_up.setSnapshot(
                id, place, kept ? std::optional(processors::nearestValues(now->info, *kept)) : std::nullopt);
    };
    const auto& before = contender->snapshots[place];
    m_undo.push(new Undoable(
        tr("store snapshot %1 of %2").arg(place + 1).arg(contender->title),
        [put, now = contender->allSettings(latestValues(*contender))] { put(now); },
        [put, was = before ? Kept(contender->allSettings(*before)) : Kept()] { put(was); }));
}

void SettingsSteps::takeSnapshot(ContenderId id, std::size_t place)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || place >= contender->snapshots.size())
        return;
    if (!contender->snapshots[place])
        return m_notices.say(
            tr("%1 has no snapshot %2: store one first.").arg(contender->title).arg(place + 1));
    take(tr("recall snapshot %1 of %2").arg(place + 1).arg(contender->title), id, *contender->snapshots[place]);
}

void SettingsSteps::copy(ContenderId id)
{
    if (const Contender* contender = m_line_up.find(id); contender && contender->isOpen())
        m_copied = Copied{kindOf(*contender), contender->settings()};
}

QString SettingsSteps::pasteDisabledReason(ContenderId id) const
{
    const Contender* contender = m_line_up.find(id);
    if (!m_copied)
        return tr("No settings have been copied.");
    return contender && contender->isOpen() && !contender->isUntreated() && kindOf(*contender) == m_copied->what
               ? QString()
               : tr("The settings that were copied are of another processor.");
}

void SettingsSteps::paste(ContenderId id)
{
    if (const Contender* contender = m_line_up.find(id); contender && pasteDisabledReason(id).isEmpty())
        take(tr("paste settings into %1").arg(contender->title), id,
             processors::nearestValues(contender->info, m_copied->settings));
}

} // namespace hr::app
