// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is to be heard, whole: which contenders, through which sound. The engine takes a scene at once and
// changes over to it at one frame; until it can, what was heard goes on.
#pragma once

#include "audition/recent_input.h"
#include "audition/source.h"
#include "audition/treatment.h"

#include <optional>

namespace hr::audition {

/// Of the reference or a candidate, for life: never a place in a list, never given to another.
using ContenderId = std::uint64_t;
inline constexpr ContenderId no_contender = 0;

/// One contender, as it is to sound. An empty location is the untreated source.
struct ContenderSpec {
    ContenderId id = no_contender;
    /// Counts up whenever it is another processor, chain or build under the same id: faults and gains of an
    /// older one do not belong to it.
    std::uint32_t generation = 1;
    hosting::Location location;
    std::vector<double> values;
    /// What brings it to the common loudness; empty: not known yet, and until then it is not heard.
    std::optional<double> gain_db;
    /// By how much it is later than the reference, its latency apart: lined up where the difference is heard.
    double offset_samples = 0;
    WetDry mix = {};
};

struct Scene {
    std::shared_ptr<const Source> source; ///< null: silence
    Section loop;
    std::vector<ContenderSpec> contenders; ///< the order means nothing
    /// What comes in is heard live in place of the source; of the engine's rate. Null: it is not.
    std::shared_ptr<const RecentInput> live = {};
};

} // namespace hr::audition
