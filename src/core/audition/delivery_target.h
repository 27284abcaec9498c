// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a file that is delivered has to be: limits of the figures of loudness and of its format. Shipped are
// those of standards only; others are files of the same form:
//
//     {"name": "EBU R 128", "integrated_lufs": {"at_least": -23.5, "at_most": -22.5}, "true_peak_dbtp":
//     {"at_most": -1}}
#pragma once

#include "signal/loudness.h"

#include <filesystem>
#include <nlohmann/json.hpp>

namespace hr::audition {

struct DeliveryLimit {
    std::string figure; ///< integrated_lufs, momentary_max_lufs, short_term_max_lufs, range_lu, true_peak_dbtp,
                        ///< sample_peak_dbfs, seconds, channels, sample_rate, bits
    std::optional<double> at_least, at_most;
};

struct DeliveryTarget {
    std::string name;
    std::string source = {}; ///< the standard, with its year
    std::vector<DeliveryLimit> limits;
};

const std::vector<DeliveryTarget>& shippedTargets();

/// Refused with a sentence: what is no object, has no name or no limits, an unknown figure, limits that are no
/// numbers, or exclude each other.
Result<DeliveryTarget> targetFrom(const nlohmann::ordered_json& document);
Result<DeliveryTarget> readTarget(const std::filesystem::path& file);
nlohmann::ordered_json toJson(const DeliveryTarget& target);

/// What is known of a finished file.
struct DeliveredFile {
    signal::Loudness loudness;
    std::size_t channels = 0;
    double sample_rate_hz = 0, seconds = 0;
    std::optional<std::size_t> bits; ///< empty where samples are coded otherwise
};

struct DeliveryCheck {
    DeliveryLimit limit;
    std::optional<double> value;
    bool pass = false;
    /// Gain that leads to the nearest limit; 0 where it passes, empty where gain cannot change it.
    std::optional<double> change_db;
};
std::vector<DeliveryCheck> checksOf(const DeliveryTarget& target, const DeliveredFile& file);

} // namespace hr::audition
