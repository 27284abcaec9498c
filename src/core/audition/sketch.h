// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sound in few numbers, from which the distance of two sounds can be told: of each block some sums with
// random signs, the same signs for every sound. As sums are linear, what two sounds differ by has the
// difference of their sketches; its power is that of the difference, in the mean (W. Johnson, J. Lindenstrauss,
// 1984). Of a sound of some seconds it is right to some tenths of a dB, at 1/32 of the memory.
#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace hr::audition {

class Sketch {
public:
    void add(std::span<const float> samples);

    double power() const { return distance(*this, 0, *this, 1); }
    /// Of `one_gain` times the first less `other_gain` times the second, which is as long.
    static double distance(const Sketch& one, double one_gain, const Sketch& other, double other_gain);

private:
    static constexpr std::size_t block = 256;
    static constexpr std::size_t sums_a_block = 8;

    std::vector<float> m_sums;
    std::uint64_t m_at = 0;
    std::uint64_t m_signs = 0; // of the samples around m_at
};

} // namespace hr::audition
