// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/sketch.h"

#include <algorithm>

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
    for (const float sample : samples) {
        if (m_at % block == 0)
            m_sums.insert(m_sums.end(), sums_a_block, 0.0);
        const std::uint64_t signs = scattered(m_at++);
        double* sums = &m_sums[m_sums.size() - sums_a_block];
        for (std::size_t k = 0; k < sums_a_block; ++k)
            sums[k] += (signs >> k & 1) != 0 ? sample : -static_cast<double>(sample);
    }
}

double Sketch::distance(const Sketch& one, double one_gain, const Sketch& other, double other_gain)
{
    double sum = 0;
    for (std::size_t k = 0; k < std::min(one.m_sums.size(), other.m_sums.size()); ++k) {
        const double off = one_gain * one.m_sums[k] - other_gain * other.m_sums[k];
        sum += off * off;
    }
    return sum / sums_a_block;
}

} // namespace hr::audition
