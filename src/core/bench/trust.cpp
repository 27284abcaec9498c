// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/trust.h"

#include "bench/trust_checks.h"

#include <cmath>
#include <functional>

namespace hr::bench {

namespace {

using hosting::FaultOr;

nlohmann::ordered_json json(const CheckResult& result)
{
    const char* word = result.verdict == Verdict::Pass   ? "pass"
                       : result.verdict == Verdict::Fail ? "fail"
                                                         : "not applicable";
    const bool has_value = result.value && std::isfinite(*result.value);
    return {{"result", word},
            {"value", has_value ? nlohmann::ordered_json(*result.value) : nlohmann::ordered_json(nullptr)},
            {"detail", result.detail}};
}

FigureInfo verdict(const char* key, const char* name, const char* unit, const char* definition)
{
    return {.key = key,
            .name = name,
            .unit = unit,
            .digits = 1,
            .definition = definition,
            .shape = FigureShape::Verdict};
}

} // namespace

const std::vector<FigureInfo>& trustFigures()
{
    static const std::vector<FigureInfo> figures{
        verdict("finite", "finite", "", "no output sample is NaN or infinite"),
        verdict("repeatable", "repeatable", "dBFS",
                "two fresh runs on the same sound differ by no more than -100 dBFS"),
        verdict("block_independent", "independent of the block", "dBFS",
                "at blocks of 64 and 1000 it differs by no more than -100 dBFS from what it is at others"),
        verdict("rate_independent", "independent of the rate", "%",
                "no corner, time or threshold moves by more than 3 % and its allowed error between 44.1, 48 "
                "and 96 kHz"),
        verdict("silent_in_silent_out", "silent when nothing goes in", "dBFS",
                "silence gives no more than -140 dBFS once the tail has gone"),
        verdict("latency_honest", "honest about latency", "samples",
                "reported and found latency differ by no more than 1 sample"),
        verdict("bypass_clean", "clean bypass", "dBFS",
                "its own bypass leaves no more than -100 dBFS of difference from the input"),
        verdict("level_honest", "honest about level", "LU",
                "at its defaults it changes programme loudness by no more than 0.5 LU"),
        verdict("state_restored", "settings restored", "dBFS",
                "a fresh one with saved settings differs by no more than -100 dBFS"),
        verdict("labels_honest", "honest labels", "",
                "no label is off by more than 10 % or 1 dB and the allowed error of what was measured"),
        verdict("survives_extremes", "survives extremes", "",
                "every parameter at both ends, with silence, full scale, +24 dBFS and NaN in: it neither "
                "crashes nor "
                "hangs, and is finite once the input is clean again"),
        verdict("stable_memory", "stable memory", "MiB", "memory does not grow steadily over a long run")};
    return figures;
}

FaultOr<Reading> measureTrust(Subject& subject)
{
    Reading reading;
    std::optional<hosting::Fault> cancelled;
    const auto put = [&](const char* key, const Checked& checked) {
        if (!checked && hosting::isCancelled(checked.error()))
            cancelled = checked.error();
        CheckResult result =
            checked ? *checked
                    : CheckResult{Verdict::Fail, std::nullopt, "it " + hosting::sentence(checked.error())};
        reading.figures[key] = json(result);
        return result;
    };
    // What does not even play cannot be trusted or not: the test fails as any other.
    const Checked finite = checkFinite(subject);
    if (!finite)
        return tl::make_unexpected(finite.error());
    put("finite", finite);
    const CheckResult repeatable = put("repeatable", checkRepeatable(subject));
    const std::vector<std::pair<const char*, std::function<Checked()>>> others{
        {"block_independent", [&] { return checkBlockIndependent(subject, repeatable); }},
        {"rate_independent", [&] { return checkRateIndependent(subject); }},
        {"silent_in_silent_out", [&] { return checkSilentInSilentOut(subject); }},
        {"latency_honest", [&] { return checkLatencyHonest(subject); }},
        {"bypass_clean", [&] { return checkBypassClean(subject); }},
        {"level_honest", [&] { return checkLevelHonest(subject); }},
        {"state_restored", [&] { return checkStateRestored(subject, repeatable); }},
        {"labels_honest", [&] { return checkLabelsHonest(subject); }},
        {"survives_extremes", [&] { return checkSurvivesExtremes(subject); }},
        {"stable_memory", [&] { return checkStableMemory(subject); }}};
    for (const auto& [key, check] : others) {
        if (cancelled)
            break;
        put(key, check());
    }
    if (cancelled)
        return tl::make_unexpected(*cancelled);
    return reading;
}

} // namespace hr::bench
