// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/loudness.h"
#include "command.h"

#include <atomic>
#include <iostream>
#include <thread>

namespace hr::cli {

namespace {

struct LoudnessOptions {
    std::vector<std::string> files;
    bool json = false;
};

using Measured = std::vector<Result<signal::FileLoudness>>;

/// All files, several at once on all cores.
Measured measureAll(const std::vector<std::string>& files)
{
    Measured results(files.size(), wrongRequest("not measured"));
    std::atomic<std::size_t> next{0};
    const auto work = [&] {
        for (std::size_t i = next.fetch_add(1); i < files.size(); i = next.fetch_add(1))
            results[i] = signal::measureFileLoudness(files[i]);
    };
    std::vector<std::jthread> pool;
    for (std::size_t i = 0;
         i < std::min<std::size_t>(files.size(), std::max(1U, std::thread::hardware_concurrency())); ++i)
        pool.emplace_back(work);
    pool.clear(); // joins
    return results;
}

Result<int> run(const LoudnessOptions& options)
{
    const Measured measured = measureAll(options.files);
    auto files = nlohmann::ordered_json::array();
    for (std::size_t i = 0; i < measured.size(); ++i) {
        if (!measured[i])
            return tl::make_unexpected(measured[i].error());
        const signal::Loudness& l = measured[i]->loudness;
        files.push_back({{"path", options.files[i]},
                         {"integrated_lufs", orNull(l.integrated_lufs)},
                         {"momentary_max_lufs", orNull(l.momentary_max_lufs)},
                         {"short_term_max_lufs", orNull(l.short_term_max_lufs)},
                         {"range_lu", orNull(l.range_lu)},
                         {"true_peak_dbtp", orNull(l.true_peak_dbtp)},
                         {"sample_peak_dbfs", orNull(l.sample_peak_dbfs)},
                         {"channels", measured[i]->channels},
                         {"sample_rate", measured[i]->sample_rate_hz},
                         {"seconds", measured[i]->seconds}});
        if (!options.json)
            std::cout << options.files[i] << "  " << figure(l.integrated_lufs, "LUFS") << "  range "
                      << figure(l.range_lu, "LU") << "  true peak " << figure(l.true_peak_dbtp, "dBTP") << '\n';
    }
    if (options.json)
        print({{"files", files}});
    return 0;
}

} // namespace

void addLoudness(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("loudness", "programme loudness and true peak of audio files");
    const auto options = std::make_shared<LoudnessOptions>();
    command->add_option("files", options->files)->required();
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->callback([&context, options] { context.run = [options] { return run(*options); }; });
}

} // namespace hr::cli
