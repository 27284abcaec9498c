// SPDX-License-Identifier: GPL-3.0-or-later
//
// Rate conversion through soxr at its very high quality.
#pragma once

#include "signal/audio_buffer.h"

namespace hr::signal {

/// `audio` at `sample_rate_hz`; itself where the rate already fits.
AudioBuffer resampled(const AudioBuffer& audio, double sample_rate_hz);

} // namespace hr::signal
