// SPDX-License-Identifier: GPL-3.0-or-later
//
// One contender at work: the source through its processor, rendered ahead on a thread of its own into a ring
// that the audio callback reads.
//
// States of the thread, and who makes the transition:
//   Opening -> Waiting [the processor is open, or has failed to] -> Filling [begin()] -> begin() again
//   any -> Faulted [the processor failed: the lane goes on, silent, and says why]
// begin() is only for a lane that the callback does not know, or knows no more: its ring is cleared.
#pragma once

#include "audition/output_guard.h"
#include "audition/rendered.h"
#include "audition/ring.h"
#include "audition/tap.h"
#include "audition/timeline.h"
#include "hosting/instance.h"

#include <chrono>
#include <condition_variable>
#include <functional>
#include <map>
#include <thread>

namespace hr::audition {

/// What all lanes of an engine share.
class LaneClock {
public:
    explicit LaneClock(double rate_hz) : m_rate_hz(rate_hz) {}

    double rateHz() const { return m_rate_hz; }
    /// How far lanes render ahead: what the device takes at once, and 43 ms in which a lane may not get its
    /// turn.
    std::size_t aheadFrames() const;
    /// What lanes render at a time of what comes in live: a period of the device, up to Lane::stretch_frames.
    std::size_t liveStretch() const;
    void setPeriod(std::size_t frames) { m_period.store(frames, std::memory_order_relaxed); }
    bool isPlaying() const { return m_playing.load(std::memory_order_relaxed); }
    void setPlaying(bool on) { m_playing.store(on, std::memory_order_relaxed); }

    /// What has been found about latencies, so that a processor is not searched again for each position.
    struct Latency {
        std::optional<std::size_t> found;
        std::size_t reported = 0;
    };
    std::optional<Latency> latencyOf(const std::string& what) const;
    void remember(const std::string& what, Latency latency);

private:
    const double m_rate_hz;
    std::atomic<std::size_t> m_period{256}; // the engine writes it
    std::atomic<bool> m_playing{false};     // the engine writes it
    mutable std::mutex m_mutex;
    std::map<std::string, Latency> m_latencies; // guarded by m_mutex
};

class Lane {
public:
    static constexpr std::size_t stretch_frames = 256; ///< rendered at a time, at the most
    static constexpr double margin_s = 0.043;
    static constexpr std::size_t longest_period_frames = 16384;

    /// Opens the processor in the background. `attention` is called on the lane's thread whenever the engine
    /// has a reason to look.
    Lane(const ContenderSpec& spec, std::shared_ptr<LaneClock> clock, std::shared_ptr<TapBoard> taps,
         std::function<void()> attention);
    ~Lane(); ///< ends what it is doing, which takes some milliseconds
    Lane(const Lane&) = delete;
    Lane& operator=(const Lane&) = delete;

    ContenderId id() const { return m_id; }
    std::uint32_t generation() const { return m_generation; }

    // --- control side: any one thread ---

    /// Whether the processor is open, or has failed to.
    bool opened() const { return m_opened.load(std::memory_order_acquire); }
    /// Since it was made.
    double ageS() const
    {
        return std::chrono::duration<double>(std::chrono::steady_clock::now() - m_made).count();
    }
    /// On this course from where it has come to, freshly started.
    void begin(std::shared_ptr<Timeline> timeline);
    /// Heard once what is in the ring has been played. The latest of each is what counts.
    void setParameter(std::size_t index, double value);
    /// Something that it sleeps on has changed: whether it plays, or how far ahead it is to be.
    void wake();
    /// Ends what it is doing, without waiting for it.
    void requestStop();
    /// Why it is silent.
    std::optional<hosting::Fault> fault() const;
    /// Processor time of a second of sound, as its blocks have taken of late; 0 where none have been timed.
    float coreShare() const { return m_core_share.load(std::memory_order_relaxed); }
    /// Of a chain, at each stage's index in its graph: its gain in what was rendered last, in dB; not a number
    /// where nothing comes in. Empty: it is no chain.
    std::vector<float> stageGainsDb() const;
    /// By how much it is late: taken out, except where it plays live.
    std::size_t latencyFrames() const { return m_latency.load(std::memory_order_relaxed); }

    /// Empty: not to be heard yet.
    void setGain(std::optional<double> gain_db);
    void setMix(WetDry mix)
    {
        m_dry.store(mix.dry, std::memory_order_relaxed);
        m_wet.store(mix.wet, std::memory_order_relaxed);
    }
    void setOffset(double samples) { m_offset.store(static_cast<float>(samples), std::memory_order_relaxed); }

    // --- the audio callback ---

    bool mayBeHeard() const noexcept { return m_gain_known.load(std::memory_order_relaxed); }
    float gain() const noexcept { return m_gain.load(std::memory_order_relaxed); }
    float offsetSamples() const noexcept { return m_offset.load(std::memory_order_relaxed); }
    bool isSilent() const noexcept { return m_faulted.load(std::memory_order_relaxed); }
    /// Whether it has been as far ahead as it should since it began.
    bool filled() const noexcept
    {
        return m_filled.load(std::memory_order_acquire) == m_begun.load(std::memory_order_relaxed);
    }
    /// Frames that are ready from frame `at` of its course on; what lies before it is let go of.
    std::size_t readyAt(std::uint64_t at) noexcept;
    /// The same without letting go of anything: for whoever looks on.
    std::size_t readableFrom(std::uint64_t at) const noexcept;
    /// The earliest frame of its course that it still has, or will have.
    std::uint64_t firstFrame() const noexcept { return m_base + m_ring.taken(); }
    const Frame& peek(std::size_t ahead) const noexcept { return m_ring.peek(ahead); }
    /// It is part of what plays from now on.
    void join() noexcept { m_joined.store(true, std::memory_order_relaxed); }

private:
    void run(const std::stop_token& stop);
    void open(const std::stop_token& stop);
    void beginFill();
    hosting::FaultOr<void> startProcessor(const std::vector<double>& values);
    void fill();
    bool catchUp();
    bool wantsMore() const;
    void waitAWhile(std::unique_lock<std::mutex>& lock, const std::stop_token& stop);
    void followLatency();
    void noteShare();
    void noteGains();
    void mixDryIn(float* left, float* right, std::size_t count);
    void write(const float* left, const float* right, std::size_t count);
    void tap(TapPoint point, std::uint64_t frame, const float* left, const float* right, std::size_t count);
    void fail(hosting::Fault fault);

    static std::uint64_t nextNumber();

    const std::uint64_t m_number = nextNumber(); // higher than that of every lane before it
    const std::chrono::steady_clock::time_point m_made = std::chrono::steady_clock::now();
    const ContenderId m_id;
    const std::uint32_t m_generation;
    const hosting::Location m_location;
    const std::shared_ptr<LaneClock> m_clock;
    const std::shared_ptr<TapBoard> m_taps;
    const std::function<void()> m_attention;

    Ring m_ring;
    std::atomic<bool> m_opened{false};      // by the lane's thread
    std::atomic<std::uint32_t> m_begun{1};  // by begin(): counts up
    std::atomic<std::uint32_t> m_filled{0}; // by the lane's thread: which of these it has filled for
    std::atomic<bool> m_faulted{false};     // by the lane's thread
    std::atomic<bool> m_joined{false};      // by the callback
    std::atomic<float> m_gain{1};           // by the control side
    std::atomic<bool> m_gain_known{false};
    std::atomic<float> m_offset{0};                   // by the control side
    std::atomic<float> m_dry{0};                      // by the control side
    std::atomic<float> m_wet{1};                      // by the control side
    std::atomic<float> m_core_share{0};               // by the lane's thread
    std::atomic<std::size_t> m_latency{0};            // by the lane's thread
    std::vector<std::atomic<float>> m_stage_gains_db; // by the lane's thread

    mutable std::mutex m_mutex;
    std::condition_variable_any m_changed;
    std::shared_ptr<Timeline> m_next_timeline; // guarded by m_mutex; null: nothing is to begin
    bool m_woken = false;                      // guarded by m_mutex
    std::vector<double> m_values;              // guarded by m_mutex: the latest of each parameter
    std::map<std::size_t, double> m_changes;   // guarded by m_mutex: to be sent
    std::optional<hosting::Fault> m_fault;     // guarded by m_mutex

    // The lane's thread only; m_base by readyAt(), too, which begins after m_filled is set:
    std::unique_ptr<hosting::Instance> m_processor;  // null: untreated, rendered, or failed
    std::unique_ptr<const RenderedSound> m_rendered; // null: it is not
    std::shared_ptr<Timeline> m_timeline;
    std::size_t m_stretch = stretch_frames; // rendered at a time on this course
    std::uint32_t m_round = 0;              // which begin() it is on
    std::uint64_t m_base = 0;               // frame of the course at which the ring began
    std::uint64_t m_in = 0;                 // frame of the course that is read next
    std::size_t m_to_drop = 0;              // frames of latency still to come out
    std::size_t m_to_hold = 0;          // frames of silence to put in, where a change has made the latency less
    std::size_t m_latency_reported = 0; // as of the last stretch
    double m_tempo_bpm = 0;             // as it was told last
    WetDry m_mix;                       // gliding
    bool m_filling = false;
    OutputGuard m_guard;
    std::vector<std::shared_ptr<TapReader>> m_readers; // for this stretch
    std::vector<float> m_left, m_right, m_out_left, m_out_right;

    std::jthread m_thread; // last: it uses all of the above
};

} // namespace hr::audition
