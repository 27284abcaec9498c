// SPDX-License-Identifier: GPL-3.0-or-later
//
// A location on its way to a worker.
#pragma once

#include "hosting/location.h"

#include <nlohmann/json.hpp>

namespace hr::hosting {

nlohmann::json toJson(const Location& location);

/// For the worker, which reads what this program wrote: throws where something is missing.
Location locationFromJson(const nlohmann::json& json);

} // namespace hr::hosting
