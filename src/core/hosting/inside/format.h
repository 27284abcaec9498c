// SPDX-License-Identifier: GPL-3.0-or-later
//
// A plug-in format inside the worker: what describes its bundles and loads its processors. Parameters, state,
// latency and the rest are asked of the Processor that comes of it.
//
// Threads: the worker's main thread.
#pragma once

#include "hosting/answers.h"
#include "processors/processor.h"

#include <filesystem>
#include <memory>
#include <vector>

namespace hr::hosting::inside {

class HostedFormat {
public:
    virtual ~HostedFormat() = default;

    /// As Format::key().
    virtual std::string key() const = 0;
    /// All that the bundle holds; what cannot be hosted is left out with its reason.
    virtual FaultOr<BundleContents> describe(const std::filesystem::path& bundle) const = 0;
    /// The processor of this id, with a missing file or entry point told apart from a failing start.
    virtual FaultOr<std::unique_ptr<processors::Processor>> load(const std::filesystem::path& bundle,
                                                                 const std::string& id) const = 0;
};

using HostedFormats = std::vector<std::unique_ptr<HostedFormat>>;

/// Those of hosting/formats/format.h.
HostedFormats hostedFormats();

std::unique_ptr<HostedFormat> hostedLv2();
std::unique_ptr<HostedFormat> hostedLadspa();

} // namespace hr::hosting::inside
