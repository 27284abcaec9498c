// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/sketch.h"

#include <algorithm>
#include <array>

namespace hr::audition {

namespace {

/// Evenly spread bits of a number (splitmix64; S. Vigna, 2015).
std::uint64_t scattered(std::uint64_t number)
{
    number += 0x9e3779b97f4a7c15U;
    number = (number ^ (number >> 30)) * 0xbf58476d1ce4e5b9U;
    number = (number ^ (number >> 27)) * 0x94d049bb133111ebU;
    return number ^ (number >> 31);
}

} // namespace

void Sketch::add(std::span<const float> samples)
{
    // A byte of random signs as factors: a sample is added to all sums side by side.
    using Signs = std::array<float, sums_a_block>;
    static const auto signs_of = [] {
        std::array<Signs, 256> all{};
        for (std::size_t byte = 0; byte < all.size(); ++byte)
            for (std::size_t k = 0; k < sums_a_block; ++k)
                all[byte][k] = (byte >> k & 1) != 0 ? 1.0F : -1.0F;
        return all;
    }();
    constexpr std::size_t bytes = sizeof(std::uint64_t); // of one random number, so for as many samples
    for (const float sample : samples) {
        if (m_at % block == 0)
            m_sums.insert(m_sums.end(), sums_a_block, 0.0F);
        if (m_at % bytes == 0)
            m_signs = scattered(m_at / bytes);
        const Signs& signs = signs_of[m_signs >> 8 * (m_at++ % bytes) & 0xff];
        float* sums = &m_sums[m_sums.size() - sums_a_block];
        for (std::size_t k = 0; k < sums_a_block; ++k)
            sums[k] += signs[k] * sample;
    }
}

double Sketch::distance(const Sketch& one, double one_gain, const Sketch& other, double other_gain)
{
    double sum = 0;
    for (std::size_t k = 0; k < std::min(one.m_sums.size(), other.m_sums.size()); ++k) {
        const double off =
            one_gain * static_cast<double>(one.m_sums[k]) - other_gain * static_cast<double>(other.m_sums[k]);
        sum += off * off;
    }
    return sum / sums_a_block;
}

} // namespace hr::audition
