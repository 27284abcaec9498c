// SPDX-License-Identifier: GPL-3.0-or-later
//
// The tests of the bench by their keys, and a run of several of them on one processor.
#pragma once

#include "bench/device.h"
#include "bench/reading.h"

#include <atomic>
#include <functional>

namespace hr::bench {

struct TestInfo {
    std::string key;  ///< "response", "harmonics"
    std::string name; ///< for people
    hosting::FaultOr<Reading> (*run)(Device&);
};

/// All there are, in the order of the suite.
const std::vector<TestInfo>& allTests();

/// Refuses unknown keys, naming those there are. Empty: the whole suite.
Result<std::vector<TestInfo>> testsNamed(const std::vector<std::string>& keys);

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
    bool cancelled = false;

    /// "complete", "partial" or "failed".
    std::string outcome() const;
};

struct MeasureControl {
    std::atomic<bool>* cancel = nullptr;                                ///< looked at between tests
    std::function<void(const std::string& test, double done)> progress; ///< before each test; done 0 to 1
};

/// Opens the processor anew and runs `tests` one after the other. A test that fails leaves the others.
Measurement measure(const hosting::Location& location, const processors::ProcessorInfo& info,
                    const std::vector<double>& values, const std::vector<TestInfo>& tests,
                    const Conditions& conditions, const MeasureControl& control = {});

/// The document of `hrack measure`.
nlohmann::ordered_json toJson(const Measurement& measurement);

} // namespace hr::bench
