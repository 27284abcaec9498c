// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/compare_on.h"
#include "bench/programme.h"
#include "hosting/formats/format.h"
#include "opened.h"
#include "processors/reference/registry.h"
#include "signal/generators.h"

#include <iostream>

namespace hr::cli {

namespace {

struct CompareOptions {
    std::string first, second;
    std::vector<std::string> on;
    bool json = false, again = false;
};

constexpr double programme_rate_hz = 48000;

bool isFile(const std::string& name)
{
    std::error_code ignored;
    return std::filesystem::is_regular_file(name, ignored);
}

/// Both as long as the longer one.
void level(signal::AudioBuffer& a, signal::AudioBuffer& b)
{
    const std::size_t frames = std::max(a.frames(), b.frames());
    for (signal::AudioBuffer* one : {&a, &b}) {
        signal::AudioBuffer longer(one->channels(), frames, one->sampleRateHz());
        for (std::size_t c = 0; c < one->channels(); ++c)
            std::ranges::copy(one->channel(c), longer.channel(c).begin());
        *one = std::move(longer);
    }
}

Result<audition::Comparison> compareFiles(const CompareOptions& options)
{
    auto first = signal::readAudioFile(options.first);
    auto second = signal::readAudioFile(options.second);
    if (!first || !second)
        return tl::make_unexpected(first ? second.error() : first.error());
    if (first->channels() != second->channels() || first->sampleRateHz() != second->sampleRateHz())
        return wrongRequest(options.first + " and " + options.second +
                            " differ in channels or sample rate: bring them to the same first.");
    level(*first, *second);
    return audition::compare(*first, *second);
}

Result<std::vector<signal::AudioBuffer>> sourcesOf(const CompareOptions& options)
{
    std::vector<signal::AudioBuffer> sources;
    if (options.on.empty())
        sources.push_back(signal::onChannels(bench::programme(programme_rate_hz), 2, programme_rate_hz));
    for (const std::string& file : options.on) {
        auto source = signal::readAudioFile(file);
        if (!source)
            return tl::make_unexpected(source.error());
        if (source->channels() > 2)
            return wrongRequest(file + " has more than two channels: mix it down first.");
        sources.push_back(std::move(*source));
    }
    return sources;
}

using Sounds = std::vector<signal::AudioBuffer>;

/// What a processor or chain makes of each source.
OpenedOr<Sounds> heard(const Context& context, const CompareOptions& options, const std::string& name,
                       const Sounds& sources)
{
    auto opened = open(context, {.id = name, .again = options.again});
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return OpenedOr<Sounds>(tl::make_unexpected((*opened).error()));
    Sounds all;
    for (const signal::AudioBuffer& source : sources) {
        auto sound = audition::heardThrough(*(*opened)->instance, (*opened)->values, source);
        if (!sound)
            return OpenedOr<Sounds>(tl::make_unexpected(notOpened(sound.error(), name)));
        all.push_back(std::move(*sound));
    }
    return OpenedOr<Sounds>(std::move(all));
}

nlohmann::ordered_json toJson(const audition::Comparison& c)
{
    return {{"offset_samples", c.offset_samples},
            {"gain_db", orNull(c.gain_db)},
            {"residual_db", orNull(c.residual_db)},
            {"response_difference_db", orNull(c.response_difference_db)},
            {"same", c.same}};
}

int report(const CompareOptions& options, const audition::Comparison& worst)
{
    if (options.json)
        print(toJson(worst));
    else
        std::cout << (worst.same ? "the same" : "not the same") << ": the second is later by "
                  << figure(worst.offset_samples, "samples", 3) << ", takes " << figure(worst.gain_db, "dB", 2)
                  << " to match, and leaves a difference of " << figure(worst.residual_db, "dB") << ".\n";
    return 0;
}

Result<int> run(const Context& context, const CompareOptions& options)
{
    const auto isSound = [](const std::string& name) { return isFile(name) && !isChainFile(name); };
    for (const std::string& name : {options.first, options.second})
        if (!isFile(name) && !hosting::formatOfId(name) && !processors::isReferenceId(name))
            return wrongRequest("There is no file " + name +
                                ", and it is not a processor id: check the path, or write " +
                                hosting::idForms() + ".");
    if (isSound(options.first) != isSound(options.second))
        return wrongRequest("compare takes two audio files, or two processors or chains.");
    if (isSound(options.first)) {
        auto compared = compareFiles(options);
        return compared ? Result<int>(report(options, *compared)) : tl::make_unexpected(compared.error());
    }
    auto sources = sourcesOf(options);
    if (!sources)
        return tl::make_unexpected(sources.error());
    std::vector<Sounds> sounds;
    for (const std::string& name : {options.first, options.second}) {
        auto one = heard(context, options, name, *sources);
        if (!one)
            return tl::make_unexpected(one.error());
        if (!*one) {
            const NotOpened& failed = (*one).error();
            if (options.json)
                print({{"id", name}, {"failure", faultJson(failed.fault)}});
            std::cerr << "hrack: " << failed.sentence << '\n';
            return static_cast<int>(Blame::Processor);
        }
        sounds.push_back(std::move(**one));
    }
    return report(options, audition::mostApart(sounds[0], sounds[1]).comparison);
}

} // namespace

void addCompare(CLI::App& app, Context& context)
{
    auto* command =
        app.add_subcommand("compare", "how far two processors, chains or audio files are from the same");
    const auto options = std::make_shared<CompareOptions>();
    command->add_option("A", options->first, "an id, a chain file (.json) or an audio file")->required();
    command->add_option("B", options->second, "the same")->required();
    command->add_option("--on", options->on,
                        "audio files to compare them on; a made-up programme when left out");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try them even though they are in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
