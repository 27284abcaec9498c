// SPDX-License-Identifier: GPL-3.0-or-later
//
// Setting one processor so that it behaves like another, by measuring it again and again.
#pragma once

#include "bench/likeness.h"
#include "bench/suite.h"

namespace hr::bench {

struct FitOrder {
    std::vector<std::size_t> parameters; ///< of the one that is set: at most most_fitted_parameters
    std::vector<std::string> tests;      ///< of comparableTests()
};

inline constexpr std::size_t most_fitted_parameters = 8;

struct Fit {
    std::vector<double> values;       ///< of all parameters, in order
    std::vector<Apart> before, after; ///< by test; those that neither has are left out
    std::size_t tried = 0;            ///< settings that were measured
    bool cancelled = false;           ///< the best so far
};

/// How both are measured.
struct Fitted {
    hosting::Location location;
    processors::ProcessorInfo info;
    std::vector<double> values;
};

/// Measures one with these tests; what stands for measure() where the search alone is looked at.
using FitMeasure = std::function<Measurement(const Fitted&, const std::vector<TestInfo>&, const Conditions&,
                                             const std::stop_token&)>;

/// First settings scattered all over (J. H. Halton, 1964), then from the best of them the simplex of J. A.
/// Nelder and R. Mead, "A simplex method for function minimization", 1965 (both GSL's), on where the controls
/// stand. Ends once it is within a fiftieth of what can be noticed, or nothing is gained any more. `best` is
/// told of each gain. Where either fails at its own settings, its fault.
hosting::FaultOr<Fit> fit(const Fitted& like, const Fitted& set, const FitOrder& order,
                          const Conditions& conditions, const MeasureControl& control = {},
                          const std::function<void(const Fit&)>& best = {}, FitMeasure measured = {});

} // namespace hr::bench
