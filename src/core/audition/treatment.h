// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is done to the source before it is heard: a processor or a chain at its values, and how much of it is
// mixed with the untreated source.
#pragma once

#include "hosting/location.h"

#include <vector>

namespace hr::audition {

/// Linear gains of the untreated source, lined up by the latency that was found, and of what is done to it.
struct WetDry {
    float dry = 0;
    float wet = 1;

    /// From the untreated source (0) to all of the treatment (100).
    static WetDry insert(double amount_percent)
    {
        const auto wet = static_cast<float>(amount_percent / 100);
        return {1 - wet, wet};
    }
    /// The treatment returned beside the source, at this linear gain.
    static WetDry sendAndReturn(double gain) { return {1, static_cast<float>(gain)}; }

    bool isWetAlone() const { return dry == 0.0F && wet == 1.0F; }
    friend bool operator==(const WetDry&, const WetDry&) = default;
};

/// An empty location is the untreated source.
struct Treatment {
    hosting::Location location;
    std::vector<double> values;
    WetDry mix = {};
};

} // namespace hr::audition
