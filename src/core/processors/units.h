// SPDX-License-Identifier: GPL-3.0-or-later
//
// Units that stand in the names of parameters.
#pragma once

#include <string>

namespace hr::processors {

/// "Delay (Seconds)", "Gain [dB]": the unit in the brackets at the end of a name, as it is printed here; empty
/// where there is none that is known.
std::string unitIn(const std::string& name);

} // namespace hr::processors
