// SPDX-License-Identifier: GPL-3.0-or-later
//
// Convolution with a long response, without latency: its first block in the time domain, the rest in partitions
// in the frequency domain, short ones first, then long ones (W. G. Gardner, "Efficient convolution without
// input-output delay", JAES 43, 1995, with partitions of two sizes).
//
// Threads: one at a time. setResponse() allocates; process() does not.
#pragma once

#include <cstddef>
#include <memory>
#include <vector>

namespace hr::signal {

class Convolver {
public:
    static constexpr std::size_t block_frames = 512;
    static constexpr std::size_t long_block_frames = 8192;

    Convolver();
    ~Convolver();
    Convolver(const Convolver&) = delete;
    Convolver& operator=(const Convolver&) = delete;

    /// Also forgets the past.
    void setResponse(const std::vector<double>& response);
    /// Any number of frames; `in` and `out` must not overlap. Silence until a response is set.
    void process(const float* in, float* out, std::size_t frames) noexcept;

private:
    class Partitions;

    /// What the response's first block gives for frame `at` of the growing block.
    double headAt(std::size_t at) const noexcept;

    std::vector<double> m_head_backwards; // response frames 0 to block_frames, the last first
    std::unique_ptr<Partitions> m_short;  // from block_frames on
    std::unique_ptr<Partitions> m_long;   // from long_block_frames on
    std::vector<double> m_recent;         // two blocks of input: the last whole one, then the growing one
    std::size_t m_at = 0;                 // frames in the growing block
};

} // namespace hr::signal
