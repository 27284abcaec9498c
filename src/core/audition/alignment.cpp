// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/alignment.h"

#include "signal/transform.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace hr::audition {

namespace {

/// Whole samples by which `b` is later than `a`, in the circle: the highest correlation. A steady tone has many
/// as high ones; of those the one that moves least.
double wholeOffset(const Bins& product, std::size_t frames, std::size_t most)
{
    const auto correlation = signal::inverseTransform(product, frames);
    double highest = 0;
    for (std::size_t away = 0; away <= most; ++away)
        highest =
            std::max({highest, std::abs(correlation[away]), std::abs(correlation[(frames - away) % frames])});
    const auto isHighest = [&](std::size_t at) { return std::abs(correlation[at]) >= highest * (1 - 1e-9); };
    for (std::size_t away = 0; away <= most; ++away) {
        if (isHighest(away))
            return static_cast<double>(away);
        if (isHighest((frames - away) % frames))
            return -static_cast<double>(away);
    }
    return 0;
}

/// The offset near `whole` at which both agree most (golden section; J. Kiefer 1953); `whole` itself where no
/// other is better, so that equal sounds have no rounding between them.
double refinedOffset(const Bins& product, double whole, std::size_t frames)
{
    const auto agreement = [&](double offset) {
        const auto step = std::polar(1.0, 2 * std::numbers::pi * offset / static_cast<double>(frames));
        std::complex<double> turn = 1;
        double sum = 0;
        for (const auto& bin : product) {
            sum += bin.real() * turn.real() - bin.imag() * turn.imag();
            turn *= step;
        }
        return std::abs(sum);
    };
    const double ratio = (std::sqrt(5.0) - 1) / 2;
    double low = whole - 1;
    double high = whole + 1;
    double x1 = high - ratio * (high - low);
    double x2 = low + ratio * (high - low);
    double f1 = agreement(x1);
    double f2 = agreement(x2);
    while (high - low > 1e-6) {
        if (f1 > f2) {
            high = std::exchange(x2, x1);
            f2 = f1;
            x1 = high - ratio * (high - low);
            f1 = agreement(x1);
        } else {
            low = std::exchange(x1, x2);
            f1 = f2;
            x2 = low + ratio * (high - low);
            f2 = agreement(x2);
        }
    }
    const double best = (low + high) / 2;
    return agreement(best) > agreement(whole) * (1 + 1e-12) ? best : whole;
}

} // namespace

std::vector<Bins> spectraOf(const signal::AudioBuffer& sound)
{
    std::vector<Bins> spectra;
    for (std::size_t c = 0; c < sound.channels(); ++c) {
        const auto samples = sound.channel(c);
        spectra.push_back(signal::forwardTransform(std::vector<double>(samples.begin(), samples.end())));
    }
    return spectra;
}

double power(const std::vector<Bins>& spectra, std::size_t frames)
{
    return total(spectra, frames, [&](std::size_t c, std::size_t k) { return std::norm(spectra[c][k]); });
}

double offsetOf(const std::vector<Bins>& a, const std::vector<Bins>& b, std::size_t frames, std::size_t most)
{
    Bins product(a.front().size());
    for (std::size_t c = 0; c < a.size(); ++c)
        for (std::size_t k = 0; k < product.size(); ++k)
            product[k] += std::conj(a[c][k]) * b[c][k];
    const double whole = wholeOffset(product, frames, std::min(most, frames / 2));
    return refinedOffset(product, whole, frames);
}

std::vector<Bins> advanced(const std::vector<Bins>& spectra, double offset, std::size_t frames)
{
    std::vector<Bins> moved = spectra;
    for (std::size_t k = 0; k < moved.front().size(); ++k) {
        const auto turn = std::polar(1.0, 2 * std::numbers::pi * static_cast<double>(k) * offset /
                                              static_cast<double>(frames));
        for (Bins& bins : moved)
            bins[k] *= turn;
    }
    return moved;
}

} // namespace hr::audition
