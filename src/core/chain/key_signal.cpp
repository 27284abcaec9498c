// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/key_signal.h"

#include <algorithm>
#include <iterator>

namespace hr::chain {

std::vector<Edge> edgesToKey(const std::vector<Edge>& edges, const Node& stage)
{
    using processors::KeySource;
    if (stage.key == KeySource::None)
        return {};
    if (stage.key == KeySource::Chain)
        return {{processors::chain_input, {}, stage.id, "key"}};
    std::vector<Edge> found;
    std::ranges::copy_if(edges, std::back_inserter(found), [&](const Edge& edge) {
        return edge.to == stage.id && (edge.input == "key") == (stage.key == KeySource::Wired);
    });
    return found;
}

void leadOut(std::vector<Edge>& edges, const std::vector<Edge>& sources)
{
    std::erase_if(edges, [](const Edge& edge) { return edge.to == processors::chain_output; });
    for (const Edge& source : sources)
        edges.push_back({source.from, source.output, processors::chain_output, {}});
}

std::optional<Chain> keySignal(const Chain& chain)
{
    using processors::KeySource;
    const auto edges = chain.graph().edges;
    for (const Node& node : chain.nodes) {
        const bool own = node.key == KeySource::Own || node.key == KeySource::None;
        if (node.kind != NodeKind::Stage || !node.on || own)
            continue;
        Chain heard = chain;
        heard.edges = edges;
        leadOut(heard.edges, edgesToKey(edges, node));
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
