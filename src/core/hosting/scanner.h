// SPDX-License-Identifier: GPL-3.0-or-later
//
// Tries what is installed: reads each bundle, and loads, starts, runs and stops each of its
// processors, every one in a worker of its own, several at once. Knows nothing of the catalogue.
#pragma once

#include "hosting/answers.h"
#include "hosting/bundles.h"

#include <functional>

namespace hr::hosting {

/// What came of one processor: its description, its fault, or both (described, but it fails).
struct Finding {
    Location location;
    std::optional<processors::ProcessorInfo> info;
    std::optional<Fault> fault;
    Refusals refusals = {}; ///< what its cage refused it
    /// Above +60 dBFS, where it put out so much: worth telling, and no failure.
    std::optional<double> absurd_output_dbfs = {};
};

/// Load, start, 200 blocks of 256 frames of noise and tone, stop.
Finding tryProcessor(const Location& location, const TimeLimits& limits = {},
                     const std::stop_token& cancel = {});

struct ScanControl {
    unsigned jobs = 0;           ///< 0: one a core
    std::stop_token cancel = {}; ///< what is being tried then counts as not tried
    TimeLimits limits = {};
    std::function<Permissions(const std::string& id)> allowed =
        {}; ///< what the user has allowed it; empty: nothing
};

/// What came of one bundle.
struct TriedBundle {
    std::vector<Finding> findings;
    std::vector<BundleContents::Preset> presets = {}; ///< those for processors of other bundles
    std::vector<BundleContents::LeftOut> left_out = {};
};
TriedBundle tryBundle(const Bundle& bundle, const ScanControl& control = {});

/// Tries all `bundles`; `found` is called once a bundle, never twice at a time, on whichever thread.
void tryBundles(const std::vector<Bundle>& bundles, const ScanControl& control,
                const std::function<void(const Bundle&, TriedBundle)>& found);

} // namespace hr::hosting
