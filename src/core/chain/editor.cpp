// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/editor.h"

namespace hr::chain {

using processors::chain_output;

tl::unexpected<Error> notThere(const std::string& id)
{
    return wrongRequest("There is no \"" + id + "\" in the chain any more.");
}

Node* Editor::find(const std::string& id)
{
    return m_chain.node(id);
}

std::string Editor::add(Node node, const std::string& prefix)
{
    do
        node.id = prefix + std::to_string(m_chain.next_node++);
    while (find(node.id));
    m_chain.nodes.push_back(std::move(node));
    return m_chain.nodes.back().id;
}

std::string Editor::add(NodeKind kind, const std::string& prefix)
{
    Node node;
    node.kind = kind;
    return add(std::move(node), prefix);
}

void Editor::connect(const std::string& from, const std::string& output, const std::string& to,
                     const std::string& input)
{
    const Edge edge{from, output, to, input};
    if (std::ranges::find(edges(), edge) == edges().end()) // twice would be twice as loud
        edges().push_back(edge);
}

std::vector<Edge> Editor::into(const std::string& id) const
{
    return edgesWhere([&](const Edge& edge) { return edge.to == id && edge.input != "key"; });
}

std::vector<Edge> Editor::from(const std::string& id) const
{
    return edgesWhere([&](const Edge& edge) { return edge.from == id; });
}

void Editor::putOn(const Edge& edge, const std::string& node)
{
    erase(edge);
    connect(edge.from, edge.output, node);
    connect(node, {}, edge.to, edge.input);
}

Result<Edge> Editor::oneEdgeInto(const std::string& id)
{
    if (id != chain_output && !find(id))
        return notThere(id);
    const auto all = into(id);
    if (all.size() == 1)
        return all.front();
    const Node* node = find(id);
    if (all.empty() || (node && node->kind == NodeKind::Rejoin))
        return wrongRequest("Several paths lead into \"" + id + "\": say on which of them.");
    if (node && node->kind == NodeKind::Sum) { // behind it is before all that follows
        const auto behind = from(id);
        if (behind.size() == 1)
            return behind.front();
        return wrongRequest("Several paths lead out of \"" + id + "\": say on which of them.");
    }
    const std::string sum = add(NodeKind::Sum, "sum");
    for (const Edge& edge : all) {
        erase(edge);
        connect(edge.from, edge.output, sum);
    }
    connect(sum, {}, id);
    return Edge{sum, {}, id, {}};
}

std::set<std::string> Editor::reachable(const std::string& id) const
{
    std::set<std::string> found;
    std::vector<std::string> open{id};
    while (!open.empty()) {
        const std::string at = std::move(open.back());
        open.pop_back();
        for (const Edge& edge : from(at))
            if (edge.to != chain_output && found.insert(edge.to).second)
                open.push_back(edge.to);
    }
    return found;
}

void Editor::takeOut(const std::string& id)
{
    std::erase_if(edges(), [&](const Edge& edge) { return edge.from == id || edge.to == id; });
    std::erase_if(m_chain.nodes, [&](const Node& node) { return node.id == id; });
}

Result<void> Editor::removeNode(const std::string& id)
{
    const Node* node = find(id);
    if (!node)
        return {}; // it has gone with a split
    if (node->kind == NodeKind::Bands || node->kind == NodeKind::MidSide)
        return removeSplit(id);
    const auto before = into(id);
    const auto behind = from(id);
    if (node->kind == NodeKind::Rejoin ||
        (before.size() > 1 &&
         std::ranges::any_of(behind, [&](const Edge& edge) { return !takesSeveral(edge); })))
        return wrongRequest("\"" + id + "\" brings several paths together: remove the split before it.");
    takeOut(id);
    for (const Edge& one : before)
        for (const Edge& other : behind)
            connect(one.from, one.output, other.to, other.input);
    return {};
}

void Editor::removeLooseEnds()
{
    for (bool again = true; again;) {
        const auto loose = std::ranges::find_if(m_chain.nodes, [this](const Node& node) {
            return from(node.id).empty() || (into(node.id).empty() && node.kind != NodeKind::Stage);
        });
        again = loose != m_chain.nodes.end() && m_chain.nodes.size() > 1 && from(loose->id).empty();
        if (again)
            takeOut(std::string(loose->id));
    }
}

void Editor::removeNeedlessSums()
{
    for (bool again = true; again;) {
        const auto needless = std::ranges::find_if(m_chain.nodes, [this](const Node& node) {
            return node.kind == NodeKind::Sum && node.level_db == 0 && node.purpose.empty() &&
                   into(node.id).size() == 1;
        });
        again = needless != m_chain.nodes.end() && removeNode(std::string(needless->id)).has_value();
    }
}

Edited Editor::finish()
{
    if (m_chain.nodes.size() > most_nodes)
        return wrongRequest("A chain has at most " + std::to_string(most_nodes) + " nodes.");
    const auto stages = std::ranges::count(m_chain.nodes, NodeKind::Stage, &Node::kind);
    if (stages > static_cast<std::ptrdiff_t>(most_stages))
        return wrongRequest("A chain has at most " + std::to_string(most_stages) + " stages.");
    if (m_chain.nodes.empty()) {
        m_chain.edges.clear();
        return m_chain;
    }
    const auto schedule = processors::compile(m_chain.graph());
    if (!schedule)
        return tl::make_unexpected(schedule.error());
    // Nodes in the order in which they run: people read them so, and a plain chain needs no edges then.
    std::vector<Node> ordered;
    for (const auto& step : schedule->steps)
        ordered.push_back(std::move(m_chain.nodes[step.node]));
    m_chain.nodes = std::move(ordered);
    std::vector<processors::Node> plain;
    for (const Node& node : m_chain.nodes)
        plain.push_back({node.id, node.kind, 0});
    const auto series = processors::inSeries(plain);
    const bool is_series =
        series.size() == m_chain.edges.size() && std::ranges::all_of(series, [this](const Edge& edge) {
            return std::ranges::find(m_chain.edges, edge) != m_chain.edges.end();
        });
    if (is_series)
        m_chain.edges.clear();
    return std::move(m_chain);
}

bool Editor::takesSeveral(const Edge& edge)
{
    const Node* node = find(edge.to);
    return edge.to == chain_output || (node && processors::sums(node->kind));
}

/// The first node, as they run, that all paths from `id` lead through; the chain's output where there is
/// none.
std::string Editor::meeting(const std::string& id)
{
    const auto schedule = processors::compile(m_chain.graph());
    const auto inside = reachable(id);
    if (!schedule)
        return chain_output;
    for (const auto& step : schedule->steps) {
        const std::string& candidate = m_chain.nodes[step.node].id;
        if (!inside.contains(candidate))
            continue;
        // Without it, does a path still get out?
        Editor without(*this);
        std::erase_if(without.edges(), [&](const Edge& edge) { return edge.from == candidate; });
        auto still = without.reachable(id);
        still.insert(id);
        const bool escapes = std::ranges::any_of(without.edges(), [&](const Edge& edge) {
            return edge.to == chain_output && still.contains(edge.from);
        });
        if (!escapes)
            return candidate;
    }
    return chain_output;
}

/// Its stages follow one another between what feeds the split and what its paths met in.
Result<void> Editor::removeSplit(const std::string& id)
{
    const auto before = into(id);
    if (before.size() != 1)
        return wrongRequest("Nothing feeds \"" + id + "\".");
    const std::string met = meeting(id);
    const Node* join = met == chain_output ? nullptr : find(met);
    const bool join_goes = join && (join->kind == NodeKind::Sum || join->kind == NodeKind::Rejoin);
    auto behind = join_goes ? from(met) : std::vector<Edge>{{met, {}, met, {}}};
    auto inside = reachable(id);
    if (met != chain_output)
        for (const std::string& later : reachable(met))
            inside.erase(later);
    inside.erase(met);
    std::vector<std::string> stages;
    for (const Node& node : m_chain.nodes)
        if (inside.contains(node.id) && node.kind == NodeKind::Stage)
            stages.push_back(node.id);
    for (const std::string& gone : inside)
        if (std::ranges::find(stages, gone) == stages.end())
            takeOut(gone);
    std::erase_if(edges(), [&](const Edge& edge) {
        const bool leaves = inside.contains(edge.from) || edge.from == id;
        const bool enters = inside.contains(edge.to) && edge.input != "key";
        return leaves || enters;
    });
    takeOut(id);
    if (join_goes)
        takeOut(met);
    std::string last = before.front().from;
    std::string output = before.front().output;
    for (const std::string& stage : stages) {
        connect(last, output, stage);
        last = stage;
        output.clear();
    }
    for (const Edge& edge : behind)
        connect(last, output, edge.to, edge.input);
    return {};
}

} // namespace hr::chain
