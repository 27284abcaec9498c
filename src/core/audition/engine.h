// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plays the line-up: every lane renders all the time, in step; the callback chooses which is heard by
// crossfading, applies the matching gains and the safety limiter, and does nothing else.
//
//     Engine engine(48000);
//     engine.setSource(source, source->whole());
//     engine.setLineUp({{}, {location, values}});   // lane 0 is the reference
//     engine.play();
//     engine.render(out, frames);                   // by whoever keeps time
//
// Threads: control functions from one thread, which also calls tend() every now and then (it takes no
// longer than a lock); render() from one audio thread, where it takes no lock, allocates nothing and
// makes no system call.
//
// How a new source, loop, position or line-up takes effect: control raises the wanted epoch; the
// callback fades out, acknowledges it and keeps away from the rings; tend() restarts the lanes; when
// all are ready the callback goes on, fading in.
#pragma once

#include "audition/lane.h"
#include "signal/safety_limiter.h"

namespace hr::audition {

class Engine {
public:
    static constexpr std::size_t most_lanes = 9; ///< the reference and eight candidates
    static constexpr double crossfade_ms = 10;

    explicit Engine(double rate_hz);
    Engine(const Engine&) = delete;
    Engine& operator=(const Engine&) = delete;

    double rateHz() const { return m_rate_hz; }

    // --- control ---

    void setSource(std::shared_ptr<const Source> source, Section loop);
    void setLoop(Section loop);
    /// Lanes that stay the same keep their processor. At most most_lanes.
    void setLineUp(const std::vector<LaneSpec>& lanes);
    void setParameter(std::size_t lane, std::size_t index, double value);
    void setGainDb(std::size_t lane, double gain_db);
    void setOutputDb(double level_db);
    /// Crossfades to this lane; one that does not exist is silence.
    void hear(std::size_t lane) { m_heard.store(lane, std::memory_order_relaxed); }
    void play() { m_playing.store(true, std::memory_order_relaxed); }
    void pause() { m_playing.store(false, std::memory_order_relaxed); }
    /// To a frame of the source; outside the loop it begins at the loop's first.
    void seek(std::size_t frame);
    /// Moves pending changes along; call it at least 20 times a second.
    void tend();

    bool isPlaying() const { return m_playing.load(std::memory_order_relaxed); }
    /// Whether what was asked for last is what plays.
    bool isSettled() const
    {
        return m_epoch_playing.load(std::memory_order_acquire) == m_epoch_wanted.load() && !m_opening;
    }
    /// Frame of the source that is being handed to the device.
    std::size_t position() const;
    Section loop() const { return m_loop; }
    std::optional<hosting::Fault> fault(std::size_t lane) const { return m_lanes[lane]->fault(); }
    /// Frames that every lane has ready.
    std::size_t readyFrames() const;
    std::size_t underruns() const { return m_underruns.load(std::memory_order_relaxed); }
    bool takeLimiterActed() { return m_limiter_acted.exchange(false, std::memory_order_relaxed); }

    /// What went out since the last call, for meters: at most `most` frames into `out`.
    std::size_t takeOutput(Frame* out, std::size_t most);

    // --- the audio callback ---

    /// Interleaved stereo.
    void render(float* interleaved, std::size_t frames) noexcept;

private:
    void restartLanes();
    bool mayRead() noexcept;
    float supplyStep(std::size_t readable, std::size_t frames) noexcept;
    void mix(float* interleaved, std::size_t frames) noexcept;
    void advanceFades(std::size_t heard) noexcept;

    const double m_rate_hz;
    std::array<std::unique_ptr<Lane>, most_lanes> m_lanes;

    // Control thread only:
    std::shared_ptr<const Source> m_source;
    Section m_loop;
    std::size_t m_seek_to = 0; // in the loop
    std::vector<LaneSpec> m_line_up;
    bool m_opening = false;      // lanes of a new line-up are being opened
    std::size_t m_restarted = 0; // epoch the lanes were last restarted for

    // Control writes, callback reads:
    std::atomic<std::size_t> m_epoch_wanted{0};
    std::atomic<std::size_t> m_lane_count{0}; // changes only while the callback keeps away
    std::atomic<std::size_t> m_heard{0};
    std::atomic<bool> m_playing{false};
    std::array<std::atomic<float>, most_lanes> m_gain{};
    std::atomic<float> m_output{1.0F};
    std::atomic<std::size_t> m_ready_epoch{0}; // all lanes are filled for this one

    // Callback writes, control reads:
    std::atomic<std::size_t> m_epoch_acknowledged{0};
    std::atomic<std::size_t> m_epoch_playing{0};
    std::atomic<std::size_t> m_played{0}; // frames since the epoch began
    std::atomic<std::size_t> m_underruns{0};
    std::atomic<bool> m_limiter_acted{false};

    // Callback only:
    struct Fade {
        float heard = 0; // 0 to 1, along the crossfade
        float gain = 1;  // the matching gain, gliding
    };
    std::array<Fade, most_lanes> m_fades{};
    float m_master = 0; // 0 to 1: play, pause, change of epoch
    float m_supply = 1; // 0 to 1: down where the rings run dry
    bool m_dry = false; // they have, and are not half full yet
    const float m_fade_step;
    const float m_glide; // of the matching gain, a frame
    signal::SafetyLimiter m_limiter;
    std::array<float, 4096> m_left{}, m_right{};

    Ring<32768> m_meter; // callback -> control
};

} // namespace hr::audition
