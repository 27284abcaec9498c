// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/abx.h"
#include "audition/trial/preference.h"
#include "audition/trial/rating.h"
#include "command.h"

#include <iostream>

namespace hr::cli {

namespace {

struct TrialOptions {
    int correct = 0;
    int of = 0;
    std::vector<std::string> rankings;
    std::vector<std::string> grades;
    bool json = false;
};

Result<int> run(const TrialOptions& options)
{
    if (options.rankings.empty() && options.grades.empty() && options.of == 0)
        return wrongRequest(
            "Say what was answered: --correct and --of of a trial between two, --ranking once for each pass of "
            "a preference trial, or --grades once for each pass of a rating trial.");
    const auto figures = !options.rankings.empty() ? audition::preferenceFigures(options.rankings)
                         : !options.grades.empty() ? audition::ratingFigures(options.grades)
                                                   : audition::abxFigures(options.correct, options.of);
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
    auto* command = app.add_subcommand("trial", "what the answers of a blind trial say");
    const auto options = std::make_shared<TrialOptions>();
    auto* correct = command->add_option("--correct", options->correct, "answers that were right");
    auto* of = command->add_option("--of", options->of, "rounds");
    auto* rankings = command->add_option("--ranking", options->rankings,
                                         "one pass of a preference trial, the best first: BAC; once for each");
    correct->needs(of);
    of->needs(correct);
    auto* grades = command->add_option(
        "--grades", options->grades,
        "one pass of a rating trial: reference=95,anchor_7k=50,anchor_3k5=20,A=80; once for each");
    rankings->excludes(correct)->excludes(of);
    grades->excludes(correct)->excludes(of)->excludes(rankings);
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback([&context, options] { context.run = [options] { return run(*options); }; });
}

} // namespace hr::cli
