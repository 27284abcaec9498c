// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sound to listen through: an audio file made stereo and brought to the engine's rate.
#pragma once

#include "signal/audio_buffer.h"
#include "signal/result.h"

#include <filesystem>
#include <memory>
#include <string>

namespace hr::audition {

/// The frames that repeat: `first` to `first + frames`.
struct Section {
    std::size_t first = 0;
    std::size_t frames = 0;

    friend bool operator==(const Section&, const Section&) = default;
};

/// Immutable once loaded, so that every lane may read it at once.
class Source {
public:
    /// Errors as of readAudioFile.
    static Result<std::shared_ptr<const Source>> load(const std::filesystem::path& file, double rate_hz);
    explicit Source(signal::AudioBuffer stereo) : m_audio(std::move(stereo)) {}

    const signal::AudioBuffer& audio() const { return m_audio; }
    std::size_t frames() const { return m_audio.frames(); }
    double rateHz() const { return m_audio.sampleRateHz(); }
    /// What was done to it on the way in ("6 channels mixed down to stereo"); empty where nothing was.
    const std::string& remark() const { return m_remark; }

    Section whole() const { return {0, frames()}; }

    /// `count` frames of the endless repetition of `loop`, from its frame `at` on.
    void read(const Section& loop, std::size_t at, float* left, float* right, std::size_t count) const noexcept;

private:
    signal::AudioBuffer m_audio;
    std::string m_remark;
};

/// `asked` brought inside the source and to at least `least_frames`, or as long as the source is.
Section fitted(const Section& asked, std::size_t source_frames, std::size_t least_frames);

} // namespace hr::audition
