// SPDX-License-Identifier: GPL-3.0-or-later
//
// An audio file through a processor or a chain into another file, faster than real time: streamed, latency
// removed, brought to the input's loudness where asked.
#pragma once

#include "hosting/instance.h"
#include "signal/audio_file.h"
#include "signal/loudness.h"

#include <functional>

namespace hr::audition {

struct RenderOrder {
    std::filesystem::path in = {}, out = {};
    double tail_s = 0;  ///< rendered behind the end of the input
    bool match = false; ///< bring the result to the input's programme loudness
    signal::SampleFormat format = signal::SampleFormat::Float32;
};

/// Where `fault` is set the processor failed and nothing was written. Loudness is what a meter reads of either
/// file: a mono file is one channel, not two alike.
struct Rendered {
    std::optional<hosting::Fault> fault;
    std::optional<double> loudness_in_lufs;  ///< empty below the gate
    std::optional<double> loudness_out_lufs; ///< of what was written, so after matching; empty below the gate
    double gain_db = 0;                      ///< what the matching took
    std::optional<double> true_peak_dbtp;    ///< of what was written
    std::size_t clipped_samples = 0;         ///< of what was written: beyond what 16 or 24 bits hold
    double realtime_factor = 0;              ///< seconds of audio a second
    std::string remark;                      ///< "6 channels mixed down to stereo"
};

/// `instance` must have been opened as Channels::Stereo, or, for a mono file, with the one channel it has; it
/// is started afresh with `values` at the file's rate. What it reports as latency once it has run is left out
/// at the beginning, whatever its length. A mono file stays mono where `mono` says so (the two sides are alike
/// then).
Result<Rendered> render(hosting::Instance& instance, std::span<const double> values, bool mono,
                        const RenderOrder& order);

/// Takes interleaved frames as they come, and may change them; an Error ends it.
using TakeFrames = std::function<Result<void>(std::vector<float>& interleaved)>;

struct Played {
    std::optional<hosting::Fault> fault;
    double rate_hz = 0;
    std::size_t latency_samples = 0; ///< left out, as reported once it has run
    signal::Loudness loudness;       ///< integrated, peaks
    double core_percent = 0;         ///< of one core, as fast as it ran here
};

/// The whole file as two channels through `instance`, as render() does, without writing it. `take` is called on
/// another thread, one stretch after the other. Once `cancel` asks to stop it ends with Cause::Cancelled.
Result<Played> playThrough(hosting::Instance& instance, std::span<const double> values,
                           const std::filesystem::path& file, const TakeFrames& take,
                           const std::stop_token& cancel = {});

} // namespace hr::audition
