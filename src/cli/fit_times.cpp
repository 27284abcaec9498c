// SPDX-License-Identifier: GPL-3.0-or-later
#include "command.h"
#include "processors/note_value.h"

#include <iostream>

namespace hr::cli {

namespace {

struct FitTimesOptions {
    double tempo_bpm = 0;
    std::string meter = "4/4";
    bool json = false;
};

Result<int> run(const FitTimesOptions& options)
{
    constexpr double slowest_bpm = 1;
    constexpr double fastest_bpm = 1000;
    if (!(options.tempo_bpm >= slowest_bpm && options.tempo_bpm <= fastest_bpm))
        return wrongRequest("--tempo takes 1 to 1000 BPM.");
    const auto meter = processors::meterIn(options.meter);
    if (!meter)
        return wrongRequest("--meter takes beats and their note, as in 4/4 or 6/8; \"" + options.meter +
                            "\" is none.");
    auto times = nlohmann::ordered_json::array();
    for (const auto& [note, ms] : processors::noteTimes(options.tempo_bpm, *meter)) {
        times.push_back({{"note", note}, {"ms", ms}, {"hz", 1000 / ms}});
        if (!options.json)
            std::cout << note << '\t' << figure(ms, "ms", 2) << '\t' << figure(1000 / ms, "Hz", 3) << '\n';
    }
    if (options.json)
        print({{"times", times}});
    return 0;
}

} // namespace

void addFitTimes(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("fit-times", "note values at a tempo, in ms and Hz");
    const auto options = std::make_shared<FitTimesOptions>();
    command->add_option("--tempo", options->tempo_bpm, "quarter notes a minute")->required();
    command->add_option("--meter", options->meter, "beats and their note, for the bars; 4/4 when left out");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback([&context, options] { context.run = [options] { return run(*options); }; });
}

} // namespace hr::cli
