// SPDX-License-Identifier: GPL-3.0-or-later
//
// How the parts of a chain hang together: nodes with ids that never change, and edges between them. A plain
// chain is the simple case: its stages one after the other. How it sounds is network.h.
//
//     in -> s1 -> s2 -> out                                   series({"s1", "s2"})
//     in -> b1 (bands) -> band_1 -> s1 -> sum1 -> out         in parallel, lined up in time at the sum
//                      -> band_2 ------> sum1
#pragma once

#include "signal/result.h"

#include <optional>

#include <string>
#include <vector>

namespace hr::processors {

enum class NodeKind {
    Stage,   ///< a processor. Inputs: main, "key". It keeps its place where the processor is missing
    Bands,   ///< outputs "band_1" (the lowest) to "band_N", which add up to the input but for its phase
    MidSide, ///< outputs "mid" and "side", each on both channels
    Branch,  ///< a level on the way into a parallel path
    Send,    ///< a level on the way to an effect that is added to the sound
    Return,  ///< a level on the way back from it
    Sum,     ///< of all its edges, lined up in time
    Rejoin,  ///< left and right of inputs "mid" and "side"
    Key,     ///< of all its edges: a level and a filter, for what a key input listens to
};

/// The word of the file format ("stage", "mid_side"), and back; empty for an unknown one.
std::string word(NodeKind kind);
std::optional<NodeKind> nodeKind(const std::string& word);

struct Node {
    std::string id; ///< isNodeId(); not chain_input, chain_output
    NodeKind kind = NodeKind::Stage;
    std::size_t bands = 0; ///< of Bands: 2 to most_bands

    friend bool operator==(const Node&, const Node&) = default;
};

/// From an output of one node to an input of another; an empty name is the main one.
struct Edge {
    std::string from, output, to, input;

    friend bool operator==(const Edge&, const Edge&) = default;
};

struct Graph {
    std::vector<Node> nodes;
    std::vector<Edge> edges;

    friend bool operator==(const Graph&, const Graph&) = default;
};

/// What an edge may come from and go to beside nodes.
inline constexpr const char* chain_input = "in";
inline constexpr const char* chain_output = "out";

inline constexpr std::size_t most_bands = 8;

/// Letters, digits, "-" and "_", at most 32 of them.
bool isNodeId(const std::string& text);

/// A parameter of an opened chain: one that the chain adds to a node ("on", "blend_percent"), or one of the
/// processor's own, which may bear the same key. As text "s1:on" and "s1.on", since no id holds either sign.
struct Address {
    std::string node;
    bool of_chain = false;
    std::string key;
};
std::string text(const Address& address);
std::optional<Address> addressIn(const std::string& parameter_key);

/// The edges of these nodes one after the other, from the chain's input to its output.
std::vector<Edge> inSeries(const std::vector<Node>& nodes);

/// Names of a node's outputs and inputs, the main ones first (empty).
std::vector<std::string> outputsOf(const Node& node);
std::vector<std::string> inputsOf(const Node& node);
/// Whether an input of this kind takes several edges.
bool sums(NodeKind kind);

/// The order in which a graph runs: each node after all that feed it.
struct Schedule {
    struct Input {
        std::size_t edge = 0;   ///< index in Graph::edges
        std::size_t output = 0; ///< index of the output it comes from; 0 is the chain's input
    };
    struct Step {
        std::size_t node = 0;                   ///< index in Graph::nodes
        std::vector<std::vector<Input>> inputs; ///< by the node's inputs (inputsOf)
        std::size_t first_output = 0;           ///< index of its first output
        std::size_t output_count = 1;
    };
    std::vector<Step> steps;
    std::vector<std::vector<Input>> out{1}; ///< the one input of the chain's output: the sum of these
    std::size_t output_count = 1;           ///< of all nodes together, and the chain's input
};

/// Refuses what cannot be run, naming the node: ids that are not, or twice, edges to what is not there,
/// circles, inputs that nothing or too much feeds.
Result<Schedule> compile(const Graph& graph);

} // namespace hr::processors
