// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/delivery.h"
#include "audition/delivery_places.h"
#include "exchange/chain_file.h"
#include "opened.h"

#include <cstdio>
#include <iostream>
#include <set>

namespace hr::cli {

namespace {

namespace fs = std::filesystem;

struct DeliverOptions {
    std::vector<std::string> files, on;
    std::string chain, target, out, format = "wav";
    std::optional<int> bits;
    std::optional<double> rate_hz;
    bool list = false, json = false, again = false;

    const std::vector<std::string>& sources() const { return chain.empty() ? files : on; }
};

using Job = audition::DeliveryPlace; // nothing is written where `written` is empty

struct Outcome {
    Job job;
    audition::Delivered delivered;
    std::vector<audition::DeliveryCheck> checks;

    bool passes() const { return std::ranges::all_of(checks, &audition::DeliveryCheck::pass); }
};

int listTargets(bool json)
{
    auto targets = nlohmann::ordered_json::array();
    for (const audition::DeliveryTarget& target : audition::shippedTargets()) {
        targets.push_back(audition::toJson(target));
        if (!json)
            std::cout << target.name << '\t' << target.source << '\n';
    }
    if (json)
        print({{"targets", targets}});
    return 0;
}

Result<audition::DeliveryTarget> targetOf(const std::string& name)
{
    const auto& shipped = audition::shippedTargets();
    const auto found = std::ranges::find(shipped, name, &audition::DeliveryTarget::name);
    if (found != shipped.end())
        return *found;
    std::error_code ignored;
    if (!fs::exists(name, ignored))
        return wrongRequest("There is no target \"" + name +
                            "\", and no file of that name: --list has the targets.");
    return audition::readTarget(name);
}

Result<audition::DeliveryFormat> formatOf(const DeliverOptions& options)
{
    audition::DeliveryFormat format;
    if (options.format != "wav" && options.format != "flac")
        return wrongRequest("--format takes wav or flac.");
    format.kind = options.format == "flac" ? signal::FileKind::Flac : signal::FileKind::Wav;
    const int bits = options.bits.value_or(24);
    if (bits != 16 && bits != 24 && bits != 32)
        return wrongRequest("--bits takes 16, 24 or 32.");
    if (format.kind == signal::FileKind::Flac && bits == 32)
        return wrongRequest("FLAC takes 16 or 24 bits; --bits 32 goes with --format wav.");
    format.samples = bits == 16   ? signal::SampleFormat::Pcm16
                     : bits == 24 ? signal::SampleFormat::Pcm24
                                  : signal::SampleFormat::Float32;
    if (options.rate_hz && !(*options.rate_hz >= 8000 && *options.rate_hz <= 384000))
        return wrongRequest("--rate takes 8000 to 384000 Hz.");
    format.sample_rate_hz = options.rate_hz;
    return format;
}

/// Refused before anything is written: two sources that would get one name, and a source that would be
/// overwritten.
Result<std::vector<Job>> jobsOf(const DeliverOptions& options)
{
    if (options.out.empty()) {
        std::vector<Job> jobs;
        for (const std::string& source : options.sources())
            jobs.push_back({source, {}});
        return jobs;
    }
    return audition::deliveryPlaces({options.sources().begin(), options.sources().end()}, options.out,
                                    options.format);
}

Result<tl::expected<Outcome, hosting::Fault>> carryOut(const Job& job, const audition::DeliveryTarget& target,
                                                       const audition::DeliveryFormat& format,
                                                       const audition::DeliveryChain& chain)
{
    Outcome outcome{job, {}, {}};
    Result<audition::Delivered> delivered = audition::Delivered{};
    if (!job.written.empty())
        delivered = audition::deliver(job.source, chain, job.written, format);
    else if (chain.instance)
        delivered = audition::tryDelivery(job.source, chain);
    else if (auto file = audition::deliveredFile(job.source))
        delivered = audition::Delivered{{}, *file, 0};
    else
        delivered = tl::make_unexpected(file.error());
    if (!delivered)
        return tl::make_unexpected(delivered.error());
    if (delivered->fault)
        return tl::expected<Outcome, hosting::Fault>(tl::make_unexpected(*delivered->fault));
    outcome.delivered = std::move(*delivered);
    outcome.checks = audition::checksOf(target, outcome.delivered.file);
    return tl::expected<Outcome, hosting::Fault>(std::move(outcome));
}

nlohmann::ordered_json toJson(const Outcome& outcome)
{
    auto checks = nlohmann::ordered_json::array();
    for (const audition::DeliveryCheck& check : outcome.checks)
        checks.push_back({{"figure", check.limit.figure},
                          {"value", orNull(check.value)},
                          {"at_least", orNull(check.limit.at_least)},
                          {"at_most", orNull(check.limit.at_most)},
                          {"pass", check.pass},
                          {"change_db", orNull(check.change_db)}});
    const auto& written = outcome.job.written;
    return {{"path", outcome.job.source.string()},
            {"written", written.empty() ? nlohmann::ordered_json() : nlohmann::ordered_json(written.string())},
            {"pass", outcome.passes()},
            {"checks", checks}};
}

void tell(const Outcome& outcome)
{
    std::cout << outcome.job.source.string() << (outcome.passes() ? "  passes" : "  does not pass") << '\n';
    for (const audition::DeliveryCheck& check : outcome.checks) {
        std::cout << "  " << check.limit.figure << ' ' << figure(check.value, "", 2)
                  << (check.pass ? " is within its limits" : " is not within its limits");
        if (!check.pass && check.change_db)
            std::cout << ": change the level by " << figure(check.change_db, "dB", 2);
        std::cout << '\n';
    }
}

/// A chain is opened for the rate of each source.
Result<int> deliverAll(const Context& context, const DeliverOptions& options,
                       const audition::DeliveryTarget& target, const audition::DeliveryFormat& format,
                       const std::vector<Job>& jobs)
{
    std::optional<chain::Chain> chain;
    if (!options.chain.empty()) {
        auto read = exchange::readChain(options.chain);
        if (!read)
            return tl::make_unexpected(read.error());
        chain = std::move(*read);
    }
    auto files = nlohmann::ordered_json::array();
    bool all_pass = true;
    for (const Job& job : jobs) {
        const auto in = signal::AudioFileReader::open(job.source);
        if (!in)
            return tl::make_unexpected(in.error());
        ChainOpener opener(context, options.chain, options.again, in->sampleRateHz());
        audition::DeliveryChain through;
        audition::OpenedChain opened;
        if (chain) {
            auto one = opener.openToPlay(*chain);
            if (!one)
                return tl::make_unexpected(one.error());
            if (!*one)
                return opener.reportFailure(one->error(), options.json);
            opened = std::move(**one);
            through = {opened.instance.get(), opened.values, {}};
        }
        auto outcome = carryOut(job, target, format, through);
        if (!outcome)
            return tl::make_unexpected(outcome.error());
        if (!*outcome)
            return opener.reportFailure(outcome->error(), options.json);
        if ((*outcome)->delivered.clipped_samples > 0)
            std::cerr << "hrack: " << job.written.string() << ": " << (*outcome)->delivered.clipped_samples
                      << " samples clip; lower the level, or write 32-bit float (--bits 32).\n";
        all_pass = all_pass && (*outcome)->passes();
        files.push_back(toJson(**outcome));
        if (!options.json)
            tell(**outcome);
        else if (context.progress)
            std::fprintf(stderr, "%zu of %zu files\n", files.size(), jobs.size());
    }
    if (options.json)
        print({{"target", target.name}, {"files", files}});
    return all_pass ? 0 : static_cast<int>(Blame::Processor);
}

Result<int> run(const Context& context, const DeliverOptions& options)
{
    if (options.list)
        return listTargets(options.json);
    if (options.target.empty())
        return wrongRequest("deliver takes --target NAME or FILE; --list has the names.");
    if (options.chain.empty() != options.on.empty() || options.chain.empty() == options.files.empty())
        return wrongRequest(
            "deliver takes audio files, or --chain CHAIN with --on and the files to play through it.");
    if (options.out.empty() && (options.bits || options.rate_hz))
        return wrongRequest("--bits and --rate say how a file is written: they go with --out.");
    auto target = targetOf(options.target);
    if (!target)
        return tl::make_unexpected(target.error());
    auto format = formatOf(options);
    if (!format)
        return tl::make_unexpected(format.error());
    auto jobs = jobsOf(options);
    if (!jobs)
        return tl::make_unexpected(jobs.error());
    return deliverAll(context, options, *target, *format, *jobs);
}

} // namespace

void addDeliver(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("deliver", "check files against a target, and write them in its format");
    const auto options = std::make_shared<DeliverOptions>();
    command->add_option("FILES", options->files, "audio files");
    command->add_option("--chain", options->chain, "a chain file to play the files of --on through");
    command->add_option("--on", options->on, "audio files for the chain");
    command->add_option("--target", options->target, "one of --list, or a file of such limits");
    command->add_option("--out", options->out, "folder to write into; nothing is written when left out");
    command->add_option("--bits", options->bits, "16, 24 or 32; 24 when left out");
    command->add_option("--rate", options->rate_hz, "sample rate in Hz; that of the source when left out");
    command->add_option("--format", options->format, "wav or flac");
    command->add_flag("--list", options->list, "name the targets that are shipped");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try stages even though they are in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
