// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known of a contender beside its values: what it is called, what is held, pinned or limited, note
// values, the preset's name, snapshots. None of it is heard.
#include "models/line_up.h"

#include "processors/json_text.h"

#include <algorithm>
#include <utility>

namespace hr::app {

using nlohmann::json;

namespace {

const QString pins_setting = QStringLiteral("pinned");

/// Keys of what is pinned, of each processor; an object.
json pinsOf(const library::Store& store)
{
    json found = processors::jsonFrom(store.setting(pins_setting).toStdString());
    return found.is_object() ? found : json::object();
}

} // namespace

/// What is known of its parameters, by their keys: another build may have them in another order, or lack some.
void LineUp::takeAlong(Contender& contender, const processors::ProcessorInfo& before)
{
    const auto placeOf = [&](std::size_t parameter) {
        return parameter < before.parameters.size()
                   ? contender.info.parameterIndex(before.parameters[parameter].key)
                   : std::nullopt;
    };
    for (std::set<std::size_t>* known : {&contender.held, &contender.pinned})
        for (const std::size_t parameter : std::exchange(*known, {}))
            if (const auto place = placeOf(parameter))
                known->insert(*place);
    for (auto& [parameter, limits] : std::exchange(contender.limits, {}))
        if (const auto place = placeOf(parameter))
            contender.limits[*place] = limits;
    for (auto& [parameter, note] : std::exchange(contender.notes, {}))
        if (const auto place = placeOf(parameter))
            contender.notes[*place] = note;
    for (auto& snapshot : contender.snapshots) {
        if (snapshot)
            snapshot = processors::nearestValues(contender.info, processors::settingsOf(before, *snapshot));
    }
}

void LineUp::setName(ContenderId id, const QString& name)
{
    Contender* contender = findMutable(id);
    if (!contender || contender->isUntreated() || contender->name == name || isHeld(id))
        return;
    contender->name = name;
    emit contendersChanged();
}

void LineUp::hold(ContenderId id, std::size_t parameter, bool on)
{
    putAmong(id, &Contender::held, parameter, on);
}

void LineUp::pin(ContenderId id, std::size_t parameter, bool on)
{
    putAmong(id, &Contender::pinned, parameter, on);
}

/// Or takes it out again.
void LineUp::putAmong(ContenderId id, std::set<std::size_t> Contender::*which, std::size_t parameter, bool on)
{
    Contender* contender = findMutable(id);
    if (!contender || parameter >= contender->values.size())
        return;
    on ? void((contender->*which).insert(parameter)) : void((contender->*which).erase(parameter));
    emit settingsChanged(id);
}

void LineUp::rememberPins(ContenderId id)
{
    const Contender* contender = find(id);
    if (!contender || contender->processor.isEmpty() || !contender->isOpen())
        return;
    json pins = pinsOf(m_store);
    json& own = pins[contender->processor.toStdString()] = json::array();
    for (const std::size_t parameter : contender->pinned)
        own.push_back(contender->info.parameters[parameter].key);
    const std::string text = pins.dump(-1, ' ', false, json::error_handler_t::replace);
    if (auto stored = m_store.setSetting(pins_setting, QString::fromStdString(text)); !stored)
        emit notice(QString::fromStdString(stored.error().text));
}

void LineUp::recallPins(Contender& contender) const
{
    const json pins = pinsOf(m_store);
    if (const auto own = pins.find(contender.processor.toStdString()); own != pins.end())
        for (const json& key : *own)
            if (const auto index =
                    key.is_string() ? contender.info.parameterIndex(key.get<std::string>()) : std::nullopt)
                contender.pinned.insert(*index);
}

void LineUp::seeAll(ContenderId id, bool on)
{
    if (Contender* contender = findMutable(id); contender && contender->all_seen != on) {
        contender->all_seen = on;
        emit settingsChanged(id);
    }
}

void LineUp::setLimits(ContenderId id, std::size_t parameter, std::optional<std::pair<double, double>> limits)
{
    Contender* contender = findMutable(id);
    if (!contender || parameter >= contender->values.size())
        return;
    if (limits) {
        const double minimum = contender->info.parameters[parameter].minimum;
        const double maximum = contender->info.parameters[parameter].maximum;
        contender->limits[parameter] = {std::clamp(std::min(limits->first, limits->second), minimum, maximum),
                                        std::clamp(std::max(limits->first, limits->second), minimum, maximum)};
    } else
        contender->limits.erase(parameter);
    emit settingsChanged(id);
}

void LineUp::setNote(ContenderId id, std::size_t parameter, const QString& note)
{
    Contender* contender = findMutable(id);
    if (!contender || parameter >= contender->values.size())
        return;
    note.isEmpty() ? void(contender->notes.erase(parameter)) : void(contender->notes[parameter] = note);
    emit settingsChanged(id);
}

void LineUp::setFollowsTempo(ContenderId id, bool on)
{
    if (Contender* contender = findMutable(id)) {
        contender->follows_tempo = on;
        emit settingsChanged(id);
    }
}

void LineUp::setPreset(ContenderId id, const AppliedPreset& preset)
{
    if (Contender* contender = findMutable(id)) {
        contender->preset = preset;
        emit settingsChanged(id);
    }
}

void LineUp::setSnapshot(ContenderId id, std::size_t place, std::optional<std::vector<double>> values)
{
    Contender* contender = findMutable(id);
    if (!contender || place >= contender->snapshots.size())
        return;
    contender->snapshots[place] = std::move(values);
    emit settingsChanged(id);
}

} // namespace hr::app
