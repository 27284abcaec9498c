// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/part.h"

#include "chain/key_signal.h"

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

/// Whatever these edges lead to from `node`, itself as well.
std::set<std::string> fedBy(const std::vector<Edge>& edges, const std::string& node)
{
    std::set<std::string> found{node};
    for (bool again = true; again;) {
        again = false;
        for (const Edge& edge : edges)
            if (edge.to != processors::chain_output && edge.input != "key" && found.contains(edge.from))
                again = found.insert(edge.to).second || again;
    }
    return found;
}

/// Of these edges alone; whatever they do not reach is left out.
Result<Chain> wiredBy(Chain part, std::vector<Edge> edges)
{
    part.edges = std::move(edges);
    auto reaches = feeding(part.edges, processors::chain_output);
    std::erase_if(part.nodes, [&](const Node& one) { return !reaches.contains(one.id); });
    std::erase_if(part.edges, [&](const Edge& edge) { return !reaches.contains(edge.to); });
    if (part.nodes.empty())
        part.edges.clear();
    else if (auto compiled = processors::compile(part.graph()); !compiled)
        return tl::make_unexpected(compiled.error());
    return part;
}

} // namespace

Result<Chain> throughOnly(const Chain& chain, const std::string& node)
{
    if (!chain.node(node))
        return wrongRequest("There is no \"" + node + "\" in the chain");
    std::vector<Edge> edges = chain.graph().edges;
    const auto later = fedBy(edges, node);
    std::erase_if(edges, [&](const Edge& edge) { // what joins from beside
        const Node* to = chain.node(edge.to);
        const bool meets = !to || processors::sums(to->kind) || to->kind == NodeKind::Rejoin;
        const bool behind = edge.to == processors::chain_output || (later.contains(edge.to) && edge.to != node);
        return behind && meets && edge.input != "key" && !later.contains(edge.from);
    });
    Chain part = chain;
    for (Node& one : part.nodes) { // the other side is missing: both channels are what is left
        const auto has = [&](const char* input) {
            return std::ranges::any_of(
                edges, [&](const Edge& edge) { return edge.to == one.id && edge.input == input; });
        };
        if (one.kind == NodeKind::Rejoin && has("mid") != has("side"))
            one.kind = NodeKind::Sum;
    }
    for (Edge& edge : edges)
        if (const Node* to = part.node(edge.to); to && to->kind == NodeKind::Sum)
            edge.input.clear();
    return wiredBy(std::move(part), std::move(edges));
}

Result<Chain> keyOf(const Chain& chain, const std::string& stage)
{
    const Node* node = chain.node(stage);
    if (!node || node->kind != NodeKind::Stage)
        return wrongRequest("There is no \"" + stage + "\" in the chain");
    auto edges = chain.graph().edges;
    const auto key = edgesToKey(edges, *node);
    if (key.empty())
        return wrongRequest("The key input listens to nothing.");
    leadOut(edges, key);
    return wiredBy(chain, std::move(edges));
}

Result<Chain> upTo(const Chain& chain, const std::string& node)
{
    const Node* end = chain.node(node);
    if (!end)
        return wrongRequest("There is no \"" + node + "\" in the chain");
    Chain part = chain;
    part.edges = chain.graph().edges;
    std::erase_if(part.edges, [](const Edge& edge) { return edge.to == processors::chain_output; });
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
    std::vector<Edge> edges = std::move(part.edges);
    return wiredBy(std::move(part), std::move(edges));
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

bool runsInTurn(const Chain& chain)
{
    return chain.isSeries() && std::ranges::all_of(chain.nodes, [](const Node& node) {
               return node.kind == NodeKind::Stage && node.key != processors::KeySource::Chain;
           });
}

Chain onlyStages(const Chain& chain, std::span<const std::string> stages)
{
    Chain part = chain;
    std::erase_if(part.nodes,
                  [&](const Node& node) { return std::ranges::find(stages, node.id) == stages.end(); });
    return part;
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
