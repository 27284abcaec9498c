// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as it is written down: stages in order, each a processor with its settings, a purpose in the
// user's words, a switch, blend, trim and key source. How it sounds is processors::Series.
//
//     auto chain = chain::fromJson(json);
//     auto place = chain::place(*chain, find);            // where each stage's files lie
//     auto instance = hosting::openInstance(place.location);
//     auto values = chain::values(*chain, (*instance)->info());
#pragma once

#include "hosting/location.h"
#include "processors/description.h"
#include "processors/series.h"
#include "signal/result.h"

#include <functional>
#include <nlohmann/json.hpp>
#include <span>

namespace hr::chain {

struct Stage {
    std::string id;
    std::string name;                          ///< for people, where the processor is not installed
    std::string preset;                        ///< of the maker's; empty: as new
    std::vector<processors::Setting> settings; ///< over the preset
    std::string purpose;                       ///< "tame low-mid build-up"
    bool on = true;
    double blend_percent = 100; ///< dry to wet, 0 to 100
    double trim_db = 0;         ///< -60 to 24
    processors::KeySource key = processors::KeySource::Own;
};

struct Chain {
    std::string name;
    std::vector<Stage> stages;
};

inline constexpr const char* format_name = "honest-rack-chain";
inline constexpr int format_version = 1;

nlohmann::ordered_json toJson(const Chain& chain);
/// In one line; what is no UTF-8 in it is replaced.
std::string toText(const Chain& chain);

/// Refuses what is no chain, another version, more than Series::most_stages, and values out of range,
/// naming the stage.
Result<Chain> fromJson(const nlohmann::ordered_json& document);

struct Placed {
    hosting::Location location;
    std::vector<std::string> missing; ///< ids that `find` does not know: played round
};
/// `find` says where the files of an id lie.
Placed place(const Chain& chain, const std::function<Result<hosting::Location>(const std::string& id)>& find);

/// Values of the opened chain's parameters. Refuses settings and presets that a stage does not have; those
/// of missing stages are passed over.
Result<std::vector<double>> values(const Chain& chain, const processors::ProcessorInfo& info);

/// The same chain with these values of the opened one written into its stages; missing ones stay as they are.
Chain with(Chain chain, const processors::ProcessorInfo& info, std::span<const double> values);

} // namespace hr::chain
