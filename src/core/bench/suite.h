// SPDX-License-Identifier: GPL-3.0-or-later
//
// The tests of the bench by their keys, and a run of several of them on one processor.
#pragma once

#include "bench/figure.h"
#include "bench/reading.h"
#include "bench/subject.h"

#include <functional>

namespace hr::bench {

struct TestInfo {
    std::string key;  ///< "response", "harmonics"
    std::string name; ///< for people
    const std::vector<FigureInfo>& (*figures)();
    hosting::FaultOr<Reading> (*run)(Subject&);
    bool quick = true; ///< done in a second or two: run on whole catalogues unasked
};

/// All there are, in the order of the suite.
const std::vector<TestInfo>& allTests();

/// Keys of those that are quick.
std::vector<std::string> quickTests();

/// Refuses unknown keys, naming those there are. Empty: the whole suite.
Result<std::vector<TestInfo>> testsNamed(const std::vector<std::string>& keys);

/// The declaration of a figure; null where the test has none of that key. Those of a group are found as
/// "at_100_hz.thd_percent".
const FigureInfo* figureInfo(const std::string& test, const std::string& key);

/// What changes the figures of a processor that has not changed itself.
std::string benchVersion();

struct Measurement {
    processors::ProcessorInfo processor;
    std::vector<double> values; ///< as set, in the order of the description
    Conditions conditions;
    std::string started; ///< UTC, ISO 8601
    std::vector<std::pair<std::string, Reading>> readings;
    struct Failure {
        hosting::Fault fault;
        std::string test; ///< empty: before any test
    };
    std::optional<Failure> failure; ///< the first one
    std::size_t asked = 0;          ///< how many tests
    bool cancelled = false;         ///< before the last test had ended: what it has is whole, but not all
    hosting::Refusals refusals = {};
    double stimuli_s = 0; ///< how long all stimuli were together, of tests before a failure not counted

    /// "complete", "partial" or "failed".
    std::string outcome() const;
};

struct MeasureControl {
    std::stop_token cancel;                                             ///< ends a test in its middle
    std::function<void(const std::string& test, double done)> progress; ///< before each test; done 0 to 1
};

/// Opens a fresh instance of the processor and runs `tests` one after the other. A test that fails leaves the
/// others.
Measurement measure(const hosting::Location& location, const processors::ProcessorInfo& info,
                    const std::vector<double>& values, const std::vector<TestInfo>& tests,
                    const Conditions& conditions, const MeasureControl& control = {});

/// The document of `hrack measure`.
nlohmann::ordered_json toJson(const Measurement& measurement);
/// Its parts, as the catalogue keeps them.
nlohmann::ordered_json settingsJson(const Measurement& measurement);
nlohmann::ordered_json conditionsJson(const Measurement& measurement);

} // namespace hr::bench
