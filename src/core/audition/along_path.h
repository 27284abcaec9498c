// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain from point to point: what a file is like after each node, what a tone and a sweep are, and where it
// becomes louder than full scale.
#pragma once

#include "audition/orders.h"
#include "chain/part.h"

namespace hr::audition {

struct PathPoint {
    std::string after; ///< "in", or the id of a node
    // Of the file, as two channels:
    std::optional<double> loudness_lufs, true_peak_dbtp, sample_peak_dbfs;
    std::size_t latency_samples = 0; ///< of all up to there
    // Of a settled tone through all up to there:
    std::optional<double> gain_db;
    std::optional<double> ratio; ///< 1 over the slope between 1 dB below and above it; empty where that is flat
    /// Hz and dB, 20 Hz to 20 kHz or as far as the rate goes, 12 points an octave; of quiet sound.
    std::vector<std::pair<double, double>> response;
    /// Level in and out of the settled tone, dBFS, -60 to 0.
    std::vector<std::pair<double, double>> in_out;
    /// Of that tone, against its fundamental: the 2nd, the 3rd …, up to most_harmonics or half the rate; those
    /// below least_harmonic_db, and those that do not stand out of the noise beside them, are empty.
    std::vector<std::optional<double>> harmonics_db;
    /// Of one core, with all up to there, as it was played here: it tells what is dear, not what another
    /// machine needs.
    double core_percent = 0;

    bool overloads() const { return true_peak_dbtp.value_or(-1) > 0; }
};

inline constexpr std::size_t most_harmonics = 4; // the 2nd to the 5th
inline constexpr double least_harmonic_db = -110;

struct AlongPath {
    std::vector<PathPoint> points; ///< the first is the input, the others in the order in which the nodes run
    std::optional<std::string> overload_arises; ///< at the first point above 0 dBTP
    bool overload_heard = false;                ///< what leaves the chain is above 0 dBTP
};

struct PathQuestion {
    double level_dbfs = -12; ///< of the tone
    double frequency_hz = 1000;
    /// Else what a file is like alone. Of stages that follow one another each is then played what came out of
    /// the one before, so that a long chain is played once and not as often as it has stages.
    bool with_tone = true, with_response = true;
    bool with_in_out = false; ///< with the tone: 13 levels of it, and its harmonics
    std::stop_token cancel = {};
    /// After each point, on the same thread.
    std::function<void(const PathPoint& point, std::size_t of)> point = {};
};

/// `open` opens a chain and tells where it lies; a fault comes back as what went wrong.
using OpenPart = std::function<Result<hosting::FaultOr<OpenedChain>>(const chain::Chain&)>;
/// What a file is like after a chain; its fault where it has one. `out`: where it is written, as 32-bit float;
/// empty: nowhere.
Result<hosting::FaultOr<Played>> playedThrough(const chain::Chain& chain, const OpenPart& open,
                                               const std::filesystem::path& file,
                                               const std::stop_token& cancel = {},
                                               const std::filesystem::path& out = {});

Result<hosting::FaultOr<AlongPath>> alongPath(const chain::Chain& chain, const OpenPart& open,
                                              const std::filesystem::path& file,
                                              const PathQuestion& question = {});

} // namespace hr::audition
