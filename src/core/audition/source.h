// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sound to listen through: an audio file made stereo and brought to the engine's rate. Short ones are kept in
// memory; of long ones a few seconds at a time, decoded ahead on a thread of their own, whatever their length.
#pragma once

#include "signal/audio_buffer.h"
#include "signal/audio_file.h"

#include <atomic>
#include <condition_variable>
#include <filesystem>
#include <memory>
#include <mutex>
#include <string>
#include <thread>

namespace hr::audition {

/// The frames that repeat: `first` to `first + frames`; and the level at which they go into what is compared.
struct Section {
    std::size_t first = 0;
    std::size_t frames = 0;
    float gain = 1; ///< linear

    friend bool operator==(const Section&, const Section&) = default;
};

/// To its readers immutable: every lane may read it at once.
class Source {
public:
    static constexpr double in_memory_s = 120; ///< longer ones are streamed
    static constexpr std::size_t overview_columns = 4096;

    /// Errors as of readAudioFile; what is wrong further on in a long file is found later, see problem().
    static Result<std::shared_ptr<const Source>> load(const std::filesystem::path& file, double rate_hz,
                                                      double longest_in_memory_s = in_memory_s);
    explicit Source(signal::AudioBuffer stereo);
    Source(const Source&) = delete;
    Source& operator=(const Source&) = delete;
    ~Source();

    std::size_t frames() const { return m_frames; }
    double rateHz() const { return m_rate_hz; }
    double seconds() const { return static_cast<double>(m_frames) / m_rate_hz; }
    std::size_t fileChannels() const { return m_file_channels; } ///< before it was made stereo
    /// What was done to it on the way in ("6 channels mixed down to stereo"); empty where nothing was.
    const std::string& remark() const { return m_remark; }
    /// What went wrong while it was being streamed; those places are silent. Empty where nothing did.
    std::string problem() const;

    Section whole() const { return {0, m_frames}; }

    /// What processors that ask for it are told, by whoever plays it to them; 0: none. Its sound stays what it
    /// is.
    double tempoBpm() const { return m_tempo_bpm.load(std::memory_order_relaxed); }
    void setTempo(double bpm) const { m_tempo_bpm.store(bpm, std::memory_order_relaxed); }

    /// `count` frames of the endless repetition of `loop`, from its frame `at` on. Not for the audio callback.
    void read(const Section& loop, std::size_t at, float* left, float* right, std::size_t count) const;

    /// Its peaks in equal parts of its length; 0 where it has not been looked at yet.
    const std::array<std::atomic<float>, overview_columns>& overview() const { return m_overview; }
    bool overviewIsWhole() const { return m_overview_whole.load(std::memory_order_acquire); }

private:
    struct Chunk {
        std::size_t index;
        std::shared_ptr<const signal::AudioBuffer> audio; // null: somebody is decoding it
    };

    Source(signal::AudioFileReader reader, std::filesystem::path file, double rate_hz);

    std::shared_ptr<const signal::AudioBuffer> chunk(std::size_t index) const;
    signal::AudioBuffer decode(std::size_t index) const;
    void decodeAhead(const std::stop_token& stop);
    void lookThrough(const std::stop_token& stop);
    void addToOverview(const signal::AudioBuffer& audio, std::size_t first, std::size_t of_frames) const;
    void report(const std::string& problem) const;

    double m_rate_hz = 0;
    std::size_t m_frames = 0;
    std::size_t m_file_channels = 2;
    std::string m_remark;
    mutable std::atomic<double> m_tempo_bpm{0};
    signal::AudioBuffer m_audio; // all of it; empty where it is streamed
    mutable std::array<std::atomic<float>, overview_columns> m_overview{};
    std::atomic<bool> m_overview_whole{false};

    // Streamed only:
    std::filesystem::path m_file;
    mutable std::mutex m_mutex; // never held while decoding: lanes that have what they need do not wait
    mutable std::condition_variable_any m_wake;
    mutable std::vector<Chunk> m_chunks; // guarded by m_mutex, the latest used last
    mutable std::size_t m_ahead = 0;     // guarded by m_mutex: the chunk that will be wanted next
    mutable std::mutex m_reader_mutex;
    mutable signal::AudioFileReader m_reader; // guarded by m_reader_mutex
    mutable std::mutex m_problem_mutex;
    mutable std::string m_problem;      // guarded by m_problem_mutex, so that asking never waits for a file
    std::jthread m_decoding, m_looking; // last: they use all of the above
};

/// `asked` brought inside the source and to at least `least_frames`, or as long as the source is.
Section fitted(const Section& asked, std::size_t source_frames, std::size_t least_frames);

} // namespace hr::audition
