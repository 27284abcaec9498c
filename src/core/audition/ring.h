// SPDX-License-Identifier: GPL-3.0-or-later
//
// Stereo frames from one thread to another without a lock: one writes, one reads.
// Memory ordering: the writer releases `m_written` after the samples, the reader acquires it before
// them; the reader releases `m_read` after it is done, the writer acquires it before it overwrites.
#pragma once

#include <algorithm>
#include <array>
#include <atomic>
#include <cassert>
#include <cstddef>

namespace hr::audition {

struct Frame {
    float left = 0;
    float right = 0;
};

template<std::size_t capacity_frames>
class Ring {
    static_assert((capacity_frames & (capacity_frames - 1)) == 0, "a power of two");

public:
    std::size_t readable() const noexcept
    {
        return m_written.load(std::memory_order_acquire) - m_read.load(std::memory_order_relaxed);
    }
    std::size_t writable() const noexcept
    {
        return capacity_frames -
               (m_written.load(std::memory_order_relaxed) - m_read.load(std::memory_order_acquire));
    }

    /// `count` must not exceed writable().
    void write(const float* left, const float* right, std::size_t count) noexcept
    {
        const std::size_t at = m_written.load(std::memory_order_relaxed);
        // Whoever asked readable() for room has not acquired what the reader let go of: that is done here.
        [[maybe_unused]] const std::size_t read = m_read.load(std::memory_order_acquire);
        assert(at - read + count <= capacity_frames);
        for (std::size_t i = 0; i < count; ++i)
            m_frames[(at + i) % capacity_frames] = {left[i], right[i]};
        m_written.store(at + count, std::memory_order_release);
    }

    /// The frame `ahead` of the next one to be taken; ahead < readable().
    const Frame& peek(std::size_t ahead) const noexcept
    {
        return m_frames[(m_read.load(std::memory_order_relaxed) + ahead) % capacity_frames];
    }
    void skip(std::size_t count) noexcept
    {
        m_read.store(m_read.load(std::memory_order_relaxed) + count, std::memory_order_release);
    }

    /// Only while the other side is known to keep away.
    void clear() noexcept
    {
        m_read.store(m_written.load(std::memory_order_relaxed), std::memory_order_release);
    }

private:
    std::array<Frame, capacity_frames> m_frames{};
    std::atomic<std::size_t> m_written{0}; // by the writer
    std::atomic<std::size_t> m_read{0};    // by the reader
};

} // namespace hr::audition
