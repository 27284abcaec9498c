// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "exchange/batch.h"

#include <iostream>

namespace hr::cli {

namespace {

Result<int> runMerge(const Context& context, const std::vector<std::string>& folders, const std::string& out,
                     bool json)
{
    auto store = context.openStore();
    if (!store)
        return tl::make_unexpected(store.error());
    const auto merged = exchange::merge(**store, {folders.begin(), folders.end()}, out);
    if (!merged)
        return tl::make_unexpected(merged.error());
    for (const std::string& problem : merged->unreadable)
        std::cerr << "hrack: " << problem << '\n';
    if (json)
        print({{"taken", merged->taken}, {"older", merged->older}, {"unreadable", merged->unreadable}});
    else
        std::cout << merged->taken << " taken, " << merged->older << " older than what was there, "
                  << merged->unreadable.size() << " not readable\n";
    return 0;
}

} // namespace

void addMerge(CLI::App& app, Context& context)
{
    struct MergeOptions {
        std::vector<std::string> folders;
        std::string out;
        bool json = false;
    };
    auto* command = app.add_subcommand("merge", "bring the folders of batches together");
    const auto options = std::make_shared<MergeOptions>();
    command->add_option("folders", options->folders, "that measure --all has written")->required();
    command->add_option("--out", options->out, "also as files into this folder");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback([&context, options] {
        context.run = [&context, options] {
            return runMerge(context, options->folders, options->out, options->json);
        };
    });
}

} // namespace hr::cli
