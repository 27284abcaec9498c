// SPDX-License-Identifier: GPL-3.0-or-later
//
// Two sounds laid over each other to a part of a sample, as spectra of their whole length.
#pragma once

#include "signal/audio_buffer.h"

#include <complex>
#include <vector>

namespace hr::audition {

/// Of one channel, from 0 Hz to half the rate.
using Bins = std::vector<std::complex<double>>;

std::vector<Bins> spectraOf(const signal::AudioBuffer& sound);

/// Sums over all bins and channels; inner bins stand for two. At half the rate a delay by parts of a sample has
/// no meaning: that bin is left out.
template<class Term>
double total(const std::vector<Bins>& spectra, std::size_t frames, Term term)
{
    double sum = 0;
    for (std::size_t c = 0; c < spectra.size(); ++c)
        for (std::size_t k = 0; k < spectra[c].size(); ++k)
            sum += (k == 0 ? 1 : 2 * k == frames ? 0 : 2) * term(c, k);
    return sum;
}

/// Of all channels, without the bin at half the rate.
double power(const std::vector<Bins>& spectra, std::size_t frames);

/// Samples by which `b` is later than `a`, in the circle, at most `most` of them: where both agree most, in the
/// same or in opposite polarity. A steady tone has many such places; of those the one that moves least. 0 to
/// the last bit where no other is better.
double offsetOf(const std::vector<Bins>& a, const std::vector<Bins>& b, std::size_t frames, std::size_t most);

/// The spectra, earlier by `offset` samples.
std::vector<Bins> advanced(const std::vector<Bins>& spectra, double offset, std::size_t frames);

} // namespace hr::audition
