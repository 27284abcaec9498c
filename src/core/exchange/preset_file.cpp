// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/preset_file.h"

#include "exchange/document.h"
#include "hosting/worker.h"
#include "library/settings_json.h"

#include <algorithm>
#include <fstream>
#include <sstream>

namespace hr::exchange {

using library::Preset;
using nlohmann::ordered_json;
namespace fs = std::filesystem;

namespace {

constexpr auto preset_format = "honest-rack-presets";
constexpr int preset_version = 1;
constexpr std::size_t most_presets = 10000;
constexpr auto lv2_prefix = "lv2:";

/// A Turtle string.
std::string quoted(const std::string& text)
{
    std::string out = "\"";
    for (const char c : text)
        switch (c) {
        case '"':
        case '\\':
            out += '\\';
            out += c;
            break;
        case '\n':
            out += "\\n";
            break;
        case '\r':
            out += "\\r";
            break;
        default:
            out += c;
        }
    return out + '"';
}

std::string number(double value)
{
    std::ostringstream text;
    text.imbue(std::locale::classic());
    text.precision(9);
    text << std::showpoint << value;
    // Turtle's decimals have a digit behind the point.
    return text.str().ends_with('.') ? text.str() + '0' : text.str();
}

/// The file `path`, whole or, where it fails, an Error.
Result<void> writeText(const fs::path& path, const std::string& text)
{
    std::ofstream file(path);
    file << text;
    file.close();
    return file ? Result<void>()
                : machineFailed(path.string() + " cannot be written: is there room, and is the folder yours?");
}

bool holdsOnlyPresets(const fs::path& bundle)
{
    std::error_code failed;
    for (const auto& file : fs::directory_iterator(bundle, failed))
        if (file.path().filename() != "manifest.ttl" && file.path().filename() != "presets.ttl")
            return false;
    return !failed;
}

void keepKnown(std::vector<processors::Setting>& settings, const processors::ProcessorInfo& info)
{
    std::erase_if(settings, [&](const processors::Setting& s) { return !info.parameterIndex(s.key); });
}

Result<std::vector<Preset>> readOurs(const fs::path& file, const processors::ProcessorInfo& info)
{
    auto document = readDocument(file);
    return document ? presetsFromJson(*document, info, file.string()) : tl::make_unexpected(document.error());
}

/// A worker reads it, since it is a stranger's.
Result<std::vector<Preset>> readBundle(const fs::path& bundle, const processors::ProcessorInfo& info)
{
    auto worker = hosting::Worker::spawn();
    if (!worker)
        return tl::make_unexpected(worker.error());
    auto contents = (*worker)->describe(bundle);
    if (!contents)
        return tl::make_unexpected(hosting::toError(contents.error(), bundle.string()));
    std::vector<Preset> presets;
    for (const auto& [processor, preset] : contents->presets) {
        if (processor != info.id)
            continue;
        Preset one{Preset::From::User,
                   0,
                   {},
                   QString::fromStdString(preset.name),
                   QString::fromStdString(preset.bank),
                   false,
                   {}};
        for (const auto& [key, value] : preset.values)
            one.settings.push_back({key, value});
        presets.push_back(std::move(one));
    }
    return presets;
}

} // namespace

Result<std::vector<Preset>> presetsFromJson(const ordered_json& document, const processors::ProcessorInfo& info,
                                            const std::string& file)
{
    if (!document.is_object() || document.value("format", ordered_json()) != preset_format ||
        !document.value("presets", ordered_json()).is_array())
        return wrongRequest(
            file + " holds no presets of Honest Rack: choose one exported from Find, or an LV2 bundle.");
    if (document.value("version", ordered_json()) != preset_version)
        return wrongRequest(file + " was written by a newer version of Honest Rack.");
    if (document.value("processor", ordered_json()) != info.id)
        return wrongRequest(file + " holds presets of another processor, " +
                            document.value("name", ordered_json("an unnamed one")).dump() +
                            ": select that one first.");
    std::vector<Preset> presets;
    for (const ordered_json& one : document.at("presets")) {
        if (!one.is_object() || !one.value("name", ordered_json()).is_string())
            continue;
        const auto bank = one.value("bank", ordered_json());
        presets.push_back({Preset::From::User,
                           0,
                           {},
                           QString::fromStdString(one.at("name").get<std::string>()),
                           bank.is_string() ? QString::fromStdString(bank.get<std::string>()) : QString(),
                           false,
                           library::settingsFromJson(one.value("settings", ordered_json()))});
    }
    return presets;
}

Result<void> writePresets(const fs::path& file, const processors::ProcessorInfo& info,
                          const std::vector<Preset>& presets)
{
    ordered_json list = ordered_json::array();
    for (const Preset& preset : presets)
        list.push_back({{"name", preset.name.toStdString()},
                        {"bank", preset.bank.toStdString()},
                        {"settings", library::settingsToJson(preset.settings)}});
    return writeDocument(file, {{"format", preset_format},
                                {"version", preset_version},
                                {"processor", info.id},
                                {"name", info.name},
                                {"presets", list}});
}

Result<void> writeLv2Presets(const fs::path& bundle, const processors::ProcessorInfo& info,
                             const std::vector<Preset>& presets)
{
    if (!info.id.starts_with(lv2_prefix))
        return wrongRequest(info.name + " is no LV2 plug-in: write its presets as JSON.");
    std::error_code failed;
    if (fs::exists(bundle, failed) && !holdsOnlyPresets(bundle))
        return wrongRequest(bundle.string() + " is there and holds other files: choose another name.");
    fs::create_directories(bundle, failed);
    if (failed)
        return machineFailed(bundle.string() + " cannot be made (" + failed.message() + ").");
    const std::string plugin = info.id.substr(std::string_view(lv2_prefix).size());
    std::string prefixes = "@prefix lv2: <http://lv2plug.in/ns/lv2core#> .\n"
                           "@prefix pset: <http://lv2plug.in/ns/ext/presets#> .\n"
                           "@prefix rdfs: <http://www.w3.org/2000/01/rdf-schema#> .\n";
    std::string manifest = prefixes;
    std::string text = prefixes;
    for (std::size_t i = 0; i < presets.size(); ++i) {
        const Preset& preset = presets[i];
        const std::string subject = "\n<presets.ttl#preset" + std::to_string(i + 1) + ">\n";
        manifest += subject + "    a pset:Preset ;\n    lv2:appliesTo <" + plugin +
                    "> ;\n    rdfs:seeAlso <presets.ttl> .\n";
        text += "\n<#preset" + std::to_string(i + 1) + ">\n    a pset:Preset ;\n    lv2:appliesTo <" + plugin +
                "> ;\n    rdfs:label " + quoted(preset.name.toStdString());
        if (!preset.bank.isEmpty())
            text += " ;\n    pset:bank <#bank" + std::to_string(i + 1) + ">";
        std::string ports;
        for (const processors::Setting& s : preset.settings)
            ports += std::string(ports.empty() ? " ;\n    lv2:port " : " ,\n        ") + "[ lv2:symbol " +
                     quoted(s.key) + " ; pset:value " + number(s.value) + " ]";
        text += ports + " .\n";
        if (!preset.bank.isEmpty())
            text += "\n<#bank" + std::to_string(i + 1) + ">\n    a pset:Bank ;\n    rdfs:label " +
                    quoted(preset.bank.toStdString()) + " .\n";
    }
    if (auto written = writeText(bundle / "presets.ttl", text); !written)
        return written;
    return writeText(bundle / "manifest.ttl", manifest);
}

Result<std::vector<Preset>> readPresets(const fs::path& path, const processors::ProcessorInfo& info)
{
    std::error_code failed;
    auto presets = fs::is_directory(path, failed) ? readBundle(path, info) : readOurs(path, info);
    if (!presets)
        return presets;
    if (presets->empty())
        return wrongRequest(path.string() + " holds no presets for " + info.name + ".");
    if (presets->size() > most_presets)
        return wrongRequest(path.string() + " holds more than 10 000 presets: divide it.");
    for (Preset& preset : *presets)
        keepKnown(preset.settings, info);
    return presets;
}

} // namespace hr::exchange
