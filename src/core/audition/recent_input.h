// SPDX-License-Identifier: GPL-3.0-or-later
//
// The last minutes of what comes in, kept in memory for whoever wants to have heard it.
//
// Threads: put() from one audio thread, where it takes no lock, allocates nothing and makes no system call;
// everything else from any other.
#pragma once

#include "signal/audio_buffer.h"

#include <atomic>
#include <vector>

namespace hr::audition {

class RecentInput {
public:
    static constexpr double kept_s = 120;

    explicit RecentInput(double rate_hz, double seconds = kept_s);

    void put(const float* interleaved, std::size_t frames) noexcept;

    double rateHz() const { return m_rate_hz; }
    /// Frames that have come in so far; what is older than kept_s is gone.
    std::size_t arrived() const { return m_arrived.load(std::memory_order_acquire); }
    /// Those from `first` on that are still there, counted from the beginning; stereo, and empty where none is.
    signal::AudioBuffer since(std::size_t first) const;
    /// The same of the last so many seconds.
    signal::AudioBuffer last(double seconds) const;
    /// `count` frames from `first` on, as fast as a copy; what has not come in yet, or is gone, is silent.
    void read(std::size_t first, float* left, float* right, std::size_t count) const noexcept;
    /// Highest peak since this was asked last, linear.
    float takePeak() { return m_peak.exchange(0, std::memory_order_relaxed); }

private:
    const double m_rate_hz;
    const std::size_t m_kept_frames;
    /// More than what is kept, so that the oldest of it is not written over while it is copied. Each sample is
    /// read and written whole.
    std::vector<std::atomic<float>> m_samples;
    std::atomic<std::size_t> m_arrived{0};
    std::atomic<float> m_peak{0};
};

} // namespace hr::audition
