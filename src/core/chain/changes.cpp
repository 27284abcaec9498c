// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/changes.h"

#include "signal/number_text.h"

#include <algorithm>
#include <map>

namespace hr::chain {

namespace {

std::string figureText(double value)
{
    return signal::shortText(value, 6);
}

/// Every figure of a node by its key; what is not among them stands at its default.
std::map<std::string, double> figuresOf(const Node& node)
{
    std::map<std::string, double> figures;
    for (const auto& [key, value] : node.settings)
        figures[key] = value;
    for (const auto& [key, value] : addedTo(node))
        if (key != "on" && key != "key")
            figures["chain:" + key] = value; // apart from settings of the same name
    for (std::size_t i = 0; i < node.crossovers_hz.size(); ++i)
        figures["chain:crossover_" + std::to_string(i + 1) + "_hz"] = node.crossovers_hz[i];
    return figures;
}

std::string shownKey(const std::string& key)
{
    return key.starts_with("chain:") ? key.substr(6) : key;
}

void putFigures(const std::string& name, const Node& before, const Node& after, std::vector<std::string>& lines)
{
    const auto old_figures = figuresOf(before);
    const auto new_figures = figuresOf(after);
    for (const auto& [key, value] : new_figures) {
        const auto old = old_figures.find(key);
        if (old == old_figures.end())
            lines.push_back(name + ": " + shownKey(key) + " from its default to " + figureText(value));
        else if (old->second != value)
            lines.push_back(name + ": " + shownKey(key) + " " + figureText(old->second) + " to " +
                            figureText(value));
    }
    for (const auto& [key, value] : old_figures)
        if (!new_figures.contains(key))
            lines.push_back(name + ": " + shownKey(key) + " " + figureText(value) + " to its default");
}

void putNode(const std::string& name, const Node& before, const Node& after, std::vector<std::string>& lines)
{
    if (before.processor != after.processor)
        return lines.push_back(name + " in its place");
    if (before.on != after.on)
        lines.push_back(name + (after.on ? " on" : " off"));
    if (before.preset != after.preset)
        lines.push_back(name + ": preset \"" + before.preset + "\" to \"" + after.preset + "\"");
    putFigures(name, before, after, lines);
    if (before.state != after.state)
        lines.push_back(name + ": another state");
    if (before.key != after.key)
        lines.push_back(name + ": another key source");
}

/// Those of both, in the order of either; who stands elsewhere among them is told.
void putMoves(const Chain& before, const Chain& after, const std::function<std::string(const Node&)>& name_of,
              std::vector<std::string>& lines)
{
    const auto common = [](const Chain& chain, const Chain& other) {
        std::vector<std::string> ids;
        for (const Node& node : chain.nodes)
            if (node.kind == NodeKind::Stage && other.node(node.id))
                ids.push_back(node.id);
        return ids;
    };
    std::vector<std::string> was = common(before, after);
    const std::vector<std::string> is = common(after, before);
    for (std::size_t i = 0; i < is.size(); ++i) {
        const auto there = static_cast<std::size_t>(std::ranges::find(was, is[i]) - was.begin());
        if (there == i)
            continue;
        // Whichever of the two explains more: the one here has come forward, or the one before has gone back.
        const auto without = [](std::vector<std::string> ids, const std::string& one) {
            std::erase(ids, one);
            return ids;
        };
        const std::string& moved = without(was, was[i]) == without(is, was[i]) ? was[i] : is[i];
        const auto from = std::ranges::find(was, moved) - was.begin();
        const auto to = std::ranges::find(is, moved) - is.begin();
        lines.push_back(name_of(*after.node(moved)) + " moved from " + std::to_string(from + 1) + " to " +
                        std::to_string(to + 1));
        const std::string one = moved;
        std::erase(was, one);
        was.insert(was.begin() + to, one);
    }
}

} // namespace

std::vector<std::string> changesBetween(const Chain& before, const Chain& after,
                                        const std::function<std::string(const Node&)>& name_of)
{
    std::vector<std::string> lines;
    for (const Node& node : before.nodes)
        if (!after.node(node.id))
            lines.push_back(name_of(node) + " removed");
    for (const Node& node : after.nodes) {
        const Node* old = before.node(node.id);
        if (!old)
            lines.push_back(name_of(node) + " added");
        else
            putNode(name_of(node), *old, node, lines);
    }
    putMoves(before, after, name_of, lines);
    const bool same_nodes = std::ranges::equal(before.nodes, after.nodes, {}, &Node::id, &Node::id);
    if (same_nodes && before.graph().edges != after.graph().edges)
        lines.push_back("other paths");
    for (const Node& node : after.nodes) {
        const Node* old = before.node(node.id);
        if (old && old->purpose != node.purpose)
            lines.push_back(name_of(node) + ": purpose \"" + node.purpose + "\"");
        if (old && old->phase != node.phase)
            lines.push_back(name_of(node) + ": phase \"" + node.phase + "\"");
    }
    return lines;
}

} // namespace hr::chain
