// SPDX-License-Identifier: GPL-3.0-or-later
//
// Audio files in and out, through libsndfile: WAV, FLAC, AIFF, Ogg, MP3.
#pragma once

#include "signal/audio_buffer.h"
#include "signal/result.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>

typedef struct sf_private_tag SNDFILE;

namespace hr::signal {

struct CloseSound {
    void operator()(SNDFILE* file) const;
};

/// A file opened for reading, stretch by stretch. Move-only; one thread at a time.
class AudioFileReader {
public:
    /// Refuses what is not an audio file, is empty, has no sensible sample rate (1 kHz to 768 kHz) or more
    /// than 64 channels.
    static Result<AudioFileReader> open(const std::filesystem::path& path);

    std::size_t channels() const { return m_channels; }
    std::size_t frames() const { return m_frames; }
    double sampleRateHz() const { return m_sample_rate_hz; }
    /// Of a sample; empty where it is coded otherwise (Ogg, MP3).
    std::optional<std::size_t> bits() const { return m_bits; }
    /// Whether the samples are whole numbers.
    bool isWhole() const { return m_is_whole; }

    /// Up to `frames` interleaved frames into `interleaved` (channels() * frames floats); returns the
    /// number of frames read, 0 at the end.
    std::size_t read(float* interleaved, std::size_t frames);

    /// To this frame, so that the next read() begins there; false where the file cannot go there.
    bool seek(std::size_t frame);

private:
    std::unique_ptr<SNDFILE, CloseSound> m_file;
    std::size_t m_channels = 0;
    std::size_t m_frames = 0;
    double m_sample_rate_hz = 0;
    std::optional<std::size_t> m_bits;
    bool m_is_whole = false;
};

/// The whole file. Refuses non-finite samples, saying where the first one is.
Result<AudioBuffer> readAudioFile(const std::filesystem::path& path);

enum class SampleFormat { Float32, Pcm16, Pcm24 };
enum class FileKind {
    Wav,
    Flac, ///< 16 or 24 bits
};

/// A WAV or FLAC file written stretch by stretch, beside its place; finish() renames it there, so that a
/// failure leaves no half-written file. Move-only; one thread at a time.
class AudioFileWriter {
public:
    static Result<AudioFileWriter> create(const std::filesystem::path& path, std::size_t channels,
                                          double sample_rate_hz, SampleFormat format = SampleFormat::Float32,
                                          FileKind kind = FileKind::Wav);
    AudioFileWriter(AudioFileWriter&&) noexcept = default;
    AudioFileWriter& operator=(AudioFileWriter&&) noexcept = default;
    ~AudioFileWriter(); ///< removes what was not finished

    /// `frames` interleaved frames; an Error where the disk is full.
    Result<void> write(const float* interleaved, std::size_t frames);
    /// The same of whole numbers, which are kept as they are: the upper bits count.
    Result<void> write(const std::int32_t* interleaved, std::size_t frames);
    Result<void> finish();

private:
    explicit AudioFileWriter(std::filesystem::path path);
    tl::unexpected<Error> failed() const;
    void removeUnfinished() const;

    std::filesystem::path m_path;
    std::filesystem::path m_beside; // nobody else's, however many write there at once; of a device itself
    std::unique_ptr<SNDFILE, CloseSound> m_file;
};

/// All of it at once.
Result<void> writeAudioFile(const std::filesystem::path& path, const AudioBuffer& audio,
                            SampleFormat format = SampleFormat::Float32);

} // namespace hr::signal
