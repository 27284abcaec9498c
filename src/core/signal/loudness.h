// SPDX-License-Identifier: GPL-3.0-or-later
//
// Programme loudness by ITU-R BS.1770-4 and EBU R 128, loudness range by EBU Tech 3342, true peak by
// BS.1770-4 annex 2, all through libebur128.
#pragma once

#include "signal/audio_buffer.h"
#include "signal/result.h"
#include "signal/true_peak.h"

#include <ebur128.h>
#include <filesystem>
#include <memory>
#include <optional>

namespace hr::signal {

/// A figure is empty where there was nothing to measure: silence, or less sound than its window.
struct Loudness {
    std::optional<double> integrated_lufs;
    std::optional<double> momentary_max_lufs;  ///< 400 ms window
    std::optional<double> short_term_max_lufs; ///< 3 s window
    std::optional<double> range_lu;            ///< needs at least one short-term window (3 s)
    std::optional<double> true_peak_dbtp;
    std::optional<double> sample_peak_dbfs;
};

/// What a meter is asked for: each costs time, true peak most.
enum class Figures {
    All,
    Integrated,        ///< integrated_lufs alone
    IntegratedAndPeak, ///< integrated_lufs and true_peak_dbtp
    Momentary,         ///< momentaryLufs() alone: needs no more memory however long it goes on
    Live,              ///< momentaryLufs(), shortTermLufs(), integrated_lufs, range_lu and true_peak_dbtp, to
                       ///< 0.1 LU, in as much memory however long it goes on
};

/// Takes sound in stretches and answers at any time. Not for the audio callback: it allocates.
class LoudnessMeter {
public:
    /// `channels` 1 to 64; two are left and right, six are L R C LFE Ls Rs.
    LoudnessMeter(std::size_t channels, double sample_rate_hz, Figures figures = Figures::All);

    void add(const float* interleaved, std::size_t frames);
    Loudness read() const;
    /// Loudness of the last 400 ms; empty below -70 LUFS.
    std::optional<double> momentaryLufs() const;
    /// Of the last 3 s; empty below -70 LUFS, and until there were 3 s.
    std::optional<double> shortTermLufs() const;

private:
    struct Destroy {
        void operator()(ebur128_state* state) const;
    };
    std::unique_ptr<ebur128_state, Destroy> m_state;
    mutable std::optional<TruePeakMeter> m_peaks; // empty where no peak is asked for; read() ends its block
    std::size_t m_channels;
    Figures m_figures;
    std::size_t m_step_frames; // 10 ms: how often momentary loudness is looked at; short-term every tenth time
    std::size_t m_until_step;  // frames left until then
    double m_momentary_max_lufs;
    double m_short_term_max_lufs;
    std::size_t m_frames = 0;
};

/// The same for two separate channels.
class StereoMeter {
public:
    StereoMeter(double sample_rate_hz, Figures figures) : m_meter(2, sample_rate_hz, figures) {}

    /// Returns the stretch interleaved, until the next call.
    const float* add(const float* left, const float* right, std::size_t frames);
    Loudness read() const { return m_meter.read(); }
    const LoudnessMeter& meter() const { return m_meter; }

private:
    LoudnessMeter m_meter;
    std::vector<float> m_interleaved;
};

Loudness measureLoudness(const AudioBuffer& audio);

/// Momentary loudness (400 ms) every 100 ms, by the second at which the window ends; of at least -70 LUFS,
/// below which the meter's gate lies.
std::vector<std::pair<double, double>> momentaryOverTime(const AudioBuffer& audio);

struct FileLoudness {
    Loudness loudness;
    std::size_t channels = 0;
    double sample_rate_hz = 0;
    double seconds = 0;
};

/// Streams the file: memory does not grow with its length.
Result<FileLoudness> measureFileLoudness(const std::filesystem::path& path);

} // namespace hr::signal
