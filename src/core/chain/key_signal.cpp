// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/key_signal.h"

#include <algorithm>

namespace hr::chain {

std::optional<Chain> keySignal(const Chain& chain)
{
    const processors::Graph graph = chain.graph();
    for (const Node& node : chain.nodes) {
        if (node.kind != NodeKind::Stage || !node.on)
            continue;
        std::vector<Edge> to_key;
        for (const Edge& edge : graph.edges)
            if (edge.to == node.id && edge.input == "key")
                to_key.push_back({edge.from, edge.output, processors::chain_output, {}});
        if (to_key.empty() && node.key == processors::KeySource::Chain)
            to_key.push_back({processors::chain_input, {}, processors::chain_output, {}});
        if (to_key.empty())
            continue;
        Chain heard = chain;
        heard.edges = graph.edges;
        std::erase_if(heard.edges, [](const Edge& edge) { return edge.to == processors::chain_output; });
        heard.edges.insert(heard.edges.end(), to_key.begin(), to_key.end());
        return heard;
    }
    return std::nullopt;
}

Chain detectorSignal(std::optional<double> corner_low_hz, std::optional<double> corner_high_hz)
{
    Node key;
    key.id = "key";
    key.kind = NodeKind::Key;
    key.low_cut_hz = corner_low_hz.value_or(0);
    key.high_cut_hz = corner_high_hz.value_or(0);
    Chain chain;
    chain.name = "Key";
    chain.nodes = {key};
    return chain;
}

} // namespace hr::chain
