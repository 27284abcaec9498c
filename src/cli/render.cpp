// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/company.h"
#include "command.h"
#include "exchange/chain_file.h"
#include "opened.h"

#include <cstdio>
#include <iostream>
#include <unistd.h>

namespace hr::cli {

namespace {

struct RenderOptions {
    std::string chain, processor, preset, in, out;
    std::vector<std::string> settings;
    double tail_s = 0;
    int bits = 32;
    bool match = false, json = false, again = false;
};

int reportFailure(const RenderOptions& options, const NotOpened& failed)
{
    if (options.json)
        print({{"failure", faultJson(failed.fault)}});
    std::cerr << "hrack: " << failed.sentence << '\n';
    return static_cast<int>(Blame::Processor);
}

int report(const RenderOptions& options, const audition::Rendered& rendered,
           const nlohmann::ordered_json& parts = {})
{
    if (!rendered.remark.empty())
        std::cerr << "hrack: " << options.in << ": " << rendered.remark << ".\n";
    if (rendered.clipped_samples > 0)
        std::cerr << "hrack: " << options.out << ": " << rendered.clipped_samples << " samples clip at "
                  << options.bits << " bits; lower the level, or write 32-bit float (--bits 32).\n";
    if (options.json) {
        nlohmann::ordered_json document{{"loudness_in_lufs", orNull(rendered.loudness_in_lufs)},
                                        {"loudness_out_lufs", orNull(rendered.loudness_out_lufs)},
                                        {"gain_db", rendered.gain_db},
                                        {"true_peak_dbtp", orNull(rendered.true_peak_dbtp)},
                                        {"clipped_samples", rendered.clipped_samples},
                                        {"realtime_factor", rendered.realtime_factor}};
        if (!parts.is_null())
            document["parts"] = parts;
        print(document);
        return 0;
    }
    std::cout << options.out << ": loudness before " << figure(rendered.loudness_in_lufs, "LUFS") << ", after "
              << figure(rendered.loudness_out_lufs, "LUFS");
    if (options.match)
        std::cout << ", matched by " << figure(rendered.gain_db, "dB");
    std::cout << ", true peak " << figure(rendered.true_peak_dbtp, "dBTP") << '\n';
    return 0;
}

audition::RenderOrder orderOf(const RenderOptions& options)
{
    return {options.in, options.out, options.tail_s, options.match,
            options.bits == 16   ? signal::SampleFormat::Pcm16
            : options.bits == 24 ? signal::SampleFormat::Pcm24
                                 : signal::SampleFormat::Float32};
}

/// Beside the result, and gone with whoever made it.
class FileBeside {
public:
    explicit FileBeside(const std::filesystem::path& file)
        : m_path(file.string() + ".sum-" + std::to_string(getpid()) + ".wav")
    {
    }
    ~FileBeside()
    {
        std::error_code ignored;
        std::filesystem::remove(m_path, ignored);
    }
    FileBeside(const FileBeside&) = delete;
    FileBeside& operator=(const FileBeside&) = delete;
    const std::filesystem::path& path() const { return m_path; }

private:
    std::filesystem::path m_path;
};

/// Parts in step, then the chain on their sum.
Result<int> runTogether(const Context& context, const RenderOptions& options)
{
    if (!options.in.empty())
        return wrongRequest(options.chain + " holds parts with files of their own: leave out --in.");
    auto company = exchange::readCompany(options.chain);
    if (!company)
        return tl::make_unexpected(company.error());
    const FileBeside sum(options.out);
    audition::CompanyOrder parts;
    parts.find = [&](const std::string& file) { return exchange::partFile(options.chain, file); };
    ChainOpener opener(context, options.chain, options.again, processors::described_rate_hz);
    auto played = audition::playTogether(
        *company, [&](const chain::Chain& chain) { return opener.openToPlay(chain); }, sum.path(), parts);
    if (!played)
        return tl::make_unexpected(played.error());
    if (!*played)
        return opener.reportFailure(played->error(), options.json);
    auto opened = opener.openToPlay(company->sum);
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return opener.reportFailure(opened->error(), options.json);
    audition::RenderOrder order = orderOf(options);
    order.in = sum.path();
    auto rendered = audition::render(*(*opened)->instance, (*opened)->values, false, order);
    if (!rendered)
        return tl::make_unexpected(rendered.error());
    if (rendered->fault)
        return opener.reportFailure(*rendered->fault, options.json);
    auto levels = nlohmann::ordered_json::array();
    for (const auto& level : (*played)->levels) {
        levels.push_back({{"id", level.id},
                          {"loudness_lufs", orNull(level.loudness_lufs)},
                          {"true_peak_dbtp", orNull(level.true_peak_dbtp)}});
        if (!options.json)
            std::cout << level.id << '\t' << figure(level.loudness_lufs, "LUFS") << '\t'
                      << figure(level.true_peak_dbtp, "dBTP") << '\n';
    }
    return report(options, *rendered, levels);
}

Result<int> run(const Context& context, const RenderOptions& options)
{
    if (options.chain.empty() == options.processor.empty())
        return wrongRequest("render takes either --chain FILE or --processor ID.");
    if (!(options.tail_s >= 0 && options.tail_s <= 3600))
        return wrongRequest("--tail takes 0 to 3600 seconds.");
    if (options.bits != 16 && options.bits != 24 && options.bits != 32)
        return wrongRequest("--bits takes 16, 24 or 32.");
    if (!options.chain.empty() && exchange::isCompanyFile(options.chain))
        return runTogether(context, options);
    if (options.in.empty())
        return wrongRequest("render needs --in FILE: only a file with parts has sounds of its own.");
    const auto in = signal::AudioFileReader::open(options.in); // for its rate, which ranges may depend on
    if (!in)
        return tl::make_unexpected(in.error());
    const std::string id = options.chain.empty() ? options.processor : options.chain;
    auto opened = open(context, {id, options.preset, options.settings, options.again, in->sampleRateHz(),
                                 in->channels() == 1});
    if (!opened)
        return tl::make_unexpected(opened.error());
    if (!*opened)
        return reportFailure(options, (*opened).error());
    auto rendered =
        audition::render(*(*opened)->instance, (*opened)->values, (*opened)->mono, orderOf(options));
    if (!rendered)
        return tl::make_unexpected(rendered.error());
    return rendered->fault ? reportFailure(options, notOpened(*rendered->fault, id))
                           : report(options, *rendered);
}

} // namespace

void addRender(CLI::App& app, Context& context)
{
    auto* command = app.add_subcommand("render", "play a file through a chain or one processor into a file");
    const auto options = std::make_shared<RenderOptions>();
    command->add_option("--chain", options->chain, "a chain file, or one with parts in step");
    command->add_option("--processor", options->processor, "lv2:URI, ladspa:LIBRARY:LABEL or reference:NAME");
    command->add_option("--set", options->settings, "KEY=VALUE; as often as needed")->expected(1)->take_all();
    command->add_option("--preset", options->preset, "one of its presets");
    command->add_option("--in", options->in, "audio file to read; a file with parts has its own");
    command->add_option("--out", options->out, "WAV file to write")->required();
    command->add_option("--tail", options->tail_s, "seconds rendered behind the end");
    command->add_option("--bits", options->bits, "16 or 24; 32-bit float when left out");
    command->add_flag("--match", options->match, "bring the result to the input's loudness");
    command->add_flag("--json", options->json, "one JSON document on standard output");
    command->add_flag("--again", options->again, "try it even though it is in quarantine");
    command->callback(
        [&context, options] { context.run = [&context, options] { return run(context, *options); }; });
}

} // namespace hr::cli
