// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/scan.h"
#include "opened.h"

#include <algorithm>
#include <cstdio>
#include <iostream>

namespace hr::cli {

namespace {

struct ScanOptions {
    std::vector<std::string> paths;
    bool json = false;
};

nlohmann::ordered_json toJson(const library::ScanReport& report)
{
    auto quarantined = nlohmann::ordered_json::array();
    for (const library::QuarantineEntry& q : report.quarantined) {
        nlohmann::ordered_json entry{{"id", q.id.toStdString()}, {"path", q.bundle.toStdString()}};
        entry.update(faultJson(q.fault));
        quarantined.push_back(entry);
    }
    auto left_out = nlohmann::ordered_json::array();
    for (const library::Catalogue::LeftOut& l : report.left_out)
        left_out.push_back({{"id", l.id.toStdString()},
                            {"name", l.name.toStdString()},
                            {"path", l.bundle.toStdString()},
                            {"reason", l.reason.toStdString()}});
    auto remarks = nlohmann::ordered_json::array();
    for (const auto& [id, peak_dbfs] : report.absurd_output_dbfs)
        remarks.push_back({{"id", id.toStdString()}, {"remark", "absurd-output"}, {"peak_dbfs", peak_dbfs}});
    auto twice = nlohmann::ordered_json::array();
    for (const QString& id : report.claimed_twice)
        twice.push_back(id.toStdString());
    return {{"claimed_twice", twice},        {"found", report.found},
            {"added", report.added},         {"changed", report.changed},
            {"unchanged", report.unchanged}, {"quarantined", quarantined},
            {"left_out", left_out},          {"remarks", remarks},
            {"seconds", report.seconds}};
}

Result<int> run(const Context& context, const ScanOptions& options)
{
    std::vector<std::filesystem::path> added;
    for (const std::string& path : options.paths) {
        std::error_code ignored;
        if (!std::filesystem::is_directory(path, ignored))
            return wrongRequest("There is no folder " + path + ": check --path.");
        added.push_back(std::filesystem::absolute(path));
    }
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    if (!(*store)->database().notice().isEmpty())
        std::fprintf(stderr, "hrack: %s\n", qPrintable((*store)->database().notice()));
    library::ScanOptions scan;
    auto folders = (*store)->folders.used();
    if (!folders)
        return tl::make_unexpected(folders.error());
    scan.folders = std::move(*folders);
    std::ranges::copy(added, std::back_inserter(scan.folders));
    if (context.progress)
        scan.progress = [](int done, int of, const QString& bundle) {
            std::fprintf(stderr, "%d of %d  %s\n", done, of, qPrintable(bundle));
        };
    auto report = library::scan((*store)->catalogue, scan);
    if (!report)
        return tl::make_unexpected(report.error());
    if (options.json) {
        print(toJson(*report));
        return 0;
    }
    std::cout << report->found << " processors: " << report->added << " new, " << report->changed
              << " changed, " << report->unchanged << " as before; " << report->quarantined.size()
              << " in quarantine, " << report->left_out.size() << " not hosted.\n";
    for (const QString& id : report->claimed_twice)
        std::cout << "  " << id.toStdString() << " is in two bundles: the first by its path is used.\n";
    for (const library::Catalogue::LeftOut& l : report->left_out)
        std::cout << "  " << l.id.toStdString() << " is not hosted: " << l.reason.toStdString() << ".\n";
    for (const auto& [id, peak_dbfs] : report->absurd_output_dbfs)
        std::cout << "  " << id.toStdString() << " puts out " << figure(peak_dbfs, "dBFS", 0)
                  << ": it is used, behind the safety limiter.\n";
    for (const library::QuarantineEntry& q : report->quarantined)
        std::cout << "  " << q.id.toStdString() << " " << hosting::sentence(q.fault) << '\n';
    return 0;
}

} // namespace

void addScan(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand(
        "scan", "find LV2 and LADSPA processors, try each, record it or put it in quarantine");
    const auto options = std::make_shared<ScanOptions>();
    command->add_option("--path", options->paths, "a folder to look in as well")->expected(1)->take_all();
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
