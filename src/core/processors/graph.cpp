// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/graph.h"

#include <algorithm>
#include <array>
#include <map>
#include <utility>

namespace hr::processors {

namespace {

constexpr std::array<std::pair<NodeKind, const char*>, 9> kind_words{{{NodeKind::Stage, "stage"},
                                                                      {NodeKind::Bands, "bands"},
                                                                      {NodeKind::MidSide, "mid_side"},
                                                                      {NodeKind::Branch, "branch"},
                                                                      {NodeKind::Send, "send"},
                                                                      {NodeKind::Return, "return"},
                                                                      {NodeKind::Sum, "sum"},
                                                                      {NodeKind::Rejoin, "rejoin"},
                                                                      {NodeKind::Key, "key"}}};
constexpr std::size_t longest_node_id = 32;

template<class Range, class T>
std::optional<std::size_t> indexOf(const Range& range, const T& wanted)
{
    const auto found = std::ranges::find(range, wanted);
    if (found == std::ranges::end(range))
        return std::nullopt;
    return static_cast<std::size_t>(found - std::ranges::begin(range));
}

std::string named(const std::string& id, const std::string& part)
{
    return "\"" + id + "\"" + (part.empty() ? "" : " \"" + part + "\"");
}

/// A graph on its way to a schedule.
class Compiler {
public:
    explicit Compiler(const Graph& graph) : m_graph(graph) {}

    Result<Schedule> compile()
    {
        if (auto good = checkNodes(); !good)
            return tl::make_unexpected(good.error());
        numberOutputs();
        if (auto good = connect(); !good)
            return tl::make_unexpected(good.error());
        if (auto good = checkInputs(); !good)
            return tl::make_unexpected(good.error());
        return inOrder();
    }

private:
    Result<void> checkNodes()
    {
        for (const Node& node : m_graph.nodes) {
            if (!isNodeId(node.id) || node.id == chain_input || node.id == chain_output)
                return wrongRequest(named(node.id, {}) + " cannot be the id of a node");
            if (!m_node_at.emplace(node.id, m_node_at.size()).second)
                return wrongRequest("Two nodes have the id " + named(node.id, {}));
            if (node.kind == NodeKind::Bands && (node.bands < 2 || node.bands > most_bands))
                return wrongRequest("The node " + named(node.id, {}) + " must have 2 to " +
                                    std::to_string(most_bands) + " bands");
        }
        return {};
    }

    void numberOutputs()
    {
        for (const Node& node : m_graph.nodes) {
            m_first_output.push_back(m_schedule.output_count);
            m_schedule.output_count += outputsOf(node).size();
            m_inputs.emplace_back(inputsOf(node).size());
        }
    }

    std::optional<std::size_t> nodeAt(const std::string& id) const
    {
        const auto found = m_node_at.find(id);
        return found == m_node_at.end() ? std::nullopt : std::optional(found->second);
    }

    Result<void> connect()
    {
        for (std::size_t e = 0; e < m_graph.edges.size(); ++e) {
            const Edge& edge = m_graph.edges[e];
            const auto from = nodeAt(edge.from);
            const auto to = nodeAt(edge.to);
            const auto output = from ? indexOf(outputsOf(m_graph.nodes[*from]), edge.output) : std::nullopt;
            const auto input = to ? indexOf(inputsOf(m_graph.nodes[*to]), edge.input) : std::nullopt;
            const bool from_input = edge.from == chain_input && edge.output.empty();
            const bool to_output = edge.to == chain_output && edge.input.empty();
            if (!output && !from_input)
                return wrongRequest("An edge comes from " + named(edge.from, edge.output) +
                                    ", which is not there");
            if (!input && !to_output)
                return wrongRequest("An edge goes to " + named(edge.to, edge.input) + ", which is not there");
            const Schedule::Input fed{e, from_input ? 0 : m_first_output[*from] + *output};
            (to_output ? m_schedule.out[0] : m_inputs[*to][*input]).push_back(fed);
        }
        return {};
    }

    Result<void> checkInputs() const
    {
        if (m_schedule.out[0].empty())
            return wrongRequest("Nothing reaches the output of the chain");
        for (std::size_t n = 0; n < m_graph.nodes.size(); ++n) {
            const Node& node = m_graph.nodes[n];
            for (std::size_t i = 0; i < m_inputs[n].size(); ++i) {
                const std::size_t edges = m_inputs[n][i].size();
                const bool may_be_empty = node.kind == NodeKind::Stage && i > 0; // a key that is not wired
                if (edges == 0 && !may_be_empty)
                    return wrongRequest("Nothing feeds " + named(node.id, inputsOf(node)[i]));
                if (edges > 1 && !sums(node.kind))
                    return wrongRequest("More than one edge feeds " + named(node.id, inputsOf(node)[i]) +
                                        ": put a sum before it");
            }
        }
        return {};
    }

    /// A. B. Kahn, "Topological sorting of large networks", 1962; among those that are ready, in their own
    /// order.
    Result<Schedule> inOrder()
    {
        std::vector<bool> have(m_schedule.output_count, false);
        have[0] = true;
        std::vector<bool> done(m_graph.nodes.size(), false);
        const auto ready = [&](std::size_t n) {
            return !done[n] && std::ranges::all_of(m_inputs[n], [&](const auto& edges) {
                return std::ranges::all_of(edges, [&](const Schedule::Input& in) { return have[in.output]; });
            });
        };
        while (m_schedule.steps.size() < m_graph.nodes.size()) {
            std::size_t next = 0;
            while (next < done.size() && !ready(next))
                ++next;
            if (next == done.size()) {
                const auto stuck = static_cast<std::size_t>(std::ranges::find(done, false) - done.begin());
                return wrongRequest("The sound goes in a circle through " + named(m_graph.nodes[stuck].id, {}));
            }
            done[next] = true;
            const std::size_t outputs = outputsOf(m_graph.nodes[next]).size();
            for (std::size_t o = 0; o < outputs; ++o)
                have[m_first_output[next] + o] = true;
            m_schedule.steps.push_back({next, m_inputs[next], m_first_output[next], outputs});
        }
        return std::move(m_schedule);
    }

    const Graph& m_graph;
    Schedule m_schedule;
    std::map<std::string, std::size_t> m_node_at;
    std::vector<std::size_t> m_first_output;                         // by node
    std::vector<std::vector<std::vector<Schedule::Input>>> m_inputs; // by node and input
};

} // namespace

std::string word(NodeKind kind)
{
    return kind_words[static_cast<std::size_t>(kind)].second;
}

std::optional<NodeKind> nodeKind(const std::string& word)
{
    for (const auto& [kind, text] : kind_words)
        if (word == text)
            return kind;
    return std::nullopt;
}

bool isNodeId(const std::string& text)
{
    const auto allowed = [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ||
               c == '_';
    };
    return !text.empty() && text.size() <= longest_node_id && std::ranges::all_of(text, allowed);
}

std::string text(const Address& address)
{
    return address.node + (address.of_chain ? ':' : '.') + address.key;
}

std::optional<Address> addressIn(const std::string& parameter_key)
{
    const auto sign = parameter_key.find_first_of(":.");
    if (sign == std::string::npos || !isNodeId(parameter_key.substr(0, sign)))
        return std::nullopt;
    return Address{parameter_key.substr(0, sign), parameter_key[sign] == ':', parameter_key.substr(sign + 1)};
}

std::vector<Edge> inSeries(const std::vector<Node>& nodes)
{
    std::vector<Edge> edges;
    std::string before = chain_input;
    for (const Node& node : nodes) {
        edges.push_back({before, {}, node.id, {}});
        before = node.id;
    }
    edges.push_back({before, {}, chain_output, {}});
    return edges;
}

std::vector<std::string> outputsOf(const Node& node)
{
    if (node.kind == NodeKind::MidSide)
        return {"mid", "side"};
    if (node.kind != NodeKind::Bands)
        return {""};
    std::vector<std::string> bands;
    for (std::size_t b = 1; b <= node.bands; ++b)
        bands.push_back("band_" + std::to_string(b));
    return bands;
}

std::vector<std::string> inputsOf(const Node& node)
{
    if (node.kind == NodeKind::Stage)
        return {"", "key"};
    if (node.kind == NodeKind::Rejoin)
        return {"mid", "side"};
    return {""};
}

bool sums(NodeKind kind)
{
    return kind == NodeKind::Sum || kind == NodeKind::Key || kind == NodeKind::Rejoin;
}

Result<Schedule> compile(const Graph& graph)
{
    return Compiler(graph).compile();
}

} // namespace hr::processors
