// SPDX-License-Identifier: GPL-3.0-or-later
//
// What a test of the bench found. Figures carry their unit in the key (`gain_1k_db`); a figure that
// the behaviour does not have is null, and `reasons` says why.
#pragma once

#include "bench/figure.h"

#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

namespace hr::bench {

/// A curve: `x` and `y` name its axes with units ("frequency_hz", "magnitude_db").
struct Curve {
    std::string x;
    std::string y;
    std::vector<std::pair<double, double>> points;
};

/// A figure that stays, but with a doubt.
struct Flag {
    std::string code;
    std::string detail;
    std::vector<std::string> unsure = {}; ///< figures that are so; of a group as "at_100_hz.ratio"
};

struct Reading {
    nlohmann::ordered_json figures = nlohmann::ordered_json::object();
    bool applies = true; ///< false: the processor has not got what the test is about, and was not run
    nlohmann::ordered_json conditions = nlohmann::ordered_json::object(); ///< what this test used of its own
    std::map<std::string, std::string> reasons;                           ///< figure -> why it is null
    std::map<std::string, Curve> series;
    std::vector<Flag> flags;

    /// The figure, or null with its reason. A value that is not finite counts as absent.
    void put(const std::string& key, std::optional<double> value, const std::string& reason_if_absent = {});

    /// Figures, conditions, reasons and flags of another, as those of a group ("at_100_hz"); not its series.
    void putGroup(const std::string& group, const Reading& of);

    /// Why a figure is unsure, in the words of the flags that say so; empty where it is sure.
    std::string whyUnsure(const std::string& key) const;

    /// The figure, where it is a number.
    std::optional<double> number(const std::string& key) const;
};

/// A number, or null.
inline nlohmann::ordered_json orNull(const std::optional<double>& value)
{
    return value ? nlohmann::ordered_json(*value) : nlohmann::ordered_json(nullptr);
}

/// All of them null, lists empty, for one reason.
void putNone(Reading& reading, const std::vector<FigureInfo>& figures, const std::string& why);

nlohmann::ordered_json toJson(const Reading& reading);
nlohmann::ordered_json toJson(const Flag& flag);
/// Throws nlohmann::ordered_json::exception where it is none.
Flag flagFromJson(const nlohmann::ordered_json& json);

/// The same with its flags, as the catalogue keeps it.
nlohmann::ordered_json storedJson(const Reading& reading);
/// The inverse for what the catalogue kept; empty where it makes no sense.
std::optional<Reading> readingFromJson(const nlohmann::ordered_json& json);

} // namespace hr::bench
