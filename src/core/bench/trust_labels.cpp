// SPDX-License-Identifier: GPL-3.0-or-later
//
// The check `labels_honest`: whether a parameter does what its label says. It accuses in public, so it does so
// only where no reading of the label fits, and where the figure is that parameter's own.
#include "bench/label_readings.h"
#include "bench/suite.h"
#include "bench/trust_checks.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace hr::bench {

namespace {

using hosting::FaultOr;

/// On top of the error that the figure may have.
constexpr double label_part = 0.1;
constexpr double label_db = 1;
/// A parameter that is turned by this brings its figure along, by at least so much of it.
constexpr double turned_by = 1.25;
constexpr double follows_by = 0.05;

FaultOr<Measured> measuredBy(Subject& subject, const std::vector<std::string>& tests)
{
    Measured found;
    for (const TestInfo& test : allTests()) {
        if (std::ranges::find(tests, test.key) == tests.end())
            continue;
        if (test.key == "timing") {
            auto timed = timingInUse(subject);
            if (!timed)
                return tl::make_unexpected(timed.error());
            found.attack = std::move(timed->attack);
            found.release = std::move(timed->release);
            found.readings.emplace(test.key, std::move(timed->reading));
            continue;
        }
        auto reading = test.run(subject);
        if (!reading)
            return tl::make_unexpected(reading.error());
        found.readings.emplace(test.key, std::move(*reading));
    }
    return found;
}

bool names(const processors::ParameterInfo& parameter, std::initializer_list<const char*> words)
{
    std::string text = parameter.key + " " + parameter.name;
    std::ranges::transform(text, text.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return std::ranges::any_of(words, [&](const char* word) { return text.find(word) != std::string::npos; });
}

/// Whether the levels that come out are not those of the processor alone: it is mixed with the dry sound, or
/// driven or taken down beforehand.
bool changesLevels(const processors::ProcessorInfo& info, const std::vector<double>& values)
{
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        const auto& parameter = info.parameters[i];
        const bool in_db = parameter.unit.starts_with("dB");
        const bool toggled = parameter.scale == processors::Scale::Toggle;
        if (!toggled && names(parameter, {"mix", "wet", "blend"}) && values[i] < parameter.maximum &&
            !(in_db && values[i] == 0))
            return true;
        if (!toggled && !names(parameter, {"wet"}) && names(parameter, {"dry"}) &&
            values[i] > parameter.minimum)
            return true;
        if (in_db && names(parameter, {"input", "drive", "pre gain", "pregain"}) && values[i] != 0)
            return true;
    }
    return false;
}

/// Labels by which something may be called dishonest; of others the trade has too many readings.
constexpr std::array judged{"threshold_db", "ratio", "range_db", "attack_ms", "release_ms", "hold_ms",
                            "corners",      "q",     "first_ms", "rt60_s",    "rates",      "gain_1k_db"};

bool isJudged(const Promise& promise)
{
    return std::ranges::find(judged, promise.figure) != judged.end();
}

/// Of figures that stand in a list, any may be another parameter's: only what moves when the parameter is
/// turned is its own.
bool standsInList(const Promise& promise)
{
    return promise.figure == "corners" || promise.figure == "q" || promise.figure == "rates" ||
           promise.figure == "first_ms";
}

double turned(const processors::ParameterInfo& parameter, double value)
{
    const double up = value * turned_by;
    return up <= parameter.maximum ? up : value / turned_by;
}

struct Label {
    std::size_t parameter = 0;
    Promise promise;
};

/// The reading that is nearest to what is set.
const ReadingInUse& nearest(const std::vector<ReadingInUse>& readings, double set)
{
    return *std::ranges::min_element(readings, {},
                                     [&](const ReadingInUse& one) { return std::abs(one.value - set); });
}

double allowedOff(const Promise& promise, double set)
{
    const FigureInfo* figure = figureInfo(promise.test, promise.figure);
    const bool in_db = promise.figure.ends_with("_db");
    return (in_db ? label_db : label_part * std::abs(set)) + (figure ? figure->allowed.at(set) : 0);
}

/// The first reading that fits. A time may lie between two of them: of what follows each half wave, the time
/// constant of the filter does.
const ReadingInUse* fitting(const Promise& promise, const std::vector<ReadingInUse>& readings, double set)
{
    const double allowed = allowedOff(promise, set);
    for (const ReadingInUse& one : readings)
        if (std::abs(one.value - set) <= allowed)
            return &one;
    const auto [least, most] = std::ranges::minmax_element(readings, {}, &ReadingInUse::value);
    return promise.test == "timing" && least->value < set && set < most->value ? &nearest(readings, set)
                                                                               : nullptr;
}

FaultOr<bool> isItsOwn(const Subject& subject, const Label& label, const ReadingInUse& read)
{
    auto values = subject.values();
    values[label.parameter] = turned(subject.info().parameters[label.parameter], values[label.parameter]);
    auto other = subject.another(values, subject.conditions());
    if (!other)
        return tl::make_unexpected(other.error());
    auto there = measuredBy(*other, {label.promise.test});
    if (!there)
        return tl::make_unexpected(there.error());
    const double set = values[label.parameter] * label.promise.factor;
    return std::ranges::none_of(readingsInUse(label.promise, set, *there), [&](const ReadingInUse& now) {
        return now.words == read.words && std::abs(now.value - read.value) < follows_by * std::abs(read.value);
    });
}

std::vector<Label> labelsOf(const Subject& subject)
{
    const auto& info = subject.info();
    const bool changed = changesLevels(info, subject.values());
    std::vector<Label> labels;
    for (std::size_t i = 0; i < info.parameters.size(); ++i)
        if (const auto promise = promiseOf(info.parameters[i], info.kind);
            promise && isJudged(*promise) &&
            !(changed && (promise->test == "transfer" || promise->test == "timing")))
            labels.push_back({i, *promise});
    // Two gains one behind the other: neither is that of the whole.
    const auto isGain = [](const Label& label) { return label.promise.figure == "gain_1k_db"; };
    if (std::ranges::count_if(labels, isGain) > 1)
        std::erase_if(labels, isGain);
    return labels;
}

} // namespace

Checked checkLabelsHonest(const Subject& subject)
{
    const auto labels = labelsOf(subject);
    CheckResult result{Verdict::NotApplicable, std::nullopt, "no label promises what the bench reads"};
    if (labels.empty())
        return result;
    std::vector<std::string> tests;
    for (const Label& label : labels)
        tests.push_back(label.promise.test);
    auto fresh = subject.another(subject.values(), subject.conditions());
    if (!fresh)
        return tl::make_unexpected(fresh.error());
    auto measured = measuredBy(*fresh, tests);
    if (!measured)
        return tl::make_unexpected(measured.error());
    std::string off;
    std::string notes;
    double count = 0;
    for (const Label& label : labels) {
        const auto& parameter = subject.info().parameters[label.parameter];
        const double set = subject.values()[label.parameter] * label.promise.factor;
        const auto readings = readingsInUse(label.promise, set, *measured);
        if (readings.empty())
            continue;
        const auto with_unit = [&](double value) {
            return fourDigits(value) + (parameter.unit.empty() ? "" : " " + parameter.unit);
        };
        const std::string set_to = with_unit(subject.values()[label.parameter]);
        if (const ReadingInUse* fits = fitting(label.promise, readings, set)) {
            if (fits != &readings.front())
                notes += (notes.empty() ? "" : "; ") + parameter.name + " " + set_to + " is " + fits->words;
            result.verdict = Verdict::Pass;
            continue;
        }
        const ReadingInUse& read = nearest(readings, set);
        if (standsInList(label.promise)) {
            auto own = isItsOwn(subject, label, read);
            if (!own)
                return tl::make_unexpected(own.error());
            if (!*own)
                continue;
        }
        result.verdict = Verdict::Pass;
        ++count;
        off += (off.empty() ? "" : "; ") + parameter.name + " set to " + set_to + ", measured " +
               with_unit(read.value / label.promise.factor);
    }
    if (result.verdict != Verdict::NotApplicable)
        result = {count > 0 ? Verdict::Fail : Verdict::Pass, count, count > 0 ? off : notes};
    else
        result.detail = "nothing that a label promises was seen in full";
    return result;
}

} // namespace hr::bench
