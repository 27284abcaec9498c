// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/preset_file.h"

#include "exchange/document.h"
#include "exchange/turtle.h"
#include "hosting/worker.h"
#include "library/settings_json.h"
#include "processors/states.h"

#include <QTemporaryDir>
#include <algorithm>
#include <cstdio>
#include <fcntl.h>

namespace hr::exchange {

using library::Preset;
using nlohmann::ordered_json;
namespace fs = std::filesystem;

namespace {

constexpr auto preset_format = "honest-rack-presets";
constexpr int preset_version = 1;
constexpr std::size_t most_presets = 10000;
constexpr auto lv2_prefix = "lv2:";

constexpr auto manifest_name = "manifest.ttl";
constexpr auto presets_name = "presets.ttl";

/// Puts the folder `fresh` in the place of `bundle`, in one step, and removes what stood there.
Result<void> putInPlace(const fs::path& fresh, const fs::path& bundle)
{
    std::error_code failed;
    if (!fs::exists(bundle, failed))
        fs::rename(fresh, bundle, failed);
    else if (::renameat2(AT_FDCWD, fresh.c_str(), AT_FDCWD, bundle.c_str(), RENAME_EXCHANGE) == 0)
        fs::remove_all(fresh, failed);
    else // a file system that cannot exchange: what the manifest points to goes first
        for (const char* name : {presets_name, manifest_name})
            if (!failed)
                fs::rename(fresh / name, bundle / name, failed);
    return failed ? machineFailed(bundle.string() + " cannot be written (" + failed.message() +
                                  "): choose another place.")
                  : Result<void>();
}

bool holdsOnlyPresets(const fs::path& bundle)
{
    std::error_code failed;
    for (const auto& file : fs::directory_iterator(bundle, failed))
        if (file.path().filename() != manifest_name && file.path().filename() != presets_name)
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

std::string pluginOf(const processors::ProcessorInfo& info)
{
    return info.id.substr(std::string_view(lv2_prefix).size());
}

const std::initializer_list<std::pair<const char*, const char*>> lv2_prefixes{
    {"lv2", "http://lv2plug.in/ns/lv2core#"},
    {"pset", "http://lv2plug.in/ns/ext/presets#"},
    {"rdfs", "http://www.w3.org/2000/01/rdf-schema#"}};

std::string fragment(std::size_t number)
{
    std::string name("#preset");
    name += std::to_string(number);
    return name;
}

std::string manifestAsTurtle(const processors::ProcessorInfo& info, std::size_t presets)
{
    TurtleWriter turtle(lv2_prefixes);
    for (std::size_t i = 1; i <= presets; ++i) {
        const std::string subject = presets_name + fragment(i);
        turtle.type(subject, "pset:Preset");
        turtle.link(subject, "lv2:appliesTo", pluginOf(info));
        turtle.link(subject, "rdfs:seeAlso", presets_name);
    }
    return turtle.finish();
}

std::string presetsAsTurtle(const processors::ProcessorInfo& info, const std::vector<Preset>& presets)
{
    TurtleWriter turtle(lv2_prefixes);
    for (std::size_t i = 0; i < presets.size(); ++i) {
        const Preset& preset = presets[i];
        const std::string subject = fragment(i + 1);
        const std::string bank = "#bank" + std::to_string(i + 1);
        turtle.type(subject, "pset:Preset");
        turtle.link(subject, "lv2:appliesTo", pluginOf(info));
        turtle.text(subject, "rdfs:label", preset.name.toStdString());
        if (!preset.bank.isEmpty())
            turtle.link(subject, "pset:bank", bank);
        for (const processors::Setting& setting : preset.settings) {
            turtle.begin(subject, "lv2:port");
            turtle.text({}, "lv2:symbol", setting.key);
            turtle.decimal({}, "pset:value", setting.value);
            turtle.end();
        }
        if (preset.bank.isEmpty())
            continue;
        turtle.type(bank, "pset:Bank");
        turtle.text(bank, "rdfs:label", preset.bank.toStdString());
    }
    return turtle.finish();
}

/// A worker reads it, since it is third-party data.
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
        const auto state = one.value("state", ordered_json());
        presets.push_back({Preset::From::User,
                           0,
                           {},
                           QString::fromStdString(one.at("name").get<std::string>()),
                           bank.is_string() ? QString::fromStdString(bank.get<std::string>()) : QString(),
                           false,
                           library::settingsFromJson(one.value("settings", ordered_json())),
                           state.is_string() ? processors::fromBase64(state.get<std::string>()).value_or("")
                                             : std::string()});
    }
    return presets;
}

Result<void> writePresets(const fs::path& file, const processors::ProcessorInfo& info,
                          const std::vector<Preset>& presets)
{
    ordered_json list = ordered_json::array();
    for (const Preset& preset : presets) {
        list.push_back({{"name", preset.name.toStdString()},
                        {"bank", preset.bank.toStdString()},
                        {"settings", library::settingsToJson(preset.settings)}});
        if (!preset.state.empty())
            list.back()["state"] = processors::base64(preset.state);
    }
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
        return wrongRequest(info.name + " is not an LV2 plug-in: write its presets as JSON.");
    std::error_code failed;
    if (fs::exists(bundle, failed) && !holdsOnlyPresets(bundle))
        return wrongRequest(bundle.string() + " is there and holds other files: choose another name.");
    const fs::path beside = bundle.parent_path().empty() ? fs::path(".") : bundle.parent_path();
    fs::create_directories(beside, failed);
    QTemporaryDir fresh(QString::fromStdString((beside / ".presets-XXXXXX").string()));
    if (!fresh.isValid())
        return machineFailed(bundle.string() + " cannot be made (" + fresh.errorString().toStdString() + ").");
    const fs::path folder = fresh.path().toStdString() + "/bundle";
    fs::create_directory(folder, failed);
    if (auto written = writeText(folder / presets_name, presetsAsTurtle(info, presets)); !written)
        return written;
    if (auto written = writeText(folder / manifest_name, manifestAsTurtle(info, presets.size())); !written)
        return written;
    return putInPlace(folder, bundle);
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
