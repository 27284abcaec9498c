// SPDX-License-Identifier: GPL-3.0-or-later
//
// Places at which what is heard can be looked at: meters, live views, recorders. Any number of readers; each
// gets blocks stamped with the source's frame, so that in and out can be laid over each other. A slow reader
// loses blocks and knows how many; it never holds up sound.
//
//     auto reader = engine.listen(TapPoint::Output, id);
//     TapBlock block;
//     while (reader->take(block)) …
#pragma once

#include "audition/scene.h"

#include <array>
#include <atomic>
#include <memory>
#include <mutex>

namespace hr::audition {

enum class TapPoint {
    Input,   ///< what goes into a contender's processor
    Output,  ///< what comes out of it, its latency taken out
    Matched, ///< the same at the gain that the matching took
    Sum,     ///< what goes to the device, of whatever is heard
};

struct TapBlock {
    static constexpr std::size_t most_frames = 256;

    ContenderId contender = no_contender; ///< of Sum: the one that is heard
    std::uint32_t generation = 0;
    std::size_t source_frame = 0; ///< of its first frame
    std::size_t frames = 0;
    std::array<float, most_frames> left, right;
};

/// From one writer at a time to one reader, which needs no lock.
class TapReader {
public:
    /// `blocks` are kept for a reader that is late.
    TapReader(TapPoint point, ContenderId contender, std::size_t blocks);

    TapPoint point() const { return m_point; }
    ContenderId contender() const { return m_contender; }

    /// The oldest that has not been taken; false where there is none.
    bool take(TapBlock& block);
    /// How many there are to take.
    std::size_t waiting() const
    {
        return m_written.load(std::memory_order_acquire) - m_read.load(std::memory_order_relaxed);
    }
    /// How many have been lost so far.
    std::size_t lost() const { return m_lost.load(std::memory_order_relaxed); }

    /// The writer's side: copies, and counts as lost what finds no room. Real-time safe.
    void put(const TapBlock& block) noexcept;

    /// The same for several lanes that follow one another, each with a higher number than those before it: once
    /// one has written, an older one writes no more. `fill` is given the block. Not for the audio callback.
    template<class Fill>
    void putFrom(std::uint64_t lane, Fill fill)
    {
        const std::lock_guard lock(m_writing);
        if (lane < m_lane)
            return;
        m_lane = lane;
        if (TapBlock* block = room()) {
            fill(*block);
            commit();
        }
    }

private:
    TapBlock* room() noexcept;
    void commit() noexcept;

    const TapPoint m_point;
    const ContenderId m_contender;
    std::vector<TapBlock> m_blocks;
    std::mutex m_writing;                  // between lanes
    std::uint64_t m_lane = 0;              // guarded by m_writing: the newest that has written
    std::atomic<std::size_t> m_written{0}; // by the writer
    std::atomic<std::size_t> m_read{0};    // by the reader
    std::atomic<std::size_t> m_lost{0};    // by the writer
};

/// Who listens to the lanes: shared by the engine and all of them. A reader that is let go of is forgotten.
class TapBoard {
public:
    void add(const std::shared_ptr<TapReader>& reader);
    /// The readers of one contender. Not for the audio callback.
    std::vector<std::shared_ptr<TapReader>> of(ContenderId contender);
    /// Whether there may be any, without a lock.
    bool any() const { return m_count.load(std::memory_order_relaxed) > 0; }

private:
    std::mutex m_mutex;
    std::vector<std::weak_ptr<TapReader>> m_readers; // guarded by m_mutex
    std::atomic<std::size_t> m_count{0};             // of the above
};

} // namespace hr::audition
