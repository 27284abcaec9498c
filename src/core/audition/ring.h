// SPDX-License-Identifier: GPL-3.0-or-later
//
// Stereo frames from one thread to another without a lock: one writes, one reads.
// Memory ordering: the writer releases `m_written` after the samples, the reader acquires it before
// them; the reader releases `m_read` after it is done, the writer acquires it before it overwrites.
#pragma once

#include <atomic>
#include <bit>
#include <cassert>
#include <cstddef>
#include <vector>

namespace hr::audition {

struct Frame {
    float left = 0;
    float right = 0;
};

class Ring {
public:
    /// Rounded up to a power of two.
    explicit Ring(std::size_t capacity_frames) : m_frames(std::bit_ceil(capacity_frames)) {}

    std::size_t capacity() const noexcept { return m_frames.size(); }
    std::size_t readable() const noexcept
    {
        return m_written.load(std::memory_order_acquire) - m_read.load(std::memory_order_relaxed);
    }
    std::size_t writable() const noexcept
    {
        return m_frames.size() -
               (m_written.load(std::memory_order_relaxed) - m_read.load(std::memory_order_acquire));
    }

    /// `count` must not exceed writable().
    void write(const float* left, const float* right, std::size_t count) noexcept
    {
        const std::size_t at = m_written.load(std::memory_order_relaxed);
        // Whoever asked readable() for room has not acquired what the reader let go of: that is done here.
        [[maybe_unused]] const std::size_t read = m_read.load(std::memory_order_acquire);
        assert(at - read + count <= m_frames.size());
        for (std::size_t i = 0; i < count; ++i)
            m_frames[(at + i) & (m_frames.size() - 1)] = {left[i], right[i]};
        m_written.store(at + count, std::memory_order_release);
    }

    /// The frame `ahead` of the next one to be taken; ahead < readable().
    const Frame& peek(std::size_t ahead) const noexcept
    {
        return m_frames[(m_read.load(std::memory_order_relaxed) + ahead) & (m_frames.size() - 1)];
    }
    void skip(std::size_t count) noexcept
    {
        m_read.store(m_read.load(std::memory_order_relaxed) + count, std::memory_order_release);
    }

    /// Frames written, and taken, since it was cleared: for the side that does so.
    std::size_t written() const noexcept { return m_written.load(std::memory_order_relaxed); }
    std::size_t taken() const noexcept { return m_read.load(std::memory_order_relaxed); }

    /// Only while the other side is known to keep away.
    void clear() noexcept
    {
        m_written.store(0, std::memory_order_relaxed);
        m_read.store(0, std::memory_order_release);
    }

private:
    std::vector<Frame> m_frames;
    std::atomic<std::size_t> m_written{0}; // by the writer
    std::atomic<std::size_t> m_read{0};    // by the reader
};

} // namespace hr::audition
