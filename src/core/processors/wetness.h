// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a processor is set so that nothing of its input passes by: as it stands on a return.
#pragma once

#include "processors/description.h"

#include <vector>

namespace hr::processors {

/// The parameters that mix dry and wet, told by name: a mix ("dry/wet", "mix", "blend", a chain's own blends)
/// goes to its wet end, a level of the dry signal to its lowest. Everything else stays as in `values`, which
/// are all of them in order; so does everything where nothing mixes.
std::vector<double> fullyWet(const ProcessorInfo& info, std::vector<double> values);

/// Whether there is anything that mixes dry and wet.
bool mixesDryAndWet(const ProcessorInfo& info);

} // namespace hr::processors
