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

/// A processor or chain with its values, opened as Channels::Stereo.
struct OpenedChain {
    std::unique_ptr<hosting::Instance> instance;
    std::vector<double> values;
    hosting::Location location = {};
};

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

/// A chain can be played in pieces, each from what came out of the one before, and gives what the whole gives,
/// sample for sample: what is put aside in between stays late, and is longer by all latency that is to come.
struct PieceFile {
    std::filesystem::path file = {}; ///< at first, what goes into the chain
    std::size_t late_frames = 0;
    std::size_t spare_frames = 0; ///< by which it is longer than the sound
};

/// The last piece: through all of `in_turn`, one after the other.
Result<Played> playThrough(std::span<OpenedChain* const> in_turn, const PieceFile& from, const TakeFrames& take,
                           const std::stop_token& cancel = {});

/// Another one, into `out` as 32-bit float; `spare_frames` is the latency of the whole chain.
Result<hosting::FaultOr<PieceFile>> playPiece(std::span<OpenedChain* const> in_turn, const PieceFile& from,
                                              std::size_t spare_frames, const std::filesystem::path& out,
                                              const std::stop_token& cancel = {});

} // namespace hr::audition
