// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/abx.h"
#include "command.h"

#include <iostream>

namespace hr::cli {

namespace {

struct TrialOptions {
    int correct = 0;
    int of = 0;
    bool json = false;
};

Result<int> run(const TrialOptions& options)
{
    const auto figures = audition::abxFigures(options.correct, options.of);
    if (!figures)
        return tl::make_unexpected(figures.error());
    if (options.json)
        print(*figures);
    else
        std::cout << (*figures)["sentence"].get<std::string>() << '\n';
    return 0;
}

} // namespace

void addTrial(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("trial", "what a count of right answers in a blind trial says");
    const auto options = std::make_shared<TrialOptions>();
    command->add_option("--correct", options->correct, "answers that were right")->required();
    command->add_option("--of", options->of, "rounds")->required();
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback([&context, options] { context.run = [options] { return run(*options); }; });
}

} // namespace hr::cli
