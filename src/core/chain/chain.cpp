// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain.h"

#include "processors/settings.h"
#include "signal/hash.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace hr::chain {

using processors::Address;
using processors::KeySource;
using processors::Setting;

namespace {

constexpr const char* crossover_prefix = "crossover_";

std::string crossoverKey(std::size_t index)
{
    return crossover_prefix + std::to_string(index + 1) + "_hz";
}

/// Whether the opened chain has something of this node beside what the chain adds: a missing stage has not.
bool isOpened(const Node& node, const processors::ProcessorInfo& info)
{
    const std::string own = text(Address{node.id, false, {}});
    return std::ranges::any_of(info.parameters, [&](const auto& p) { return p.key.starts_with(own); }) ||
           std::ranges::any_of(info.presets, [&](const auto& p) { return p.name.starts_with(own); });
}

/// All settings of a node as those of the opened chain.
std::vector<Setting> settingsOf(const Node& node, const processors::ProcessorInfo& info)
{
    std::vector<Setting> all;
    for (const auto& [key, value] : addedTo(node))
        if (const std::string whole = text(Address{node.id, true, key});
            key != "key" || info.parameterIndex(whole)) // not every stage has one
            all.push_back({whole, value});
    if (isOpened(node, info))
        for (const auto& [key, value] : node.settings)
            all.push_back({text(Address{node.id, false, key}), value});
    return all;
}

std::string structureOf(const hosting::Location& location)
{
    std::string structure;
    for (const processors::Node& node : location.graph.nodes)
        structure += node.id + ' ' + word(node.kind) + ' ' + std::to_string(node.bands) + '\n';
    for (const Edge& edge : location.graph.edges)
        structure += edge.from + ' ' + edge.output + ' ' + edge.to + ' ' + edge.input + '\n';
    for (const hosting::StagePlace& stage : location.stages)
        structure += stage.node + ' ' + stage.id + ' ' + stage.preset +
                     (stage.state.empty() ? "" : ' ' + signal::hashText(signal::hashOf(stage.state))) + '\n';
    return structure;
}

} // namespace

processors::Graph Chain::graph() const
{
    processors::Graph graph;
    for (const Node& node : nodes)
        graph.nodes.push_back(
            {node.id, node.kind, node.kind == NodeKind::Bands ? node.crossovers_hz.size() + 1 : 0});
    graph.edges = isSeries() ? processors::inSeries(graph.nodes) : edges;
    return graph;
}

Node& addStage(Chain& chain, const std::string& processor)
{
    Node stage;
    do
        stage.id = "s" + std::to_string(chain.next_node++);
    while (chain.node(stage.id));
    stage.processor = processor;
    chain.nodes.push_back(std::move(stage));
    return chain.nodes.back();
}

const Node* Chain::node(const std::string& id) const
{
    const auto found = std::ranges::find(nodes, id, &Node::id);
    return found == nodes.end() ? nullptr : &*found;
}

Node* Chain::node(const std::string& id)
{
    return const_cast<Node*>(std::as_const(*this).node(id));
}

std::size_t stageCount(const Chain& chain)
{
    return static_cast<std::size_t>(std::ranges::count(chain.nodes, NodeKind::Stage, &Node::kind));
}

std::size_t stageNumber(const Chain& chain, const std::string& node)
{
    std::size_t number = 0;
    for (const Node& one : chain.nodes) {
        number += one.kind == NodeKind::Stage ? 1 : 0;
        if (one.id == node)
            return one.kind == NodeKind::Stage ? number : 0;
    }
    return 0;
}

Placed place(const Chain& chain, const std::function<Result<hosting::Location>(const std::string& id)>& find)
{
    Placed placed;
    placed.location.name = chain.name;
    placed.location.graph = chain.graph();
    for (const Node& node : chain.nodes) {
        if (node.kind != NodeKind::Stage)
            continue;
        auto location = find(node.processor);
        if (!location)
            placed.missing.push_back(node.processor);
        placed.location.stages.push_back(
            {node.id, node.processor, location ? location->bundle : std::filesystem::path(), node.preset,
             location ? location->permissions : hosting::Permissions(), node.state});
    }
    placed.location.id = "chain:" + signal::hashText(signal::hashOf(structureOf(placed.location)));
    return placed;
}

Result<std::vector<double>> values(const Chain& chain, const processors::ProcessorInfo& info)
{
    std::vector<double> all = processors::defaultValues(info);
    for (const Node& node : chain.nodes) {
        const std::string preset =
            node.preset.empty() || !isOpened(node, info) ? "" : text(Address{node.id, false, node.preset});
        auto resolved = processors::resolveSettings(info, preset, settingsOf(node, info));
        if (!resolved)
            return wrongRequest(
                (node.kind == NodeKind::Stage
                     ? "Stage " + std::to_string(stageNumber(chain, node.id)) + ", " + node.processor
                     : "\"" + node.id + "\"") +
                ": " + resolved.error().text);
        for (std::size_t p = 0; p < all.size(); ++p)
            if (const auto address = processors::addressIn(info.parameters[p].key);
                address && address->node == node.id)
                all[p] = (*resolved)[p];
    }
    return all;
}

Chain with(Chain chain, const processors::ProcessorInfo& info, std::span<const double> values)
{
    for (std::size_t p = 0; p < values.size(); ++p) {
        const auto address = processors::addressIn(info.parameters[p].key);
        const auto node =
            address ? std::ranges::find(chain.nodes, address->node, &Node::id) : chain.nodes.end();
        if (node == chain.nodes.end())
            continue;
        const auto own = std::ranges::find(node->settings, address->key, &Setting::key);
        if (address->of_chain)
            setAdded(*node, address->key, values[p]);
        else if (own != node->settings.end())
            own->value = values[p];
        else if (!node->preset.empty() || values[p] != info.parameters[p].default_value)
            node->settings.push_back({address->key, values[p]});
    }
    return chain;
}

std::vector<Setting> addedTo(const Node& node)
{
    const Setting on{"on", node.on ? 1.0 : 0.0};
    const Setting level{"level_db", node.level_db};
    std::vector<Setting> crossovers;
    switch (node.kind) {
    case NodeKind::Stage:
        return {on,
                {"blend_percent", node.blend_percent},
                {"trim_db", node.trim_db},
                {"key", static_cast<double>(node.key)}};
    case NodeKind::Bands:
        for (std::size_t i = 0; i < node.crossovers_hz.size(); ++i)
            crossovers.push_back({crossoverKey(i), node.crossovers_hz[i]});
        return crossovers;
    case NodeKind::MidSide:
        return {};
    case NodeKind::Branch:
    case NodeKind::Send:
    case NodeKind::Return:
        return {on, level};
    case NodeKind::Sum:
    case NodeKind::Rejoin:
        return {level};
    case NodeKind::Key:
        return {level, {"low_cut_hz", node.low_cut_hz}, {"high_cut_hz", node.high_cut_hz}};
    }
    return {};
}

void setAdded(Node& node, const std::string& key, double value)
{
    if (key == "on")
        node.on = value >= 0.5;
    else if (key == "blend_percent")
        node.blend_percent = value;
    else if (key == "trim_db")
        node.trim_db = value;
    else if (key == "key")
        node.key = static_cast<KeySource>(std::lround(value));
    else if (key == "level_db")
        node.level_db = value;
    else if (key == "low_cut_hz")
        node.low_cut_hz = value;
    else if (key == "high_cut_hz")
        node.high_cut_hz = value;
    for (std::size_t i = 0; i < node.crossovers_hz.size(); ++i)
        if (key == crossoverKey(i))
            node.crossovers_hz[i] = value;
}

} // namespace hr::chain
