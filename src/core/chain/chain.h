// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as it is written down: nodes, each with what it is set to, and the edges between them; where there
// are no edges, its stages follow one another. How it sounds is processors/network.h, its file chain_json.h.
//
//     auto chain = chain::fromJson(json);
//     auto place = chain::place(*chain, find);            // where each stage's files lie
//     auto instance = hosting::openInstance(place.location);
//     auto values = chain::values(*chain, (*instance)->info());
#pragma once

#include "hosting/location.h"
#include "processors/description.h"
#include "processors/network_units.h"

#include <functional>
#include <span>

namespace hr::chain {

using processors::Edge;
using processors::NodeKind;

// What a chain may have that somebody puts together.
inline constexpr std::size_t most_stages = 64;
inline constexpr std::size_t most_nodes = 128;

struct Node {
    std::string id; ///< within its chain, for life: it is neither changed nor given to another
    NodeKind kind = NodeKind::Stage;
    std::string purpose;    ///< "tame low-mid build-up"
    std::string phase = {}; ///< of a stage: "corrective", "colour", or in words of the user's own

    // Of a stage:
    std::string processor;                          ///< its id
    std::string name;                               ///< for people, where the processor is not installed
    std::string preset;                             ///< of the maker's; empty: the defaults
    std::vector<processors::Setting> settings = {}; ///< the processor's own, over the preset
    bool may_move = false; ///< whether orders are compared with it at other places (orders.h)
    std::string state =
        {}; ///< what it begins with beside them (Processor::setState()); empty: the preset's, or its default
    double blend_percent = 100; ///< dry to wet, 0 to 100
    double trim_db = 0;         ///< -60 to 24
    processors::KeySource key = processors::KeySource::Own;

    bool on = true;                         ///< of stages, branches, sends and returns
    double level_db = 0;                    ///< of all others but bands and mid-side: -60 to 24
    std::vector<double> crossovers_hz = {}; ///< of bands: one less than there are bands, ascending
    double low_cut_hz = 0, high_cut_hz = 0; ///< of keys; 0: none
};

struct Chain {
    std::string name;
    std::vector<Node> nodes;
    std::vector<Edge> edges = {}; ///< none: the nodes one after the other
    std::size_t next_node = 1;    ///< what the next new node is numbered

    bool isSeries() const { return edges.empty(); }
    // Null: it is not there.
    const Node* node(const std::string& id) const;
    Node* node(const std::string& id);
    processors::Graph graph() const;
};

/// A new stage at the end of `nodes`, not wired where there are edges.
Node& addStage(Chain& chain, const std::string& processor);
std::size_t stageCount(const Chain& chain);
/// How people count it: stages from 1, in the order of the nodes; 0: it is no stage, or not there.
std::size_t stageNumber(const Chain& chain, const std::string& node);

struct Placed {
    hosting::Location location;
    std::vector<std::string> missing; ///< ids that `find` does not know: bypassed
};
/// `find` says where the files of an id lie. The location's id stands for the structure alone: neither for the
/// name nor for what is set.
Placed place(const Chain& chain, const std::function<Result<hosting::Location>(const std::string& id)>& find);

/// Values of the opened chain's parameters. Refuses settings and presets that a stage does not have; those
/// of missing stages are passed over.
Result<std::vector<double>> values(const Chain& chain, const processors::ProcessorInfo& info);

/// The same chain with these values of the opened one written into its nodes; missing stages stay as they are,
/// and of what stands at its default nothing is noted that was not.
Chain with(Chain chain, const processors::ProcessorInfo& info, std::span<const double> values);

/// What the chain adds to a node, by the keys of network.h.
std::vector<processors::Setting> addedTo(const Node& node);
void setAdded(Node& node, const std::string& key, double value);

} // namespace hr::chain
