// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/orders.h"

#include <algorithm>
#include <set>

namespace hr::chain {

namespace {

constexpr const char* key_input = "key";

/// Whether sound gets from one node to another without passing `avoided`; keys are no sound that is heard.
bool reaches(const std::vector<Edge>& edges, const std::string& from, const std::string& to,
             const std::string& avoided)
{
    std::set<std::string> seen{from};
    std::vector<std::string> open{from};
    while (!open.empty()) {
        const std::string node = open.back();
        open.pop_back();
        if (node == to)
            return true;
        for (const Edge& edge : edges)
            if (edge.from == node && edge.input != key_input && edge.to != avoided &&
                seen.insert(edge.to).second)
                open.push_back(edge.to);
    }
    return false;
}

/// Whether sound can pass `node` from end to end without passing `other`.
bool passesWithout(const std::vector<Edge>& edges, const std::string& node, const std::string& other)
{
    return reaches(edges, processors::chain_input, node, other) &&
           reaches(edges, node, processors::chain_output, other);
}

} // namespace

Result<std::vector<std::string>> movable(const Chain& chain, const std::vector<std::string>& named)
{
    std::set<std::string> wanted(named.begin(), named.end());
    if (wanted.size() != named.size())
        return wrongRequest("A stage is named twice among those that may move.");
    for (const std::string& id : wanted) {
        const Node* node = chain.node(id);
        if (!node || node->kind != NodeKind::Stage)
            return wrongRequest("The chain has no stage \"" + id + "\" that could move.");
    }
    if (named.empty())
        for (const Node& node : chain.nodes)
            if (node.kind == NodeKind::Stage && node.may_move)
                wanted.insert(node.id);
    if (wanted.size() < 2)
        return wrongRequest(
            "Fewer than two stages may move: mark them in the chain (\"may_move\": true), or name them.");
    if (wanted.size() > most_movable)
        return wrongRequest(std::to_string(wanted.size()) + " stages may move; orders are compared of " +
                            std::to_string(most_movable) + " at most.");
    const processors::Graph graph = chain.graph();
    auto schedule = processors::compile(graph);
    if (!schedule)
        return tl::make_unexpected(schedule.error());
    std::vector<std::string> stages;
    for (const auto& step : schedule->steps)
        if (wanted.contains(graph.nodes[step.node].id))
            stages.push_back(graph.nodes[step.node].id);
    for (const std::string& one : stages)
        for (const std::string& other : stages)
            if (one != other && passesWithout(graph.edges, one, other))
                return wrongRequest("\"" + one + "\" and \"" + other +
                                    "\" are not on one path: only stages of one path may change places.");
    return stages;
}

std::vector<std::vector<std::string>> ordersOf(const std::vector<std::string>& stages)
{
    std::vector<std::size_t> places(stages.size());
    for (std::size_t i = 0; i < places.size(); ++i)
        places[i] = i;
    std::vector<std::vector<std::string>> orders;
    do {
        orders.emplace_back();
        for (const std::size_t place : places)
            orders.back().push_back(stages[place]);
    } while (std::ranges::next_permutation(places).found);
    return orders;
}

Result<Chain> reordered(const Chain& chain, const std::vector<std::string>& stages,
                        const std::vector<std::string>& order)
{
    const auto nowAt = [&](const std::string& id) {
        const auto at = std::ranges::find(stages, id);
        return at == stages.end() ? id : order[static_cast<std::size_t>(at - stages.begin())];
    };
    Chain other = chain;
    for (std::size_t n = 0; n < chain.nodes.size(); ++n)
        other.nodes[n] = *chain.node(nowAt(chain.nodes[n].id));
    for (Edge& edge : other.edges) {
        edge.from = nowAt(edge.from);
        if (edge.input != key_input)
            edge.to = nowAt(edge.to);
    }
    if (auto compiled = processors::compile(other.graph()); !compiled)
        return tl::make_unexpected(compiled.error());
    return other;
}

std::optional<OneMoved> oneMoved(const std::vector<std::string>& built, const std::vector<std::string>& order)
{
    const auto without = [](std::vector<std::string> stages, const std::string& one) {
        std::erase(stages, one);
        return stages;
    };
    if (built.size() != order.size() || built == order)
        return std::nullopt;
    std::optional<OneMoved> found;
    for (std::size_t i = 0; i < order.size(); ++i) {
        if (without(built, order[i]) != without(order, order[i]))
            continue;
        if (i == 0)
            return OneMoved{OneMoved::To::First, order[i], {}};
        if (i + 1 == order.size())
            return OneMoved{OneMoved::To::Last, order[i], {}};
        if (!found)
            found = OneMoved{OneMoved::To::Before, order[i], order[i + 1]};
    }
    return found;
}

std::optional<EqualiserAndCompressor>
equaliserAndCompressor(const Chain& chain,
                       const std::function<std::string(const std::string& processor)>& kind_of)
{
    std::vector<std::pair<std::string, std::string>> stages; // and their kinds
    for (const Node& node : chain.nodes)
        if (node.kind == NodeKind::Stage && node.on)
            stages.emplace_back(node.id, kind_of(node.processor));
    std::optional<EqualiserAndCompressor> nearest;
    std::size_t least = stages.size();
    for (std::size_t e = 0; e < stages.size(); ++e)
        for (std::size_t c = 0; c < stages.size(); ++c) {
            const bool equalises = stages[e].second == "equaliser" || stages[e].second == "filter";
            const bool compresses = stages[c].second == "compressor" || stages[c].second == "multiband";
            const std::size_t apart = e < c ? c - e : e - c;
            if (!equalises || !compresses || apart >= least ||
                !movable(chain, {stages[e].first, stages[c].first}))
                continue;
            least = apart;
            nearest = EqualiserAndCompressor{stages[e].first, stages[c].first};
        }
    return nearest;
}

} // namespace hr::chain
