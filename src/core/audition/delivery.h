// SPDX-License-Identifier: GPL-3.0-or-later
//
// Sound as it is handed over: a file, or what a chain makes of it, at the rate, the bits and in the format
// asked for, without gain; then measured as what was written.
#pragma once

#include "audition/delivery_target.h"
#include "audition/render.h"

namespace hr::audition {

struct DeliveryFormat {
    signal::FileKind kind = signal::FileKind::Wav;
    signal::SampleFormat samples = signal::SampleFormat::Pcm24;
    std::optional<double> sample_rate_hz = {}; ///< empty: that of the source
};

/// Instance and values of a chain to play the source through; none: as it is.
struct DeliveryChain {
    hosting::Instance* instance = nullptr; ///< as Channels::Stereo
    std::vector<double> values = {};
    std::stop_token cancel = {}; ///< ends it with Cause::Cancelled
};

struct Delivered {
    std::optional<hosting::Fault> fault; ///< of the chain; then nothing was written
    DeliveredFile file;                  ///< of what was written or, where nothing was, of what would be
    std::size_t clipped_samples = 0;     ///< beyond what 16 or 24 bits hold
};

/// What lies in a file.
Result<DeliveredFile> deliveredFile(const std::filesystem::path& file);

/// Measured through the chain, without writing it.
Result<Delivered> tryDelivery(const std::filesystem::path& source, const DeliveryChain& chain);

/// Writes `source` to `target`, beside its place and renamed. Whole numbers of no more bits than are wanted are
/// kept as they are; everything else gets triangular dither, seeded by its channel, where it becomes whole
/// numbers.
Result<Delivered> deliver(const std::filesystem::path& source, const DeliveryChain& chain,
                          const std::filesystem::path& target, const DeliveryFormat& format);

} // namespace hr::audition
