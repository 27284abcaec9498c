// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parts in step, as they sound together: each through its chain, at its level and place, and what they send
// through the returns; or all but one of them, which is its rest. Streamed, whatever the length.
#pragma once

#include "audition/along_path.h"
#include "chain/company.h"

namespace hr::audition {

struct CompanyOrder {
    /// Where the file of a part lies; an Error says why it is not there.
    std::function<Result<std::filesystem::path>(const std::string& file)> find;
    double rate_hz = 0;                  ///< of what is written; 0: of the first part's file
    std::string without = {};            ///< id of the part or return that is left out; empty: none
    bool sends_stay = false;             ///< what the part left out sends to returns is heard all the same
    std::string into = {};               ///< of a return: what is sent to it is written; empty: the sum
    double first_s = 0;                  ///< of the time that all share, from where
    std::optional<double> length_s = {}; ///< empty: as long as the longest part
    double silence_s = 0;                ///< written before it
    std::stop_token cancel = {};
    std::function<void(std::size_t done, std::size_t of)> progress = {}; ///< parts and returns
};

struct CompanySound {
    struct Level {
        std::string id;                                      ///< of a part or a return
        std::optional<double> loudness_lufs, true_peak_dbtp; ///< behind its chain, at its level
    };
    std::vector<Level> levels; ///< of those that are heard
    double rate_hz = 0;
    double seconds = 0;
};

/// Writes the sum of what is heard, before the chain on the sum, as 32-bit float.
Result<hosting::FaultOr<CompanySound>> playTogether(const chain::Company& company, const OpenPart& open,
                                                    const std::filesystem::path& out,
                                                    const CompanyOrder& order);

} // namespace hr::audition
