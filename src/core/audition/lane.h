// SPDX-License-Identifier: GPL-3.0-or-later
//
// One thing that can be heard: the source itself, or the source through one processor, rendered ahead
// on a thread of its own into a ring that the audio callback reads.
//
// States of the thread, and who makes the transition:
//   Empty -> Opening [assign()] -> Waiting [stage opened] -> Filling [restart()] -> Ready [ring full enough]
//   any -> Faulted [processor failed: the lane goes on, silent, and says why]
// A ring is cleared only between restart() and ready(), while the callback is known to keep away.
#pragma once

#include "audition/ring.h"
#include "audition/source.h"
#include "bench/latency.h"
#include "hosting/instance.h"

#include <condition_variable>
#include <mutex>
#include <thread>

namespace hr::audition {

/// What a lane is to play. An empty id is the untreated source.
struct LaneSpec {
    hosting::Location location;
    std::vector<double> values; ///< by the processor's parameters

    friend bool operator==(const LaneSpec& a, const LaneSpec& b) { return a.location == b.location; }
};

class Lane {
public:
    static constexpr std::size_t stretch_frames = 256; ///< rendered at a time
    static constexpr std::size_t ahead_frames = 2048;  ///< kept in the ring: 43 ms at 48 kHz
    using Ring = audition::Ring<4096>;

    explicit Lane(double rate_hz);
    ~Lane();
    Lane(const Lane&) = delete;
    Lane& operator=(const Lane&) = delete;

    // --- control side: any one thread ---

    /// Opens the processor in the background; what plays now goes on until restart().
    void assign(const LaneSpec& spec);
    /// Whether what was assigned is open (or has failed to).
    bool opened() const;
    /// From frame `at` of the loop, freshly started. Only while the callback keeps away from the ring.
    void restart(std::shared_ptr<const Source> source, Section loop, std::size_t at);
    /// Heard once what is in the ring has been played.
    void setParameter(std::size_t index, double value);

    bool ready() const { return m_ready.load(std::memory_order_acquire); }
    /// Why the lane is silent.
    std::optional<hosting::Fault> fault() const;

    // --- the audio callback ---

    Ring& ring() { return m_ring; }

private:
    void run();
    void openStage(std::unique_lock<std::mutex>& lock);
    void beginFill(std::unique_lock<std::mutex>& lock);
    hosting::FaultOr<void> startStage(const std::vector<double>& values);
    void fillRing();
    void followLatency();
    void fail(hosting::Fault fault);

    const double m_rate_hz;
    Ring m_ring;
    std::atomic<bool> m_ready{false}; // written by the lane's thread, and by restart()

    mutable std::mutex m_mutex;
    std::condition_variable m_changed;
    bool m_quit = false;                                   // guarded by m_mutex
    std::optional<LaneSpec> m_wanted;                      // guarded by m_mutex: to be opened
    bool m_restart = false;                                // guarded by m_mutex
    std::shared_ptr<const Source> m_source;                // guarded by m_mutex
    Section m_loop;                                        // guarded by m_mutex
    std::size_t m_start_at = 0;                            // guarded by m_mutex
    std::vector<double> m_values;                          // guarded by m_mutex: the latest of each parameter
    std::vector<std::pair<std::size_t, double>> m_changes; // guarded by m_mutex: to be sent
    std::optional<hosting::Fault> m_fault;                 // guarded by m_mutex

    // The lane's thread only:
    std::unique_ptr<hosting::Instance> m_stage; // null: untreated, or failed
    bool m_silent = false;                      // failed
    // Found from the sound rather than taken on trust, once for each set of values it is started with.
    std::optional<std::vector<double>> m_latency_of;
    std::optional<std::size_t> m_latency_found;
    std::shared_ptr<const Source> m_playing;
    Section m_playing_loop;
    std::size_t m_at = 0;               // next frame to be read from the source
    std::size_t m_to_drop = 0;          // frames of latency still to come out
    std::size_t m_to_hold = 0;          // frames of silence to put in, where a change has made the latency less
    std::size_t m_latency_reported = 0; // as of the last stretch
    bool m_filling = false;
    std::vector<float> m_left, m_right, m_out_left, m_out_right;

    std::jthread m_thread; // last: it uses all of the above
};

} // namespace hr::audition
