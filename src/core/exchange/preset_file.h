// SPDX-License-Identifier: GPL-3.0-or-later
//
// Presets of one processor as a file of ours,
//
//     {"format": "honest-rack-presets", "version": 1, "processor": "lv2:urn:…", "name": "…",
//      "presets": [{"name": "Quay at dusk", "bank": "harbour", "settings": {"threshold_db": -24.0}}]}
//
// or as an LV2 bundle (manifest.ttl and presets.ttl by the presets extension), which every LV2 host can use.
#pragma once

#include "library/presets.h"

#include <nlohmann/json.hpp>

namespace hr::exchange {

Result<void> writePresets(const std::filesystem::path& file, const processors::ProcessorInfo& info,
                          const std::vector<library::Preset>& presets);

/// Makes the folder `bundle`; refuses one that is there and holds anything else than such presets. Only of LV2
/// processors.
Result<void> writeLv2Presets(const std::filesystem::path& bundle, const processors::ProcessorInfo& info,
                             const std::vector<library::Preset>& presets);

/// What such a document holds; `file` is for the sentence. As of readPresets().
Result<std::vector<library::Preset>> presetsFromJson(const nlohmann::ordered_json& document,
                                                     const processors::ProcessorInfo& info,
                                                     const std::string& file);

/// From a file of ours or a folder that is an LV2 bundle. Refuses what holds none for this processor, and more
/// than 10 000; settings of parameters that it does not have are passed over.
Result<std::vector<library::Preset>> readPresets(const std::filesystem::path& path,
                                                 const processors::ProcessorInfo& info);

} // namespace hr::exchange
