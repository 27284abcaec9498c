// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the label of a parameter promises: the figure of the bench that should read what it is set to. Guessed
// from its unit and its name.
#pragma once

#include "bench/reading.h"
#include "processors/description.h"

namespace hr::bench {

/// The figure, and what a set value is multiplied by to have its unit (1000 for seconds against ms).
struct Promise {
    std::string test, figure;
    double factor = 1;
};

/// Empty where the label promises nothing that the bench reads.
std::optional<Promise> promiseOf(const processors::ParameterInfo& parameter, const std::string& kind);

/// What was read, of the value nearest to `set` where a figure is a list; empty where it has not got any.
std::optional<double> readAgainst(const Promise& promise, double set, const Reading& reading);

} // namespace hr::bench
