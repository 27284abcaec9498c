// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the commands of hrack share. A command adds its options to the parser and leaves behind what
// to do; main() does it and turns the outcome into an exit status.
#pragma once

#include "bench/reading.h"
#include "library/store.h"

#include <CLI/CLI.hpp>
#include <functional>
#include <nlohmann/json.hpp>

namespace hr::cli {

struct Context {
    std::string data_directory;       ///< --data; empty: the default
    std::function<Result<int>()> run; ///< set by the command that was chosen; the exit status
    bool progress = false;            ///< standard error is a terminal

    Result<std::unique_ptr<library::Store>> openStore() const
    {
        return library::Store::open(data_directory.empty() ? library::defaultDataDirectory()
                                                           : std::filesystem::path(data_directory));
    }
};

/// Where `id` lies: as the catalogue knows it, else by looking through the folders.
Result<hosting::Location> find(const Context& context, const std::string& id);

/// The last failure of what is in quarantine; empty where it is not, or is to be tried `again`.
std::optional<library::QuarantineEntry> quarantined(const Context& context, const std::string& id, bool again);
std::string inQuarantine(const library::QuarantineEntry& entry);

/// The values of `info`'s parameters after a preset (empty: none; of its bundle, or of another one that a scan
/// has seen) and "KEY=VALUE" texts.
Result<std::vector<double>> settingsOf(const Context& context, processors::ProcessorInfo info,
                                       const std::string& preset, const std::vector<std::string>& texts);

/// One JSON document and a newline on standard output; text that is not valid UTF-8 is mended.
void print(const nlohmann::ordered_json& document);

using bench::orNull;

/// "-23.1 LUFS", or "none".
std::string figure(const std::optional<double>& value, const char* unit, int digits = 1);

void addReport(CLI::App& app, Context& context);
void addScan(CLI::App& app, Context& context);
void addList(CLI::App& app, Context& context);
void addShow(CLI::App& app, Context& context);
void addMeasure(CLI::App& app, Context& context);
void addMerge(CLI::App& app, Context& context);
void addRender(CLI::App& app, Context& context);
void addLoudness(CLI::App& app, Context& context);
void addSelfcheck(CLI::App& app, Context& context);
void addCollection(CLI::App& app, Context& context);
void addCompare(CLI::App& app, Context& context);
void addSimilar(CLI::App& app, Context& context);
void addTrial(CLI::App& app, Context& context);
void addDemo(CLI::App& app, Context& context);
void addFitTimes(CLI::App& app, Context& context);
void addOrder(CLI::App& app, Context& context);
void addPath(CLI::App& app, Context& context);
void addDeliver(CLI::App& app, Context& context);

} // namespace hr::cli
