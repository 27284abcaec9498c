// SPDX-License-Identifier: GPL-3.0-or-later
//
// An audio file through a processor or a chain into another file, faster than real time: streamed, latency
// removed, brought to the input's loudness where asked.
#pragma once

#include "hosting/instance.h"
#include "signal/audio_file.h"

namespace hr::audition {

struct RenderOrder {
    std::filesystem::path in, out;
    double tail_s = 0;  ///< rendered behind the end of the input
    bool match = false; ///< bring the result to the input's programme loudness
    signal::SampleFormat format = signal::SampleFormat::Float32;
};

/// Where `fault` is set the processor failed and nothing was written.
struct Rendered {
    std::optional<hosting::Fault> fault;
    std::optional<double> loudness_in_lufs, loudness_out_lufs; ///< before matching; empty below the gate
    double gain_db = 0;                                        ///< what the matching took
    std::optional<double> true_peak_dbtp;                      ///< of what was written
    double realtime_factor = 0;                                ///< seconds of audio a second
    std::string remark;                                        ///< "6 channels mixed down to stereo"
};

/// `instance` must have been opened as Channels::Stereo; it is started afresh with `values` at the file's
/// rate. A mono file stays mono where `mono` says so (the two sides are alike then).
Result<Rendered> render(hosting::Instance& instance, std::span<const double> values, bool mono,
                        const RenderOrder& order);

} // namespace hr::audition
