// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a worker answers, taken apart. Third-party code may have written it: nothing in it is believed, texts
// are bounded and made plain, and whatever is in it, the outcome is a value or a Fault, never an exception.
#pragma once

#include "hosting/fault.h"
#include "hosting/wire.h"

namespace hr::hosting {

/// What a bundle holds: descriptions that make sense, and a fault for each that does not.
struct BundleContents {
    struct Broken {
        std::string id;
        Fault fault;
    };
    struct Preset {
        std::string processor; ///< its id; it need not be in this bundle
        processors::PresetInfo preset;
    };
    std::vector<processors::ProcessorInfo> processors;
    std::vector<Broken> broken;
    std::vector<Preset> presets = {}; ///< all that the bundle describes
    /// What is installed but not hosted, such as instruments.
    struct LeftOut {
        std::string id, name;
        std::string reason; ///< "it has no audio input"
    };
    std::vector<LeftOut> left_out = {};
};

/// Why a processor of this description cannot be hosted; empty where it can.
std::string whyNotHosted(const processors::ProcessorInfo& info);

/// Body of Failed. `phase` where the body names none.
Fault faultFromAnswer(Phase phase, const std::string& body);

/// Body of Done after Describe; `bundle` names what has no id of its own.
FaultOr<BundleContents> contentsFromAnswer(const std::string& body, const std::string& bundle);

/// Body of Done after Load.
FaultOr<processors::ProcessorInfo> infoFromAnswer(const std::string& body);

/// Body of Done after Start and Run.
FaultOr<Ran> ranFromAnswer(Phase phase, const std::string& body);

} // namespace hr::hosting
