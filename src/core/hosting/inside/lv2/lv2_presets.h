// SPDX-License-Identifier: GPL-3.0-or-later
//
// Presets as LV2 bundles describe them. Reads text only; loads no library.
#pragma once

#include "hosting/answers.h"
#include "hosting/inside/lv2/lv2_features.h"

#include <lilv/lilv.h>
#include <optional>

namespace hr::hosting::inside {

/// One preset of a world; empty where it cannot be read. `features` keep the vocabulary of what lies in it
/// beside values of controls.
std::optional<processors::PresetInfo> readPreset(LilvWorld* world, const LilvNode* preset,
                                                 Lv2Features& features);

/// All presets of a world that holds one bundle, whosever they are.
std::vector<BundleContents::Preset> presetsIn(LilvWorld* world);

} // namespace hr::hosting::inside
