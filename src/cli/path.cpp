// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/along_path.h"
#include "exchange/chain_file.h"
#include "opened.h"

#include <iostream>

namespace hr::cli {

namespace {

struct PathOptions {
    std::string chain, on;
    audition::PathQuestion tone;
    bool json = false, again = false;
};

nlohmann::ordered_json toJson(const audition::PathPoint& point)
{
    auto response = nlohmann::ordered_json::array();
    for (const auto& [hz, db] : point.response)
        response.push_back({hz, db});
    const auto headroom = point.true_peak_dbtp ? std::optional(-*point.true_peak_dbtp) : std::nullopt;
    return {{"after", point.after},
            {"loudness_lufs", orNull(point.loudness_lufs)},
            {"true_peak_dbtp", orNull(point.true_peak_dbtp)},
            {"sample_peak_dbfs", orNull(point.sample_peak_dbfs)},
            {"headroom_db", orNull(headroom)},
            {"latency_samples", point.latency_samples},
            {"gain_db", orNull(point.gain_db)},
            {"ratio", orNull(point.ratio)},
            {"response", response}};
}

int report(const PathOptions& options, const audition::AlongPath& path)
{
    auto points = nlohmann::ordered_json::array();
    for (const audition::PathPoint& point : path.points) {
        points.push_back(toJson(point));
        if (!options.json)
            std::cout << point.after << '\t' << figure(point.loudness_lufs, "LUFS") << '\t'
                      << figure(point.true_peak_dbtp, "dBTP") << '\t' << point.latency_samples << " samples\t"
                      << figure(point.gain_db, "dB", 2) << '\t' << figure(point.ratio, ": 1", 2) << '\n';
    }
    if (options.json)
        print({{"points", points},
               {"overload_arises", path.overload_arises ? nlohmann::ordered_json(*path.overload_arises)
                                                        : nlohmann::ordered_json()},
               {"overload_heard", path.overload_heard}});
    else if (path.overload_arises)
        std::cout << "It is louder than full scale from " << *path.overload_arises << " on, which is "
                  << (path.overload_heard ? "heard at the end.\n" : "not heard at the end.\n");
    return 0;
}

Result<int> run(const Context& context, const PathOptions& options)
{
    if (!(options.tone.level_dbfs >= -60 && options.tone.level_dbfs <= 23))
        return wrongRequest("--level takes -60 to 23 dBFS.");
    if (!(options.tone.frequency_hz >= 20 && options.tone.frequency_hz <= 20000))
        return wrongRequest("--frequency takes 20 to 20000 Hz.");
    auto chain = exchange::readChain(options.chain);
    if (!chain)
        return tl::make_unexpected(chain.error());
    const auto in = signal::AudioFileReader::open(options.on);
    if (!in)
        return tl::make_unexpected(in.error());
    if (options.tone.frequency_hz > 0.45 * in->sampleRateHz())
        return wrongRequest("--frequency lies too near to half the rate of " + options.on + ".");
    ChainOpener opener(context, options.chain, options.again, in->sampleRateHz());
    auto path = audition::alongPath(
        *chain, [&](const chain::Chain& part) { return opener.openToPlay(part); }, options.on, options.tone);
    if (!path)
        return tl::make_unexpected(path.error());
    if (*path)
        return report(options, **path);
    return opener.reportFailure(path->error(), options.json);
}

} // namespace

void addPath(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("path", "levels, gain and response after each node of a chain");
    const auto options = std::make_shared<PathOptions>();
    command->add_option("CHAIN", options->chain, "a chain file")->required();
    command->add_option("--on", options->on, "audio file whose levels are told")->required();
    command->add_option("--level", options->tone.level_dbfs,
                        "of the tone for gain and ratio; -12 dBFS when left out");
    command->add_option("--frequency", options->tone.frequency_hz, "of the tone; 1000 Hz when left out");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try stages even though they are in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
