// SPDX-License-Identifier: GPL-3.0-or-later
//
// How strong a stretch of stereo sound is, by each of the measures that a comparison can be matched by.
#pragma once

#include "audition/band_filter.h"
#include "signal/loudness.h"

#include <optional>

namespace hr::audition {

/// What everything is brought to one level by.
enum class Basis {
    Loudness, ///< programme loudness, ITU-R BS.1770-4, gated
    Band,     ///< the same of one band alone
    Rms,      ///< AES17
    Peak,     ///< true peak, BS.1770-4 annex 2
    None,     ///< nothing is matched
};

struct MatchRule {
    Basis basis = Basis::Loudness;
    Band band; ///< of Basis::Band

    friend bool operator==(const MatchRule&, const MatchRule&) = default;
};

/// A level is empty where there was nothing to measure: silence, or sound below the gate of -70 LUFS.
struct LoopLevels {
    std::optional<double> loudness_lufs;
    std::optional<double> band_lufs; ///< measured for Basis::Band alone
    std::optional<double> rms_dbfs;  ///< of both channels together
    std::optional<double> true_peak_dbtp;

    std::optional<double> by(Basis basis) const; ///< empty for Basis::None
};

/// Not for the audio callback: it allocates.
class LoopMeter {
public:
    LoopMeter(double rate_hz, const MatchRule& rule);

    void add(const float* left, const float* right, std::size_t frames);
    LoopLevels read() const;

private:
    signal::StereoMeter m_meter;
    std::optional<BandFilter> m_filter;
    std::optional<signal::StereoMeter> m_band_meter;
    std::vector<float> m_left, m_right; // of the band
    double m_power = 0;
    std::size_t m_frames = 0;
};

} // namespace hr::audition
