// SPDX-License-Identifier: GPL-3.0-or-later
//
// Under which conditions something is measured, and what they may be.
#pragma once

#include "processors/description.h"
#include "signal/audio_buffer.h"
#include "signal/result.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace hr::bench {

/// What a key (side-chain) input gets where a test does not say.
enum class KeyFeed {
    OwnInput, ///< what the main inputs get, as in use
    Silence,
};

/// Sound that tests with programme (loudness_shift, stereo) take in place of the bench's own.
struct Passage {
    static constexpr double longest_s = 120;

    std::string title;    ///< "brass.wav, 4.00 to 12.00 s"
    std::string identity; ///< of its samples: equal for the same sound
    signal::AudioBuffer sound = {};
};

struct Conditions {
    double sample_rate_hz = 48000;
    std::size_t block_frames = 256;
    std::optional<double> level_dbfs = {};   ///< empty: the test's own default
    std::optional<double> frequency_hz = {}; ///< empty: the test's own default
    std::optional<double> tempo_bpm = {};    ///< empty: none
    KeyFeed key = KeyFeed::OwnInput;
    std::shared_ptr<const Passage> programme = nullptr; ///< at sample_rate_hz; null: the bench's own

    /// Equal for what is taken alike.
    std::string identity() const;
    friend bool operator==(const Conditions& a, const Conditions& b) { return a.identity() == b.identity(); }
};

/// The numbers among them with their ranges, as parameters are described: keys "rate" (Hz), "block" (frames),
/// "level" (dBFS), "frequency" (Hz) and "tempo" (BPM).
const std::vector<processors::ParameterInfo>& conditionRanges();

/// A condition that makes no sense.
struct Unfit {
    std::string key; ///< of conditionRanges()
    std::string why; ///< "takes 8000 to 384000 Hz"
};
/// The first that makes none; empty where all do.
std::optional<Unfit> unfit(const Conditions& conditions);

/// Sound brought to a sample rate. Refused with a sentence: nothing, or what is longer than Passage::longest_s.
Result<std::shared_ptr<const Passage>> passageOf(const std::string& title, const signal::AudioBuffer& sound,
                                                 double sample_rate_hz);
/// The same of an audio file: seconds `first_s` to `end_s` (0: to its end). Refused with a sentence as well:
/// what cannot be read, or lies outside.
Result<std::shared_ptr<const Passage>> readPassage(const std::filesystem::path& file, double first_s,
                                                   double end_s, double sample_rate_hz);

/// The programme for so many channels, each in full: the passage of the conditions, or the bench's own the same
/// on all. More than two get left and right in turn; one gets the mean of both.
std::vector<std::vector<double>> programmeFor(const Conditions& conditions, std::size_t channels);

} // namespace hr::bench
