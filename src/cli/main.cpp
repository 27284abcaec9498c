// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack: the bench, the catalogue and the loudness meter without a display.
#include "command.h"
#include "print/pdf.h"
#include "signal/large_blocks.h"

#include <QCoreApplication>
#include <algorithm>
#include <clocale>
#include <csignal>
#include <cstdio>
#include <iostream>
#include <memory>
#include <span>
#include <string_view>
#include <unistd.h>

namespace {

/// Exit statuses of the contract: 1 wrong request, 2 processor failed, 3 machine failed.
int fail(const hr::Error& error)
{
    std::string line = error.text;
    for (char& c : line)
        if (c == '\n')
            c = ' ';
    std::fprintf(stderr, "hrack: %s\n", line.c_str());
    return static_cast<int>(error.blame);
}

/// A word that nobody expected is named, before whatever else is missing because of it.
std::string whatIsWrong(const CLI::App& app, const CLI::ParseError& error)
{
    const auto unexpected = app.remaining(true);
    if (unexpected.empty())
        return app.get_subcommands().empty() && dynamic_cast<const CLI::RequiredError*>(&error)
                   ? "Which command? scan, list, show and measure are some"
                   : error.what();
    const auto within = app.get_subcommands();
    const std::string where = within.empty() ? "hrack" : "hrack " + within.front()->get_name();
    const std::string& word = unexpected.front();
    const char* kind = word.starts_with('-') ? "an option" : within.empty() ? "a command" : "an argument";
    return "\"" + word + "\" is not " + kind + " of " + where;
}

/// Qt SQL finds its driver through it. Fonts and pictures are loaded only where a PDF is asked for.
std::unique_ptr<QCoreApplication> applicationFor(int& argc, char** argv)
{
    const std::span words(argv, static_cast<std::size_t>(argc));
    const bool draws = std::ranges::any_of(words, [](const char* word) {
        return std::string_view(word) == "pdf" || std::string_view(word) == "--format=pdf";
    });
    if (draws)
        return hr::print::headlessApplication(argc, argv);
    return std::make_unique<QCoreApplication>(argc, argv);
}

} // namespace

int main(int argc, char** argv)
{
    hr::signal::giveLargeBlocksBack();
    std::signal(SIGXFSZ,
                SIG_IGN); // a write beyond the limit fails, which is said, instead of ending the program
    const auto qt = applicationFor(argc, argv);
    std::setlocale(LC_NUMERIC, "C"); // Qt takes the user's, whose comma would end "0.5" at its point
    CLI::App app("Honest Rack without a display: scan, measure, meter.", "hrack");
    app.set_version_flag("--version", HONEST_RACK_VERSION);
    app.require_subcommand(1);
    app.fallthrough();

    hr::cli::Context context;
    context.progress = isatty(STDERR_FILENO) == 1;
    app.add_option("--data", context.data_directory, "data directory (catalogue, notebook, settings)");
    hr::cli::addScan(app, context);
    hr::cli::addList(app, context);
    hr::cli::addShow(app, context);
    hr::cli::addMeasure(app, context);
    hr::cli::addMerge(app, context);
    hr::cli::addRender(app, context);
    hr::cli::addLoudness(app, context);
    hr::cli::addSelfcheck(app, context);
    hr::cli::addCollection(app, context);
    hr::cli::addCompare(app, context);
    hr::cli::addSimilar(app, context);
    hr::cli::addReport(app, context);
    hr::cli::addTrial(app, context);
    hr::cli::addDemo(app, context);
    hr::cli::addOrder(app, context);
    hr::cli::addDeliver(app, context);
    hr::cli::addPath(app, context);
    hr::cli::addFitTimes(app, context);

    try {
        app.parse(argc, argv);
    } catch (const CLI::CallForHelp& help) {
        return app.exit(help);
    } catch (const CLI::CallForVersion& version) {
        return app.exit(version);
    } catch (const CLI::ParseError& error) {
        return fail({hr::Blame::Request, whatIsWrong(app, error) + " (--help has the rest)."});
    }
    const auto status = context.run();
    std::cout.flush();
    if (status && !std::cout)
        return fail({hr::Blame::Machine, "Writing to standard output failed: is the disk full?"});
    return status ? *status : fail(status.error());
}
