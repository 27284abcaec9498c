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

/// What a check looks at, and what its result means for the work.
struct Promised {
    const char* definition;
    const char* if_kept;
    const char* if_broken;
};

FigureInfo verdict(const char* key, const char* name, const char* unit, int digits, const Promised& promised)
{
    return {.key = key,
            .name = name,
            .unit = unit,
            .digits = digits,
            .definition = promised.definition,
            .shape = FigureShape::Verdict,
            .if_kept = promised.if_kept,
            .if_broken = promised.if_broken};
}

} // namespace

const std::vector<FigureInfo>& trustFigures()
{
    static const std::vector<FigureInfo> figures{
        verdict("finite", "finite", "non-finite", 0,
                {"no output sample is NaN or infinite", "Whatever leaves it is sound.",
                 "One bad sample can silence all that is behind it."}),
        verdict("repeatable", "repeatable", "dBFS", 1,
                {"two fresh runs on the same sound differ by no more than -100 dBFS",
                 "What was heard is what will be rendered.", "Each pass differs: judge what was printed."}),
        verdict("block_independent", "independent of the block", "dBFS", 1,
                {"at blocks of 64 and 1000 it differs by no more than -100 dBFS from what it is at others",
                 "A render sounds like playback, at any buffer size.",
                 "Keep to one buffer size, and listen to the render."}),
        verdict("rate_independent", "independent of the rate", "%", 1,
                {"no corner, time or threshold moves by more than 3 % and its allowed error between 44.1, 48 "
                 "and 96 kHz",
                 "Settings carry over to another sample rate.",
                 "At another sample rate, set it again by ear."}),
        verdict("silent_in_silent_out", "silent when nothing goes in", "dBFS", 1,
                {"silence gives no more than -140 dBFS once the tail has gone", "Pauses stay silent.",
                 "It adds sound of its own to every pause."}),
        verdict("latency_honest", "honest about latency", "samples", 0,
                {"reported and found latency differ by no more than 1 sample",
                 "It stays in time beside other tracks.", "Beside other tracks it is out of time."}),
        verdict("bypass_clean", "clean bypass", "dBFS", 1,
                {"its own bypass leaves no more than -100 dBFS of difference from the input",
                 "Its own bypass is a fair comparison.", "Compare with the stage off, not with its bypass."}),
        verdict("level_honest", "honest about level", "LU", 1,
                {"at its defaults it changes programme loudness by no more than 0.5 LU",
                 "Switching it in decides nothing by loudness.",
                 "Its level alone would decide: match it first."}),
        verdict("state_restored", "settings restored", "dBFS", 1,
                {"a fresh one with saved settings differs by no more than -100 dBFS",
                 "A session opens as it was saved.", "A session may open with another sound: print it."}),
        verdict("labels_honest", "honest labels", "off", 0,
                {"no label is off by more than 10 % or 1 dB and the allowed error of what was measured",
                 "Its labels can be set by figures.", "Set it by ear, or by what was measured."}),
        verdict("survives_extremes", "survives extremes", "survived", 0,
                {"every parameter at both ends, with silence, full scale, +24 dBFS and NaN in: it neither "
                 "crashes nor hangs, and is finite once the input is clean again",
                 "No setting and no signal brings it down.",
                 "A setting or a signal can break it: save first."}),
        verdict("stable_memory", "stable memory", "MiB", 1,
                {"memory does not grow steadily over a long run", "It can run all day.",
                 "A long session will run out of memory."})};
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
