// SPDX-License-Identifier: GPL-3.0-or-later
//
// When something came, told apart from what a filter does to it: a response without its minimum-phase part (A.
// V. Oppenheim, R. W. Schafer, "Discrete-Time Signal Processing", 1989, ch. 12) is an impulse at its delay,
// however dull it has become. Arithmetic only.
#pragma once

#include <complex>
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace hr::bench {

using Bins = std::vector<std::complex<double>>;

/// What is looked at. Beyond it a magnitude is taken to go on falling as it did just before.
struct Heard {
    double share_of_rate = 0.48; ///< up to here: stimuli end there
    double down_to_db = -66;     ///< against the loudest bin
};

/// Delay, in samples, of the arrival that dominates; negative ones lie in the second half of the response.
/// Between samples where the phases of all its bins agree best. Empty where less than half of it lies within
/// `near_samples` (reverb, narrow filters), and for silence. `bins` are those of a real signal of `size`
/// samples, a power of two.
std::optional<double> excessDelay(Bins bins, std::size_t size, std::size_t near_samples, Heard heard = {});

/// The same of a response, from its beginning.
std::optional<double> arrivalOf(const std::vector<double>& response, std::size_t near_samples,
                                Heard heard = {});

/// The sample at which the excess begins, where it does so at once, as that of an all-pass filter whose peak
/// comes after its beginning; the peak where that stands alone. Empty where it rises little by little, as a
/// linear-phase filter does.
std::optional<std::size_t> abruptBeginning(const std::vector<double>& response);

/// 1 as the input, -1 turned round: of a filter by its excess, which is an impulse of one sign or the other
/// whichever half-wave of its ringing is higher; of an all-pass filter by its lowest frequencies; else by the
/// highest sample.
int polarityOf(std::span<const double> response);

} // namespace hr::bench
