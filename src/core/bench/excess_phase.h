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

class ExcessPhase {
public:
    /// `bins` are those of a real signal of 2^n samples.
    explicit ExcessPhase(const Bins& bins, Heard heard = {});
    explicit ExcessPhase(std::span<const double> response, Heard heard = {});

    /// In samples, of the arrival that dominates; what would be negative lies in the second half of the signal.
    /// Between samples where the phases of all bins agree best. Empty where less than half of it lies within
    /// `near_samples` (reverb, narrow filters), and for silence.
    std::optional<double> delay(std::size_t near_samples) const;

    /// The sample at which it begins, where it does so at once, as that of an all-pass filter whose peak comes
    /// after its beginning; the peak where that stands alone. Empty where it rises little by little, as a
    /// linear-phase filter does.
    std::optional<std::size_t> abruptBeginning() const;

    /// All frequencies came at the same time: there is no all-pass filter in it, no reverb, no echo.
    bool isImpulse() const;
    /// Of an impulse, 1 or -1; empty for what is none, and where the band is so narrow that half a wave later
    /// it is nearly as high the other way up.
    std::optional<int> sign() const;
    /// Within a few hundredths of a second, nearly all of it.
    bool isBrief() const;

private:
    ExcessPhase() = default;
    void take(Bins bins);
    double at(std::size_t before_peak, std::size_t i) const;
    /// Of the power, so many samples each side of the peak.
    double share(std::size_t each_side) const;
    /// How far the bins, each turned back by a delay, point the same way: 1 where they are those of an impulse
    /// that came so late, -1 where it is turned round.
    double agreement(double delay) const;
    /// Where they agree best, within a sample of the peak.
    double agreedDelay() const;

    Bins m_bins; ///< all of one magnitude as far as there is anything to be heard
    std::vector<double> m_samples;
    std::size_t m_peak = 0;
};

/// 1 as the input, -1 turned round: of a filter by its excess, which is an impulse of one sign or the other
/// whichever half-wave of its ringing is higher; of an all-pass filter by its lowest frequencies; else by the
/// highest sample. Empty where it is nearly as high the other way up: a reverb, and a band so narrow that a
/// delay of half a wave would be the same.
std::optional<int> polarityOf(std::span<const double> response);

} // namespace hr::bench
