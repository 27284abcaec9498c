// SPDX-License-Identifier: GPL-3.0-or-later
//
// Convolution with a long response, without latency: its first block in the time domain, the rest in equal
// partitions in the frequency domain (W. G. Gardner, "Efficient convolution without input-output delay",
// JAES 43, 1995, with partitions of one size).
//
// Threads: one at a time. setResponse() allocates; process() does not.
#pragma once

#include <complex>
#include <cstddef>
#include <memory>
#include <vector>

namespace hr::signal {

class Convolver {
public:
    static constexpr std::size_t block_frames = 512;

    Convolver();
    ~Convolver();
    Convolver(const Convolver&) = delete;
    Convolver& operator=(const Convolver&) = delete;

    /// Also forgets the past.
    void setResponse(const std::vector<double>& response);
    /// Any number of frames; `in` and `out` must not overlap. Silence until a response is set.
    void process(const float* in, float* out, std::size_t frames) noexcept;

private:
    using Bins = std::vector<std::complex<double>>;
    struct Plans;

    /// What the response's first block gives for frame `at` of the growing block.
    double headAt(std::size_t at) const noexcept;
    void finishBlock() noexcept;

    std::unique_ptr<Plans> m_plans;
    std::vector<double> m_head_backwards; // response frames 0 to block_frames, the last first
    std::vector<Bins> m_partitions;       // spectra of the rest, block after block
    std::vector<Bins> m_past;             // spectra of the input's blocks, a ring, newest at m_newest
    std::size_t m_newest = 0;
    std::vector<double> m_recent; // two blocks of input: the last whole one, then the growing one
    std::vector<double> m_tail;   // what the partitions add to the growing block
    std::size_t m_at = 0;         // frames in the growing block
};

} // namespace hr::signal
