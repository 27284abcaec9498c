// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"

#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/number_text.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

/// The catalogue where there is one; a command that can do without it must not make it.
std::unique_ptr<library::Store> existingStore(const Context& context)
{
    const std::filesystem::path directory = context.data_directory.empty()
                                                ? library::defaultDataDirectory()
                                                : std::filesystem::path(context.data_directory);
    std::error_code ignored;
    if (!std::filesystem::exists(directory / "catalogue.sqlite", ignored))
        return nullptr;
    auto store = context.openStore();
    return store ? std::move(*store) : nullptr;
}

} // namespace

Result<hosting::Location> find(const Context& context, const std::string& id)
{
    if (!processors::isReferenceId(id))
        if (const auto store = existingStore(context))
            if (auto known = store->catalogue.location(QString::fromStdString(id));
                known && std::filesystem::exists(known->bundle))
                return *known;
    return hosting::locate(id, hosting::searchFolders());
}

std::optional<library::QuarantineEntry> quarantined(const Context& context, const std::string& id, bool again)
{
    const auto store = existingStore(context);
    if (again || !store)
        return std::nullopt;
    const auto entry = store->catalogue.entry(QString::fromStdString(id));
    const auto faults = store->catalogue.faultsOf(QString::fromStdString(id));
    if (!entry || entry->state != library::State::Quarantined || !faults || faults->empty())
        return std::nullopt;
    return faults->front();
}

std::string inQuarantine(const library::QuarantineEntry& entry)
{
    return "In quarantine since " + entry.at.toStdString() + ": " +
           hosting::toError(entry.fault, entry.id.toStdString()).text + " (--again tries it all the same).";
}

Result<std::vector<double>> settingsOf(const Context& context, processors::ProcessorInfo info,
                                       const std::string& preset, const std::vector<std::string>& texts)
{
    if (!preset.empty() &&
        std::ranges::find(info.presets, preset, &processors::PresetInfo::name) == info.presets.end())
        if (const auto store = existingStore(context))
            if (auto known = store->catalogue.info(QString::fromStdString(info.id)))
                info.presets = std::move(known->presets);
    std::vector<processors::Setting> settings;
    for (const std::string& text : texts) {
        auto setting = processors::parseSetting(info, text);
        if (!setting)
            return tl::make_unexpected(setting.error());
        settings.push_back(*setting);
    }
    return processors::resolveSettings(info, preset, settings);
}

void print(const nlohmann::ordered_json& document)
{
    std::cout << document.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << '\n';
}

std::string figure(const std::optional<double>& value, const char* unit, int digits)
{
    if (!value)
        return "none";
    const double scale = std::pow(10, digits);
    const double rounded = std::round(*value * scale) / scale + 0.0; // no "-0.0"
    return signal::fixedText(rounded, digits) + ' ' + unit;
}

} // namespace hr::cli
