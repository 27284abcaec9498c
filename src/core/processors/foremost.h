// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which parameters of a processor a hand goes to first, where there is room for a few only.
#pragma once

#include "processors/description.h"

namespace hr::processors {

/// Positions in `info.parameters`, at most `most`: those that are named as what its kind is turned by (the
/// threshold and the ratio of a compressor, the frequency and gain of an equaliser), then the others in their
/// order. Neither hidden ones, nor what takes it in and out, nor switches and named choices.
std::vector<std::size_t> foremostParameters(const ProcessorInfo& info, const std::string& kind,
                                            std::size_t most);

} // namespace hr::processors
