// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plays a scene: every contender renders all the time, in step; the callback (mixer.h) chooses which is heard
// by crossfading, applies the matching gains and the safety limiter, and does nothing else.
//
//     Engine engine(48000);
//     engine.setScene({source, source->whole(), {{1, 1, {}, {}, 0.0}, {2, 1, location, values, -3.0}}});
//     engine.hear(2);
//     engine.play();
//     engine.render(out, frames);                   // by whoever keeps time
//
// A scene is taken whole. What was heard goes on, at its own gain, until everything in the new one that was
// there before is open and filled; then it changes over at one frame. Nobody waits for a newcomer: it joins
// once it is ready, and is heard, where that was asked for, from then on.
//
// A contender keeps what is loaded of it for as long as it is in the scene (hosting::KeptLoaded): a seek,
// another section, other values or another course start what is there, and load nothing.
//
// Threads: control functions from one thread, which also calls applyPending() when `attention` was called, and
// now and then while it is not settled (it takes no longer than a lock); render() from one audio thread, where
// it takes no lock, allocates nothing and makes no system call.
#pragma once

#include "audition/mixer.h"
#include "hosting/worker_pool.h"

namespace hr::audition {

class Engine {
public:
    /// `attention` is called on any thread when there is a reason to applyPending().
    explicit Engine(double rate_hz, std::function<void()> attention = {});
    ~Engine(); ///< once no callback can come any more; ends all lanes, which takes some milliseconds
    Engine(const Engine&) = delete;
    Engine& operator=(const Engine&) = delete;

    double rateHz() const { return m_clock->rateHz(); }

    // --- control ---

    /// In place of the one before. Contenders of the same id and generation keep their processor, and their
    /// values are changed to these; where source and loop are the same, they play on without a break.
    /// `position` is a frame of the source to go to, inside the loop; without one, what plays goes on where it
    /// is, or at the loop's beginning where that is elsewhere now.
    void setScene(Scene scene, std::optional<std::size_t> position = {});
    const Scene& scene() const { return m_scene; }
    /// The same scene from another frame of the source on.
    void seek(std::size_t frame) { setScene(m_scene, frame); }

    void setParameter(ContenderId id, std::size_t index, double value);
    /// Of this generation only; empty: not to be heard until one is set.
    void setGain(ContenderId id, std::uint32_t generation, std::optional<double> gain_db);
    /// By how much it is later than the reference: see ContenderSpec.
    void setOffset(ContenderId id, std::uint32_t generation, double samples);
    /// How much of it is heard beside how much of the source; glides there.
    void setMix(ContenderId id, std::uint32_t generation, WetDry mix);
    /// What is taken away from whoever is heard where the difference is heard.
    void setReference(ContenderId id) { m_mixer.setReference(id); }
    /// Instead of what is heard, what the reference at its own gain leaves of it; where the reference cannot be
    /// heard, nothing.
    void hearDifference(bool on) { m_mixer.hearDifference(on); }
    /// See Mixer::setAccompaniment(): a contender of the scene, mostly one that was rendered before.
    void setAccompaniment(ContenderId id, float left_gain = 1, float right_gain = 1)
    {
        m_mixer.setAccompaniment(id, left_gain, right_gain);
    }
    void setOutputDb(double level_db);
    void setMonitor(const Monitor& monitor) { m_mixer.setMonitor(monitor); }
    void setBar(double bar_frames) { m_mixer.setBar(bar_frames); }
    /// Crossfades to it as soon as it is there and its gain is known; what is heard stays until then.
    /// `gently`: over Mixer::gentle_crossfade_ms.
    void hear(ContenderId id, bool gently = false);
    /// From this frame of the source on: who is heard and where it plays change together.
    void hearFrom(ContenderId id, std::size_t frame, bool gently = false);
    ContenderId audible() const { return m_mixer.audible(); }
    void play();
    void pause();
    bool isPlaying() const { return m_mixer.isPlaying(); }

    /// Moves pending changes along.
    void applyPending();
    /// Whether what was asked for last is what plays, newcomers and all.
    bool isSettled() const;

    /// Live: how long after it came in what is heard goes to the device, the latency of its processor apart; 0
    /// while nothing is heard live.
    std::size_t liveLagFrames() const { return m_mixer.liveLagFrames(); }

    /// Frame of the source that is being handed to the device; while a seek is under way, where it leads. Live:
    /// of the ten seconds that its frames are counted by.
    std::size_t position() const;

    struct LaneState {
        ContenderId id = no_contender;
        std::uint32_t generation = 0;
        bool plays = false;              ///< it is in step and can be heard
        std::optional<double> loading_s; ///< for how long its processor is being opened by now
        std::optional<hosting::Fault> fault;
        double core_share = 0;          ///< processor time of a second of sound; 0: not known
        std::size_t latency_frames = 0; ///< by which it would be late
    };
    /// Of the contenders of the scene, in its order.
    std::vector<LaneState> states() const;

    /// See Lane::stageGainsDb().
    std::vector<float> stageGainsDb(ContenderId id) const;

    /// How often what was heard had nothing ready.
    std::size_t underruns() const { return m_mixer.underruns(); }
    bool takeLimiterActed() { return m_mixer.takeLimiterActed(); }
    /// Frames of what is heard that are ready, and would be in step.
    std::size_t readyFrames() const;
    std::size_t aheadFrames() const { return m_clock->aheadFrames(); }

    /// Looks at what is heard for as long as the reader is kept; null where the sum has as many readers as it
    /// can.
    std::shared_ptr<TapReader> listen(TapPoint point, ContenderId id = no_contender, std::size_t blocks = 64);

    // --- the audio callback ---

    /// Interleaved stereo.
    void render(float* interleaved, std::size_t frames) noexcept { m_mixer.render(interleaved, frames); }

private:
    std::shared_ptr<Lane> laneOf(const ContenderSpec& spec) const;
    std::shared_ptr<Timeline> courseOf(const Scene& scene, std::optional<std::size_t> position) const;
    void aim(const std::shared_ptr<Timeline>& course);
    void release(std::shared_ptr<Lane> lane);
    void loadSpares();
    bool canOffer() const;
    bool isNewcomer(const Lane& lane) const;
    void offer();
    void followPeriod();

    std::shared_ptr<LaneClock> m_clock;
    std::shared_ptr<TapBoard> m_taps = std::make_shared<TapBoard>();
    std::function<void()> m_attention;
    Scene m_scene;
    std::shared_ptr<Timeline> m_course;          // of the scene; null: silence
    std::vector<std::shared_ptr<Lane>> m_lanes;  // of the scene, on m_course
    std::vector<std::shared_ptr<Lane>> m_before; // of what plays, where they are not of the scene any more
    ContenderId m_heard_next = no_contender;     // with the arrangement that is offered next
    bool m_dirty = false;                        // what plays is not all of the scene
    bool m_spares_due = false;                   // once it is
    std::size_t m_period = 0;                    // the largest that lanes know of

    std::vector<hosting::KeptLoaded> m_kept; // of the contenders of the scene

    class LaneKeeper;
    std::unique_ptr<LaneKeeper> m_keeper;
    Mixer m_mixer;
};

} // namespace hr::audition
