// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/part.h"

#include <algorithm>
#include <set>

namespace hr::chain {

namespace {

/// `node` and whatever feeds it, keys as well.
std::set<std::string> feeding(const std::vector<Edge>& edges, const std::string& node)
{
    std::set<std::string> found{node};
    std::vector<std::string> open{node};
    while (!open.empty()) {
        const std::string to = open.back();
        open.pop_back();
        for (const Edge& edge : edges)
            if (edge.to == to && edge.from != processors::chain_input && found.insert(edge.from).second)
                open.push_back(edge.from);
    }
    return found;
}

} // namespace

Result<Chain> upTo(const Chain& chain, const std::string& node)
{
    const Node* end = chain.node(node);
    if (!end)
        return wrongRequest("There is no \"" + node + "\" in the chain");
    const processors::Graph graph = chain.graph();
    const auto kept = feeding(graph.edges, node);
    Chain part = chain;
    std::erase_if(part.nodes, [&](const Node& one) { return !kept.contains(one.id); });
    part.edges.clear();
    for (const Edge& edge : graph.edges)
        if (kept.contains(edge.to))
            part.edges.push_back(edge);
    if (end->kind == NodeKind::MidSide) {
        Node sides;
        sides.kind = NodeKind::Rejoin;
        do
            sides.id = "r" + std::to_string(part.next_node++);
        while (part.node(sides.id));
        part.edges.push_back({node, "mid", sides.id, "mid"});
        part.edges.push_back({node, "side", sides.id, "side"});
        part.edges.push_back({sides.id, "", processors::chain_output, ""});
        part.nodes.push_back(std::move(sides));
    } else {
        const processors::Node ending{end->id, end->kind, end->crossovers_hz.size() + 1};
        for (const std::string& output : processors::outputsOf(ending))
            part.edges.push_back({node, output, processors::chain_output, ""});
    }
    if (auto compiled = processors::compile(part.graph()); !compiled)
        return tl::make_unexpected(compiled.error());
    return part;
}

Result<std::vector<std::string>> scheduleOf(const Chain& chain)
{
    const processors::Graph graph = chain.graph();
    auto schedule = processors::compile(graph);
    if (!schedule)
        return tl::make_unexpected(schedule.error());
    std::vector<std::string> nodes;
    for (const auto& step : schedule->steps)
        nodes.push_back(graph.nodes[step.node].id);
    return nodes;
}

bool endsWith(const Chain& chain, const std::string& node)
{
    const auto edges = chain.graph().edges;
    return std::ranges::count(edges, processors::chain_output, &Edge::to) == 1 &&
           std::ranges::any_of(edges, [&](const Edge& edge) {
               return edge.from == node && edge.output.empty() && edge.to == processors::chain_output;
           });
}

} // namespace hr::chain
