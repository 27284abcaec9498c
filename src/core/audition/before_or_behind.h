// SPDX-License-Identifier: GPL-3.0-or-later
//
// What it changes whether an equaliser stands before a compressor or behind it, with one file.
#pragma once

#include "audition/along_path.h"
#include "chain/orders.h"

namespace hr::audition {

struct BeforeOrBehind {
    struct Side {
        std::optional<double> met_lufs;  ///< what the compressor gets
        std::optional<double> left_lufs; ///< and what comes out of it
        std::optional<double> end_lufs;  ///< at the end of the chain

        /// By how much the compressor turns down; empty where one of them is silent.
        std::optional<double> takenDb() const
        {
            return met_lufs && left_lufs ? std::optional(*met_lufs - *left_lufs) : std::nullopt;
        }
    };
    Side before, behind;                ///< with the equaliser before the compressor, and behind it
    std::optional<double> without_lufs; ///< at the end, without the equaliser
};

Result<hosting::FaultOr<BeforeOrBehind>> equaliserBeforeOrBehind(const chain::Chain& chain,
                                                                 const chain::EqualiserAndCompressor& which,
                                                                 const OpenPart& open,
                                                                 const std::filesystem::path& file,
                                                                 const std::stop_token& cancel = {});

} // namespace hr::audition
