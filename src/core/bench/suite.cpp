// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"

#include "bench/aliasing.h"
#include "bench/cost.h"
#include "bench/decay.h"
#include "bench/detector.h"
#include "bench/echoes.h"
#include "bench/harmonics.h"
#include "bench/intermodulation.h"
#include "bench/key_input.h"
#include "bench/loudness_shift.h"
#include "bench/movement.h"
#include "bench/noise.h"
#include "bench/resolution.h"
#include "bench/response.h"
#include "bench/stereo.h"
#include "bench/timing.h"
#include "bench/transfer.h"
#include "bench/trust.h"

#include <algorithm>
#include <chrono>
#include <ctime>

namespace hr::bench {

using nlohmann::ordered_json;

namespace {

std::string utcNow()
{
    const std::time_t now = std::chrono::system_clock::to_time_t(std::chrono::system_clock::now());
    std::tm utc{};
    gmtime_r(&now, &utc);
    std::array<char, 32> text{};
    std::strftime(text.data(), text.size(), "%Y-%m-%dT%H:%M:%SZ", &utc);
    return text.data();
}

/// A fresh subject for the test where the last one failed.
hosting::FaultOr<Reading> runTest(const TestInfo& test, std::optional<Subject>& subject, const Measurement& m,
                                  const hosting::Location& location, const std::stop_token& cancel)
{
    if (!subject) {
        auto opened = Subject::open(location, m.values, m.conditions, cancel);
        if (!opened)
            return tl::make_unexpected(opened.error());
        subject.emplace(std::move(*opened));
    }
    auto reading = test.run(*subject);
    if (!reading)
        subject.reset();
    return reading;
}

ordered_json failureJson(const Measurement& m)
{
    if (!m.failure)
        return nullptr;
    const hosting::Fault& fault = m.failure->fault;
    return {{"stage", word(fault.phase)},
            {"cause", word(fault.cause)},
            {"test", m.failure->test.empty() ? ordered_json(nullptr) : ordered_json(m.failure->test)},
            {"detail", fault.detail}};
}

} // namespace

const std::vector<TestInfo>& allTests()
{
    static const std::vector<TestInfo> tests{
        {"response", "Response", responseFigures, measureResponse},
        {"harmonics", "Harmonics", harmonicsFigures, measureHarmonics},
        {"intermodulation", "Intermodulation", intermodulationFigures, measureIntermodulation},
        {"aliasing", "Aliasing", aliasingFigures, measureAliasing},
        {"transfer", "In and out", transferFigures, measureTransfer},
        {"timing", "Timing", timingFigures, measureTiming},
        {"detector", "Detector", detectorFigures, measureDetector, false},
        {"key_input", "Key input", keyInputFigures, measureKeyInput, false},
        {"decay", "Decay", decayFigures, measureDecay, false},
        {"echoes", "Echoes", echoesFigures, measureEchoes, false},
        {"movement", "Movement", movementFigures, measureMovement, false},
        {"noise", "Noise", noiseFigures, measureNoise},
        {"stereo", "Stereo", stereoFigures, measureStereo, false},
        {"resolution", "Resolution", resolutionFigures, measureResolution},
        {"cost", "Cost", costFigures, measureCost},
        {"loudness_shift", "Loudness shift", loudnessShiftFigures, measureLoudnessShift},
        {"trust", "Trust", trustFigures, measureTrust, false}};
    return tests;
}

std::vector<std::string> quickTests()
{
    std::vector<std::string> keys;
    for (const TestInfo& test : allTests())
        if (test.quick)
            keys.push_back(test.key);
    return keys;
}

Result<std::vector<TestInfo>> testsNamed(const std::vector<std::string>& keys)
{
    if (keys.empty())
        return allTests();
    std::vector<TestInfo> named;
    for (const std::string& key : keys) {
        const auto found = std::ranges::find(allTests(), key, &TestInfo::key);
        if (found == allTests().end()) {
            std::string known;
            for (const TestInfo& test : allTests())
                known += (known.empty() ? "" : ", ") + test.key;
            return wrongRequest("There is no test \"" + key + "\": there are " + known + ".");
        }
        named.push_back(*found);
    }
    return named;
}

const FigureInfo* figureInfo(const std::string& test, const std::string& key)
{
    const auto found = std::ranges::find(allTests(), test, &TestInfo::key);
    if (found == allTests().end())
        return nullptr;
    const std::string group = key.substr(0, key.find('.'));
    if (group != key && std::ranges::find(allTests(), group, &TestInfo::key) != allTests().end())
        return figureInfo(group, key.substr(group.size() + 1)); // another test's, as those of the key input
    const std::vector<FigureInfo>& figures = found->figures();
    const std::string own = key.substr(key.rfind('.') + 1); // those of a group are the test's own
    const auto figure = std::ranges::find(figures, own, &FigureInfo::key);
    return figure == figures.end() ? nullptr : &*figure;
}

std::string benchVersion()
{
    return HONEST_RACK_VERSION;
}

std::string Measurement::outcome() const
{
    if (readings.size() == asked)
        return "complete";
    // What did not apply did not run.
    return std::ranges::any_of(readings, [](const auto& one) { return one.second.applies; }) ? "partial"
                                                                                             : "failed";
}

Measurement measure(const hosting::Location& location, const processors::ProcessorInfo& info,
                    const std::vector<double>& values, const std::vector<TestInfo>& tests,
                    const Conditions& conditions, const MeasureControl& control)
{
    Measurement m{info, values, conditions, utcNow(), {}, {}, tests.size()};
    std::optional<Subject> subject;
    for (std::size_t i = 0; i < tests.size(); ++i) {
        if (control.cancel.stop_requested()) {
            m.cancelled = true;
            break;
        }
        if (control.progress)
            control.progress(tests[i].key, static_cast<double>(i) / static_cast<double>(tests.size()));
        auto reading = runTest(tests[i], subject, m, location, control.cancel);
        if (reading)
            m.readings.emplace_back(tests[i].key, std::move(*reading));
        else if (isCancelled(reading.error()))
            m.cancelled = true;
        else if (!m.failure)
            m.failure = Measurement::Failure{reading.error(), tests[i].key};
        if (subject) {
            m.refusals = hosting::merged(m.refusals, subject->refusals());
            m.stimuli_s = subject->stimuliS();
        }
    }
    return m;
}

ordered_json settingsJson(const Measurement& m)
{
    ordered_json settings = ordered_json::object();
    for (std::size_t i = 0; i < m.values.size(); ++i)
        settings[m.processor.parameters[i].key] = m.values[i];
    return settings;
}

ordered_json conditionsJson(const Measurement& m)
{
    ordered_json conditions{{"sample_rate", m.conditions.sample_rate_hz},
                            {"block", m.conditions.block_frames},
                            {"channels", m.processor.audio_in},
                            {"level_dbfs", orNull(m.conditions.level_dbfs)},
                            {"started", m.started},
                            {"bench_version", benchVersion()}};
    if (m.conditions.frequency_hz)
        conditions["frequency_hz"] = *m.conditions.frequency_hz;
    if (m.conditions.tempo_bpm)
        conditions["tempo_bpm"] = *m.conditions.tempo_bpm;
    if (m.conditions.programme)
        conditions["programme"] = {{"title", m.conditions.programme->title},
                                   {"identity", m.conditions.programme->identity}};
    if (m.processor.key_in > 0)
        conditions["key_input"] = m.conditions.key == KeyFeed::OwnInput ? "its own main input" : "silence";
    return conditions;
}

ordered_json toJson(const Measurement& m)
{
    ordered_json readings = ordered_json::object();
    ordered_json flags = ordered_json::array();
    for (const auto& [test, reading] : m.readings) {
        readings[test] = toJson(reading);
        for (const Flag& flag : reading.flags) {
            flags.push_back(toJson(flag));
            flags.back()["test"] = test;
        }
    }
    return {{"processor",
             {{"id", m.processor.id},
              {"name", m.processor.name},
              {"maker", m.processor.maker},
              {"format", m.processor.format},
              {"version", m.processor.version}}},
            {"settings", settingsJson(m)},
            {"conditions", conditionsJson(m)},
            {"outcome", m.outcome()},
            {"failure", failureJson(m)},
            {"readings", readings},
            {"flags", flags}};
}

} // namespace hr::bench
