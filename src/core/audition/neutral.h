// SPDX-License-Identifier: GPL-3.0-or-later
//
// Trims with which stages add no loudness.
#pragma once

#include "audition/along_path.h"

#include <map>

namespace hr::audition {

/// Trims by stage, in dB, with which each of `stages` is as loud at work as bypassed, on this file and with the
/// trims of those before it as they are then; -60 to 24, to a hundredth. A stage that is silent, or bypassed,
/// is left out.
Result<hosting::FaultOr<std::map<std::string, double>>>
neutralTrims(const chain::Chain& chain, const std::vector<std::string>& stages, const OpenPart& open,
             const std::filesystem::path& file, const std::stop_token& cancel = {});

} // namespace hr::audition
