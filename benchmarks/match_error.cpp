// SPDX-License-Identifier: GPL-3.0-or-later
//
// How far the loudness of every specimen, at its defaults and at each of its presets, is from the source's at
// the engine's own output tap once it is matched, over every demo source. Usage: bench-match-error [SOURCES]
// (8). Eight at a time play the loop five times; the last time is measured. Baseline: the same unmatched. What
// varies from pass to pass by more than the error allowed is told apart: no gain can mend that.
#include "audition/difference.h"
#include "audition/engine.h"
#include "audition/fairness.h"
#include "hosting/scanner.h"
#include "processors/settings.h"
#include "sources.h"

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <thread>

using namespace hr;
using namespace std::chrono_literals;

namespace {

constexpr std::size_t at_once = 8;
constexpr int settling_rounds = 4;

struct Candidate {
    std::string name;
    audition::Treatment treatment;
};

std::vector<Candidate> allCandidates()
{
    std::vector<Candidate> all;
    hosting::TimeLimits quick{2000ms, 700ms};
    const auto bundle = std::filesystem::path(HR_SPECIMENS) / "honest-rack-specimens.lv2";
    for (const hosting::Finding& finding : hosting::tryBundle({bundle, {}}, {.limits = quick}).findings) {
        if (!finding.info || finding.fault)
            continue;
        const std::string name = finding.location.id.substr(finding.location.id.rfind(':') + 1);
        all.push_back({name, {finding.location, processors::defaultValues(*finding.info)}});
        for (const auto& preset : finding.info->presets)
            if (const auto values = processors::resolveSettings(*finding.info, preset.name, {}))
                all.push_back({name + ", " + preset.name, {finding.location, *values}});
    }
    return all;
}

/// Loudness of one round of each at its matched output, the source's first.
std::vector<std::optional<double>> heardAtTheTap(const std::shared_ptr<const audition::Source>& source,
                                                 const std::vector<audition::ContenderSpec>& contenders)
{
    audition::Engine engine(source->rateHz());
    engine.hear(contenders.front().id);
    engine.setScene({source, source->whole(), contenders});
    std::vector<float> out(2 * 256);
    for (int i = 0; i < 10000 && !engine.isSettled(); ++i) {
        engine.applyPending();
        engine.render(out.data(), 0);
        std::this_thread::sleep_for(1ms);
    }
    engine.play();
    std::vector<std::shared_ptr<audition::TapReader>> readers;
    std::vector<audition::LoopMeter> meters;
    const std::size_t round = source->frames();
    std::vector<std::size_t> seen(contenders.size());
    for (const auto& one : contenders) {
        readers.push_back(engine.listen(audition::TapPoint::Matched, one.id, 256));
        meters.emplace_back(source->rateHz(), audition::MatchRule());
    }
    audition::TapBlock block;
    const auto take = [&] {
        for (std::size_t i = 0; i < readers.size(); ++i)
            while (readers[i]->take(block)) {
                const std::size_t skip = std::min(block.frames, settling_rounds * round -
                                                                    std::min(settling_rounds * round, seen[i]));
                const std::size_t end = (settling_rounds + 1) * round;
                const std::size_t use = std::min(block.frames - skip, end - std::min(end, seen[i] + skip));
                meters[i].add(block.left.data() + skip, block.right.data() + skip, use);
                seen[i] += block.frames;
            }
    };
    while (*std::ranges::min_element(seen) < (settling_rounds + 1) * round) {
        engine.applyPending();
        take();
        if (engine.readyFrames() >= 512)
            engine.render(out.data(), 256);
        else
            std::this_thread::sleep_for(200us);
    }
    std::vector<std::optional<double>> loudness;
    for (const auto& meter : meters)
        loudness.push_back(meter.read().loudness_lufs);
    return loudness;
}

} // namespace

int main(int argc, char** argv)
{
    const auto sources = static_cast<std::size_t>(argc > 1 ? std::atoi(argv[1]) : 8);
    const auto all = allCandidates();
    std::vector<double> errors_lu, before_lu;
    std::size_t varying = 0;
    std::size_t silent = 0;
    for (std::size_t s = 0; s < std::min(sources, demo::demoSources().size()); ++s) {
        const auto& made = demo::demoSources()[s];
        const auto source = std::make_shared<const audition::Source>(made.make());
        const auto reference = audition::measureLoop(*source, source->whole());
        for (std::size_t first = 0; first < all.size(); first += at_once) {
            std::vector<audition::ContenderSpec> contenders{{1, 1, {}, {}, 0.0}};
            std::vector<std::pair<std::string, audition::LoopLoudness>> measured{{"source", reference}};
            for (std::size_t i = first; i < std::min(all.size(), first + at_once); ++i) {
                const audition::Treatment& treatment = all[i].treatment;
                const auto loop = audition::measureLoop(*source, source->whole(), treatment);
                if (!loop || !loop->levels.loudness_lufs) {
                    ++silent;
                    continue;
                }
                contenders.push_back({i + 2, 1, treatment.location, treatment.values, 0.0});
                measured.emplace_back(all[i].name, *loop);
            }
            std::vector<audition::Part> parts;
            for (const auto& one : measured)
                parts.push_back({one.second, std::nullopt});
            const auto fairness = audition::fairnessOf(parts, audition::Basis::Loudness, 0);
            for (std::size_t i = 0; i < contenders.size(); ++i)
                contenders[i].gain_db = fairness.gains_db[i];
            const auto heard = heardAtTheTap(source, contenders);
            for (std::size_t i = 1; i < heard.size(); ++i) {
                const double error = std::abs(heard[i].value_or(-100) - *heard[0]);
                const double spread = measured[i].second.spread_lu;
                if (spread > audition::fair_within_lu) {
                    ++varying;
                } else {
                    errors_lu.push_back(error);
                    before_lu.push_back(std::abs(fairness.gains_db[i] - fairness.gains_db[0]));
                }
                if (error > audition::fair_within_lu)
                    std::printf("%s through %s: %.3f LU apart, spread %.3f LU\n", made.file.c_str(),
                                measured[i].first.c_str(), error, spread);
            }
        }
    }
    std::ranges::sort(errors_lu);
    std::ranges::sort(before_lu);
    const auto within =
        std::ranges::count_if(errors_lu, [](double e) { return e <= audition::fair_within_lu; });
    const auto at = [](const std::vector<double>& sorted, double part) {
        return sorted[static_cast<std::size_t>(part * static_cast<double>(sorted.size() - 1))];
    };
    std::printf(
        "%zu matches, %zu more that vary, %zu silent: %.2f %% within %.1f LU; median %.4f, 99 of 100 %.4f, "
        "worst %.4f LU; unmatched median %.2f LU, ratio %.5f\n",
        errors_lu.size(), varying, silent,
        100 * static_cast<double>(within) / static_cast<double>(errors_lu.size()), audition::fair_within_lu,
        at(errors_lu, 0.5), at(errors_lu, 0.99), errors_lu.back(), at(before_lu, 0.5),
        at(errors_lu, 0.5) / at(before_lu, 0.5));
}
