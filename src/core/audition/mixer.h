// SPDX-License-Identifier: GPL-3.0-or-later
//
// The audio callback's part of the engine: it plays one arrangement of lanes, changes over to the next one at a
// frame of its own choosing, crossfades between lanes, and does nothing else.
//
// Threads: render() belongs to the audio callback, where it takes no lock, allocates nothing and makes no
// system call; all else to the one control thread. How an arrangement comes in: control offers it; the callback
// looks at it in each block until all its lanes are ready, then takes it, and hands back the one before once it
// has faded out. What is offered can be retracted until it is taken; while the callback looks at it, control
// waits.
#pragma once

#include "audition/crossfaded.h"
#include "audition/lane.h"
#include "audition/low_mono.h"
#include "audition/monitor.h"
#include "audition/shifted.h"
#include "signal/safety_limiter.h"

namespace hr::audition {

/// The source, eight candidates, and what a blind trial hides: at the most all of them once more, and two
/// anchors.
inline constexpr std::size_t most_lanes = 20;

/// Lanes that play the same course. Made by control, then the callback's alone until it hands it back.
struct Arrangement {
    std::shared_ptr<Timeline> timeline;
    std::vector<std::shared_ptr<Lane>> lanes; ///< at most most_lanes
    ContenderId hear = no_contender;          ///< who is to be heard from then on; no_contender: who is wanted

    // The callback's:
    struct Voice {
        float heard = 0;     // 0 to 1, along the crossfade
        float way = 0;       // how far that has to go since the last switch: all arrive together, so that their
                             // sum stays one even where a switch comes in the middle of another
        float gain = 1;      // the matching gain, gliding
        bool shared = false; // the arrangement that follows plays it on
        Shift shift;
    };
    std::array<Voice, most_lanes> voices{};
    std::size_t reference = most_lanes; // which lane it is; most_lanes: none
    float reference_gain = 1;           // gliding
};

class Mixer {
public:
    static constexpr double crossfade_ms = 10;
    static constexpr double gentle_crossfade_ms = 400;

    explicit Mixer(double rate_hz);
    ~Mixer(); ///< once no callback can come any more

    // --- control ---

    /// In place of what is offered already, which is retracted.
    void offer(std::unique_ptr<Arrangement> next);
    /// What is offered and has not been taken; null where there is none any more.
    std::unique_ptr<Arrangement> retract();
    /// Whether something is offered and has not been taken.
    bool isOffering() const { return m_offered.load(std::memory_order_acquire) != nullptr; }
    /// The course and lanes that play, as far as the callback has told; null: nothing yet.
    const Arrangement* playing() const { return m_taken.load(std::memory_order_acquire); }
    /// Arrangements that have faded out.
    std::vector<std::unique_ptr<Arrangement>> takeReleased();
    bool hasReleased() const { return m_released_count.load(std::memory_order_acquire) != 0; }
    /// Whether lanes of the arrangement before playing() still sound, and so must live on.
    bool isFading() const { return m_fading.load(std::memory_order_acquire); }

    /// Crossfades to this contender as soon as it plays and may be heard; until then what is heard stays.
    /// Gently where it would be a jump for the ears.
    void hear(ContenderId id, bool gently = false)
    {
        m_gently.store(gently, std::memory_order_relaxed);
        m_wanted.store(id, std::memory_order_relaxed);
    }
    /// Whoever is asked for while it plays is changed over to at the next bar of the source, counted from its
    /// beginning, or where the section starts over; 0: at once.
    void setBar(double bar_frames) { m_bar_frames.store(bar_frames, std::memory_order_relaxed); }
    /// How the next switch to another contender is made.
    void setGently(bool gently) { m_gently.store(gently, std::memory_order_relaxed); }
    ContenderId audible() const { return m_audible.load(std::memory_order_relaxed); }
    void play(bool on) { m_playing.store(on, std::memory_order_relaxed); }
    bool isPlaying() const { return m_playing.load(std::memory_order_relaxed); }
    void setReference(ContenderId id) { m_reference.store(id, std::memory_order_relaxed); }
    void hearDifference(bool on) { m_difference.store(on, std::memory_order_relaxed); }
    /// Beside whoever is heard this one is, too, at its own gain: the rest of a company. no_contender: nobody.
    /// Who is heard stands between left and right by these linear gains meanwhile.
    void setAccompaniment(ContenderId id, float left_gain = 1, float right_gain = 1)
    {
        m_left_gain.store(left_gain, std::memory_order_relaxed);
        m_right_gain.store(right_gain, std::memory_order_relaxed);
        m_accompaniment.store(id, std::memory_order_relaxed);
    }
    void setOutputGain(float gain) { m_output.store(gain, std::memory_order_relaxed); }
    void setMonitor(const Monitor& monitor)
    {
        m_listened.store(monitor.listened, std::memory_order_relaxed);
        m_quieter.store(monitor.quieter, std::memory_order_relaxed);
        m_inverted.store(monitor.inverted, std::memory_order_relaxed);
        m_mono_below_hz.store(static_cast<float>(monitor.mono_below_hz.value_or(0)), std::memory_order_relaxed);
        const Band band = monitor.band.value_or(Band{0, 0});
        m_band_low_hz.store(static_cast<float>(band.low_hz), std::memory_order_relaxed);
        m_band_high_hz.store(static_cast<float>(band.high_hz), std::memory_order_relaxed);
    }

    /// Live: how long after it came in what is played leaves the mixer, its limiter included; 0: it is not
    /// live.
    std::size_t liveLagFrames() const { return m_live_lag.load(std::memory_order_relaxed); }
    std::size_t underruns() const { return m_underruns.load(std::memory_order_relaxed); }
    bool takeLimiterActed() { return m_limiter_acted.exchange(false, std::memory_order_relaxed); }
    /// The most frames that were asked for at once so far.
    std::size_t largestRender() const { return m_largest.load(std::memory_order_relaxed); }

    /// Readers of the sum; false where there are as many as there can be.
    bool addReader(const std::shared_ptr<TapReader>& reader);
    /// Forgets those that nobody but the mixer holds any more.
    void tidyReaders();

    // --- the audio callback ---

    /// Interleaved stereo.
    void render(float* interleaved, std::size_t frames) noexcept;

private:
    static constexpr std::size_t most_readers = 8;
    static constexpr std::size_t nothing_limits = 4 * Lane::longest_period_frames; // no lane that could run dry

    Arrangement* holdOffered() noexcept;
    void releaseOffered() noexcept;
    void takeOffered(std::size_t frames) noexcept;
    void keepOfferedInStep() noexcept;
    bool isReady(Arrangement& next, std::size_t frames) const noexcept;
    bool followInput(Arrangement& next, std::size_t frames) const noexcept;
    void changeOver(Arrangement* next) noexcept;
    void chooseHeard() noexcept;
    void aimVoices() noexcept;
    void followAccompaniment() noexcept;
    bool accompanies(const Arrangement& arrangement, std::size_t lane) const noexcept;
    float voiceStep(bool gently) const noexcept;
    std::size_t laneWanted() const noexcept;
    std::size_t framesToSwitch() const noexcept;
    std::size_t readableNow(std::size_t coming) noexcept;
    float supplyStep(std::size_t readable, std::size_t frames) noexcept;
    std::size_t supplyNeeded(std::size_t frames) const noexcept;
    void mix(float* interleaved, std::size_t frames) noexcept;
    std::size_t fadingNow(std::size_t frames) noexcept;
    bool isApart() const noexcept;
    void findReference(Arrangement& arrangement) const noexcept;
    Frame sumOf(Arrangement& arrangement, std::size_t ahead, std::size_t heard) noexcept;
    Frame apart(const Arrangement& arrangement, std::size_t lane, std::size_t ahead) const noexcept;
    void advance(Arrangement& arrangement, std::size_t frames) noexcept;
    void releasePrevious() noexcept;
    void restHere(std::size_t frames) noexcept;
    void tellLag() noexcept;
    void monitorTo(TapBlock& block) noexcept;
    void limitAndTell(float* interleaved, std::size_t frames) noexcept;

    const double m_rate_hz;

    // Control -> callback:
    std::atomic<Arrangement*> m_offered{nullptr};
    std::atomic<Arrangement*> m_inspected{nullptr}; // the callback looks at this one at the moment
    std::atomic<ContenderId> m_wanted{no_contender};
    std::atomic<bool> m_gently{false};
    std::atomic<double> m_bar_frames{0}; // 0: switches are at once
    std::atomic<bool> m_playing{false};
    std::atomic<ContenderId> m_reference{no_contender};
    std::atomic<bool> m_difference{false};
    std::atomic<float> m_output{1.0F};
    std::atomic<ContenderId> m_accompaniment{no_contender};
    std::atomic<float> m_left_gain{1}, m_right_gain{1};
    std::atomic<Listened> m_listened{Listened::Stereo};
    std::atomic<bool> m_inverted{false};
    std::atomic<float> m_mono_below_hz{0}; // 0: nowhere
    std::atomic<bool> m_quieter{false};
    std::atomic<float> m_band_low_hz{0}; // both 0: no band alone
    std::atomic<float> m_band_high_hz{0};
    std::array<std::atomic<TapReader*>, most_readers> m_readers{};
    std::array<std::shared_ptr<TapReader>, most_readers> m_held_readers; // control's; they keep the above alive
    std::atomic<std::uint32_t> m_rendering{0}; // counts up at begin and end of render()

    // Callback -> control:
    std::atomic<const Arrangement*> m_taken{nullptr};
    std::array<std::atomic<Arrangement*>, 4> m_released{};
    std::atomic<std::size_t> m_released_count{0};
    std::atomic<bool> m_fading{false};
    std::atomic<ContenderId> m_audible{no_contender};
    std::atomic<std::size_t> m_live_lag{0};
    std::atomic<std::size_t> m_underruns{0};
    std::atomic<bool> m_limiter_acted{false};
    std::atomic<std::size_t> m_largest{0};

    // Callback only:
    Arrangement* m_current = nullptr;
    Arrangement* m_previous = nullptr; // fading out
    std::size_t m_heard = most_lanes;  // voice of m_current; most_lanes: none
    ContenderId m_accompanied_by = no_contender;
    Frame m_sides{1, 1}; // gains of who is heard, gliding
    float m_master = 0;  // 0 to 1: play, pause
    float m_apart = 0;   // 0 to 1: from what is heard to its difference from the reference
    float m_supply = 1;  // 0 to 1: down where what is heard runs dry
    bool m_dry = false;  // it has, and is not half full yet
    const float m_fade_step;
    float m_voice_step;  // of the crossfade between lanes that is under way
    const float m_glide; // of the matching gain, a frame
    std::array<float, 4> m_matrix = monitorMatrix(Listened::Stereo, false, false); // gliding
    Crossfaded<BandFilter, Band> m_band;
    Crossfaded<LowMono, float> m_low_mono;
    signal::SafetyLimiter m_limiter;
    TapBlock m_sum; // being filled for the readers
};

} // namespace hr::audition
