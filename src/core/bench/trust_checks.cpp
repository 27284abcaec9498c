// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/trust_checks.h"

#include "bench/loudness_shift.h"
#include "bench/programme.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <limits>

namespace hr::bench {

namespace {

using hosting::FaultOr;

constexpr double same_dbfs = -100;
constexpr double silence_dbfs = -140;
constexpr double looked_at_s = 4; // of the programme
constexpr double longest_tail_s = 30;
constexpr double still_falls_db = 1;
constexpr double honest_lu = 0.5;
constexpr double extreme_s = 0.1;
constexpr double clean_again_s = 0.3;
constexpr double memory_run_s = 40;
constexpr double memory_grows_mib = 1;

std::size_t frames(const Subject& subject, double seconds)
{
    return static_cast<std::size_t>(seconds * subject.conditions().sample_rate_hz);
}

std::vector<double> music(const Subject& subject)
{
    auto all = programme(subject.conditions().sample_rate_hz);
    all.resize(frames(subject, looked_at_s));
    return all;
}

/// RMS of the difference on the channel where it is largest; -200 where there is none.
double apartDbfs(const signal::AudioBuffer& a, const signal::AudioBuffer& b)
{
    double worst = 0;
    for (std::size_t c = 0; c < std::min(a.channels(), b.channels()); ++c) {
        double sum = 0;
        for (std::size_t i = 0; i < std::min(a.frames(), b.frames()); ++i) {
            const double d = static_cast<double>(a.channel(c)[i]) - b.channel(c)[i];
            sum += d * d / static_cast<double>(a.frames());
        }
        worst = std::max(worst, sum);
    }
    return std::max(-200.0, signal::powerToDb(2 * worst));
}

double loudestDbfs(const signal::AudioBuffer& sound)
{
    double loudest = -200;
    for (std::size_t c = 0; c < sound.channels(); ++c)
        loudest = std::max(loudest, signal::rmsDbfs(sound.channel(c)));
    return loudest;
}

CheckResult below(double value, double limit, const std::string& if_not)
{
    return value <= limit ? CheckResult{Verdict::Pass, value, {}} : CheckResult{Verdict::Fail, value, if_not};
}

CheckResult notApplicable(const std::string& why)
{
    return {Verdict::NotApplicable, std::nullopt, why};
}

/// A fresh subject's answer to `stimulus`.
FaultOr<signal::AudioBuffer> freshAnswer(const Subject& subject, const Conditions& conditions,
                                         const std::vector<double>& stimulus)
{
    auto fresh = subject.another(subject.values(), conditions);
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    if (auto started = fresh->restart(); !started)
        return tl::make_unexpected(started.error());
    return fresh->process(stimulus);
}

bool isNotSound(const hosting::Fault& fault)
{
    return fault.cause == hosting::Cause::NonFiniteOutput;
}

std::string lower(std::string text)
{
    std::ranges::transform(text, text.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

/// A switch of its own that takes the processor out, and the value at which it does.
std::optional<std::pair<std::size_t, double>> bypassOf(const processors::ProcessorInfo& info)
{
    for (std::size_t i = 0; i < info.parameters.size(); ++i)
        if (info.parameters[i].enables)
            return std::pair(i, info.parameters[i].minimum);
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        const auto& p = info.parameters[i];
        const bool is_switch = p.scale == processors::Scale::Toggle || (p.minimum == 0 && p.maximum == 1);
        const std::string name = lower(p.name);
        const std::string key = lower(p.key);
        if (is_switch && (key.find("bypass") != std::string::npos || name.find("bypass") != std::string::npos))
            return std::pair(i, p.maximum);
        if (is_switch && (key == "enabled" || key == "enable" || name == "enabled" || name == "enable"))
            return std::pair(i, p.minimum);
    }
    return std::nullopt;
}

/// Each parameter halfway along its range, where it may have any value.
std::vector<double> otherValues(const processors::ProcessorInfo& info)
{
    std::vector<double> values;
    for (const auto& p : info.parameters) {
        const double middle = p.scale == processors::Scale::Logarithmic && p.minimum > 0
                                  ? std::sqrt(p.minimum * p.maximum)
                                  : (p.minimum + p.maximum) / 2;
        const bool any = p.scale == processors::Scale::Linear || p.scale == processors::Scale::Logarithmic;
        values.push_back(p.isStated() && any ? middle : p.default_value);
    }
    return values;
}

/// What it was at, then what it is asked to survive, then clean sound again.
FaultOr<CheckResult> survives(const Subject& subject, const std::vector<double>& values,
                              const std::string& what)
{
    auto fresh = subject.another(values, subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    if (auto started = fresh->restart(); !started)
        return tl::make_unexpected(started.error());
    const std::size_t count = frames(subject, extreme_s);
    const auto noise = signal::gaussianNoise(0.3, count, 3);
    auto loud = noise;
    for (double& sample : loud)
        sample *= signal::dbToLinear(24);
    const std::vector<double> nothing(count, std::numeric_limits<double>::quiet_NaN());
    for (const auto& stimulus : {std::vector<double>(count), noise, loud, nothing})
        if (auto out = fresh->process(stimulus); !out && !isNotSound(out.error()))
            return tl::make_unexpected(out.error());
    if (auto settled = fresh->process(std::vector<double>(frames(subject, clean_again_s)));
        !settled && !isNotSound(settled.error()))
        return tl::make_unexpected(settled.error());
    if (auto again = fresh->process(noise); !again)
        return CheckResult{Verdict::Fail, std::nullopt,
                           "with " + what + " it does not recover from a sample that is not a number"};
    return CheckResult{Verdict::Pass, std::nullopt, {}};
}

} // namespace

Checked checkFinite(const Subject& subject)
{
    auto sound = music(subject);
    const auto noise = signal::gaussianNoise(0.35, frames(subject, 1), 9);
    sound.insert(sound.end(), noise.begin(), noise.end());
    auto out = freshAnswer(subject, subject.conditions(), sound);
    if (!out && isNotSound(out.error()))
        return CheckResult{Verdict::Fail, 1, out.error().detail};
    if (!out)
        return tl::make_unexpected(out.error());
    return CheckResult{Verdict::Pass, 0, {}};
}

Checked checkRepeatable(const Subject& subject)
{
    auto first = freshAnswer(subject, subject.conditions(), music(subject));
    if (!first)
        return tl::make_unexpected(first.error());
    auto second = freshAnswer(subject, subject.conditions(), music(subject));
    if (!second)
        return tl::make_unexpected(second.error());
    return below(apartDbfs(*first, *second), same_dbfs,
                 "two fresh runs on the same sound differ: it moves by chance, or remembers");
}

Checked checkBlockIndependent(const Subject& subject, const CheckResult& repeatable)
{
    if (repeatable.verdict != Verdict::Pass)
        return notApplicable("two runs at one size of block differ already");
    auto usual = freshAnswer(subject, subject.conditions(), music(subject));
    if (!usual)
        return tl::make_unexpected(usual.error());
    double worst = -200;
    for (const std::size_t block : {std::size_t{64}, std::size_t{1000}}) {
        Conditions conditions = subject.conditions();
        conditions.block_frames = block;
        auto other = freshAnswer(subject, conditions, music(subject));
        if (!other)
            return tl::make_unexpected(other.error());
        worst = std::max(worst, apartDbfs(*usual, *other));
    }
    return below(worst, same_dbfs,
                 "it sounds different at another size of block: what is heard while mixing is not "
                 "what is rendered");
}

Checked checkSilentInSilentOut(const Subject& subject)
{
    auto fresh = subject.another(subject.values(), subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    if (auto started = fresh->restart(); !started)
        return tl::make_unexpected(started.error());
    if (auto sounded = fresh->process(music(subject)); !sounded)
        return tl::make_unexpected(sounded.error());
    const std::vector<double> second(frames(subject, 1));
    std::vector<double> levels;
    do {
        auto out = fresh->process(second);
        if (!out)
            return tl::make_unexpected(out.error());
        levels.push_back(loudestDbfs(*out));
    } while (levels.back() > silence_dbfs && static_cast<double>(levels.size()) < longest_tail_s);
    // An echo comes back after seconds in which it seems to rest.
    const auto third = std::span<const double>(levels).last(levels.size() / 3);
    const auto before = std::span<const double>(levels).last(2 * third.size()).first(third.size());
    if (levels.back() > silence_dbfs && std::ranges::max(before) - std::ranges::max(third) > still_falls_db)
        return notApplicable("its tail was still dying away after 30 s");
    return below(levels.back(), silence_dbfs, "it puts out sound of its own when nothing goes in");
}

Checked checkLatencyHonest(const Subject& subject)
{
    auto fresh = subject.another(subject.values(), subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    if (auto started = fresh->restart(); !started)
        return tl::make_unexpected(started.error());
    if (auto ran = fresh->process(std::vector<double>(frames(subject, 0.1))); !ran)
        return tl::make_unexpected(ran.error());
    const auto reported = static_cast<double>(fresh->latencyReportedSamples());
    auto found = fresh->findLatency();
    if (!found)
        return tl::make_unexpected(found.error());
    if (!*found)
        return notApplicable("no single early arrival dominates: its latency cannot be found");
    const double off = static_cast<double>(**found) - reported;
    return std::abs(off) <= 1
               ? CheckResult{Verdict::Pass, off, {}}
               : CheckResult{Verdict::Fail, off,
                             "it reports " + std::to_string(std::lround(reported)) + " samples and has " +
                                 std::to_string(**found) + ": it plays out of time with everything else"};
}

Checked checkBypassClean(const Subject& subject)
{
    const auto bypass = bypassOf(subject.info());
    if (!bypass)
        return notApplicable("it offers no bypass");
    auto values = subject.values();
    values[bypass->first] = bypass->second;
    auto fresh = subject.another(values, subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    const auto found = fresh->findLatency(); // what it does not report is another check's
    if (!found)
        return tl::make_unexpected(found.error());
    // Longer than any fade into its bypass.
    if (auto settled = fresh->process(std::vector<double>(frames(subject, 0.5))); !settled)
        return tl::make_unexpected(settled.error());
    const auto in = music(subject);
    const std::size_t latency = found->value_or(fresh->latencyReportedSamples());
    std::vector<double> longer = in;
    longer.resize(in.size() + latency);
    auto out = fresh->process(longer);
    if (!out)
        return tl::make_unexpected(out.error());
    double worst = 0;
    for (std::size_t c = 0; c < out->channels(); ++c) {
        double sum = 0;
        for (std::size_t i = 0; i < in.size(); ++i) {
            const double d = static_cast<double>(std::as_const(*out).channel(c)[i + latency]) -
                             static_cast<double>(static_cast<float>(in[i]));
            sum += d * d / static_cast<double>(in.size());
        }
        worst = std::max(worst, sum);
    }
    return below(std::max(-200.0, signal::powerToDb(2 * worst)), same_dbfs,
                 "bypassed, it still changes the sound: switching it off is no comparison with nothing");
}

Checked checkLevelHonest(const Subject& subject)
{
    auto fresh = subject.another(processors::defaultValues(subject.info()), subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    auto shift = measureLoudnessShift(*fresh);
    if (!shift)
        return tl::make_unexpected(shift.error());
    const auto lu = shift->number("shift_lu");
    if (!lu)
        return notApplicable("the programme does not come through loudly enough");
    CheckResult result = below(
        std::abs(*lu), honest_lu,
        *lu > 0 ? "switched in at its defaults it is louder: it flatters in any comparison that is not matched"
                : "switched in at its defaults it is quieter: it loses any comparison that is not matched");
    result.value = *lu;
    return result;
}

Checked checkStateRestored(const Subject& subject, const CheckResult& repeatable)
{
    if (subject.info().parameters.empty())
        return notApplicable("it has no parameters");
    if (repeatable.verdict != Verdict::Pass)
        return notApplicable("two runs at the same settings differ already");
    const auto settings = otherValues(subject.info());
    Stimulus turned{{music(subject)}};
    for (std::size_t i = 0; i < settings.size(); ++i)
        turned.moves.push_back({0, i, settings[i]});
    // Turned by hand, from its defaults; and as a fresh one that gets what was saved.
    auto by_hand = subject.another(processors::defaultValues(subject.info()), subject.conditions());
    auto restored = subject.another(settings, subject.conditions());
    for (auto* one : {&by_hand, &restored}) {
        if (!*one)
            return tl::make_unexpected(one->error());
        if (auto started = (*one)->restart(); !started)
            return tl::make_unexpected(started.error());
    }
    // A glide from the old values to the new ones is no difference.
    Stimulus settle{{std::vector<double>(frames(subject, 1))}, {}, turned.moves};
    if (auto out = by_hand->process(settle); !out)
        return tl::make_unexpected(out.error());
    if (auto out = restored->process(settle.main.front()); !out)
        return tl::make_unexpected(out.error());
    auto one = by_hand->process(turned.main.front());
    if (!one)
        return tl::make_unexpected(one.error());
    auto other = restored->process(turned.main.front());
    if (!other)
        return tl::make_unexpected(other.error());
    return below(apartDbfs(*one, *other), same_dbfs,
                 "a fresh one with the saved settings sounds different from the one they were saved from");
}

Checked checkSurvivesExtremes(const Subject& subject)
{
    const auto& info = subject.info();
    std::vector<std::pair<std::vector<double>, std::string>> cases;
    std::vector<double> lowest;
    std::vector<double> highest;
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        const auto& p = info.parameters[i];
        for (const double end : {p.minimum, p.maximum}) {
            auto values = subject.values();
            values[i] = end;
            cases.emplace_back(values, p.name + (end == p.minimum ? " at its lowest" : " at its highest"));
        }
        lowest.push_back(p.minimum);
        highest.push_back(p.maximum);
    }
    cases.emplace_back(lowest, "everything at its lowest");
    cases.emplace_back(highest, "everything at its highest");
    double survived = 0;
    for (const auto& [values, what] : cases) {
        auto result = survives(subject, values, what);
        if (!result && hosting::isCancelled(result.error()))
            return result;
        if (!result)
            return CheckResult{Verdict::Fail, survived,
                               "with " + what + " it " + hosting::sentence(result.error())};
        if (result->verdict == Verdict::Fail) {
            result->value = survived;
            return result;
        }
        ++survived;
    }
    return CheckResult{Verdict::Pass, survived, {}};
}

Checked checkStableMemory(const Subject& subject)
{
    auto fresh = subject.another(subject.values(), subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    if (auto started = fresh->restart(); !started)
        return tl::make_unexpected(started.error());
    if (!fresh->memoryMib())
        return notApplicable("it runs in the bench's own process");
    const auto sound = music(subject);
    std::vector<double> mib;
    for (double at_s = 0; at_s < memory_run_s; at_s += looked_at_s) {
        if (auto out = fresh->process(sound); !out)
            return tl::make_unexpected(out.error());
        mib.push_back(fresh->memoryMib().value_or(0));
    }
    // The first half may still be filling what it will use.
    const std::size_t half = mib.size() / 2;
    const bool steadily = std::is_sorted(mib.begin() + static_cast<std::ptrdiff_t>(half), mib.end());
    const double grown = mib.back() - mib[half];
    CheckResult result = below(steadily ? grown : 0, memory_grows_mib, "its memory grows as long as it runs");
    result.value = grown;
    return result;
}

} // namespace hr::bench
