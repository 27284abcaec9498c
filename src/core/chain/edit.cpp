// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/editor.h"

#include <map>

namespace hr::chain {

using processors::chain_input;
using processors::chain_output;

Edited insertOn(const Chain& chain, const Edge& edge, Node node)
{
    Editor editor(chain);
    if (std::ranges::find(editor.edges(), edge) == editor.edges().end())
        return wrongRequest("There is no path from \"" + edge.from + "\" to \"" + edge.to + "\" any more.");
    editor.putOn(edge, editor.add(std::move(node), "s"));
    return editor.finish();
}

Edited insertBefore(const Chain& chain, const std::string& before, Node node)
{
    Editor editor(chain);
    if (chain.nodes.empty() && before == chain_output) {
        const std::string id = editor.add(std::move(node), "s");
        editor.edges() = {{chain_input, {}, id, {}}, {id, {}, chain_output, {}}};
        return editor.finish();
    }
    const auto edge = editor.oneEdgeInto(before);
    if (!edge)
        return tl::make_unexpected(edge.error());
    editor.putOn(*edge, editor.add(std::move(node), "s"));
    return editor.finish();
}

Edited remove(const Chain& chain, const std::set<std::string>& nodes)
{
    Editor editor(chain);
    // Splits last: of what lies in them it is then known whether it goes as well.
    for (const bool splits : {false, true})
        for (const std::string& id : nodes) {
            const Node* node = editor.find(id);
            const bool is_split = node && (node->kind == NodeKind::Bands || node->kind == NodeKind::MidSide);
            if (!node || is_split != splits)
                continue;
            if (auto removed = editor.removeNode(id); !removed)
                return tl::make_unexpected(removed.error());
        }
    editor.removeLooseEnds();
    editor.removeNeedlessSums();
    return editor.finish();
}

Edited replace(const Chain& chain, const std::string& stage, const std::string& processor,
               const std::string& name, std::vector<processors::Setting> settings)
{
    Editor editor(chain);
    Node* node = editor.find(stage);
    if (!node || node->kind != NodeKind::Stage)
        return notThere(stage);
    node->processor = processor;
    node->name = name;
    node->settings = std::move(settings);
    node->preset.clear(); // which are of the one before
    node->state.clear();
    return editor.finish();
}

Edited move(const Chain& chain, const std::string& id, const std::string& before)
{
    Editor editor(chain);
    const Node* found = editor.find(id);
    if (!found)
        return notThere(id);
    if (before == id)
        return chain;
    if (found->kind != NodeKind::Stage)
        return wrongRequest("\"" + id + "\" is where paths part or meet: its stages can be moved, it cannot.");
    const Node moved = *found;
    const auto keys = [&] {
        std::vector<Edge> wired;
        for (const Edge& edge : editor.edges())
            if (edge.to == id && edge.input == "key")
                wired.push_back(edge);
        return wired;
    }();
    if (auto removed = editor.removeNode(id); !removed)
        return tl::make_unexpected(removed.error());
    if (editor.chain().nodes.empty())
        return chain;
    const auto edge = editor.oneEdgeInto(before);
    if (!edge)
        return tl::make_unexpected(edge.error());
    editor.chain().nodes.push_back(moved);
    editor.putOn(*edge, id);
    for (const Edge& key : keys)
        editor.connect(key.from, key.output, key.to, key.input);
    return editor.finish();
}

Edited moveAll(const Chain& chain, const std::vector<std::string>& nodes, const std::string& before)
{
    const auto moves = [&](const std::string& id) { return std::ranges::find(nodes, id) != nodes.end(); };
    std::string place = before;
    const auto edges = chain.graph().edges;
    while (moves(place)) { // where it stands among them: behind the last of these
        const auto edge = std::ranges::find(edges, place, &Edge::from);
        if (edge == edges.end())
            return notThere(before);
        place = edge->to;
    }
    Edited moved = chain;
    for (const std::string& id : nodes)
        if (moved)
            moved = move(*moved, id, place);
    return moved;
}

Edited step(const Chain& chain, const std::string& id, Along along)
{
    Editor editor(chain);
    if (!editor.find(id))
        return notThere(id);
    const auto neighbours = along == Along::Earlier ? editor.into(id) : editor.from(id);
    const std::string beside = neighbours.size() != 1    ? std::string()
                               : along == Along::Earlier ? neighbours.front().from
                                                         : neighbours.front().to;
    const Node* neighbour = editor.find(beside);
    if (!neighbour || neighbour->kind != NodeKind::Stage)
        return wrongRequest(along == Along::Earlier ? "It is the first on its path."
                                                    : "It is the last on its path.");
    return along == Along::Earlier ? move(chain, id, beside) : move(chain, beside, id);
}

Edited putBeside(const Chain& chain, const std::string& id, Node stage)
{
    Editor editor(chain);
    if (!editor.find(id))
        return notThere(id);
    const auto edge = editor.oneEdgeInto(id);
    if (!edge)
        return tl::make_unexpected(edge.error());
    const auto behind = editor.from(id);
    const std::string branch = editor.add(NodeKind::Branch, "br");
    const std::string beside = editor.add(std::move(stage), "s");
    const std::string sum = editor.add(NodeKind::Sum, "sum");
    editor.connect(edge->from, edge->output, branch);
    editor.connect(branch, {}, beside);
    for (const Edge& out : behind) {
        editor.erase(out);
        editor.connect(sum, {}, out.to, out.input);
    }
    editor.connect(id, {}, sum);
    editor.connect(beside, {}, sum);
    return editor.finish();
}

namespace {

/// `node` on one output of a split, all others past it, and together again behind it.
Edited splitAround(const Chain& chain, const std::string& id, Node split, const std::string& prefix,
                   NodeKind meeting, std::size_t output)
{
    Editor editor(chain);
    const Node* node = editor.find(id);
    if (!node)
        return notThere(id);
    if (node->kind != NodeKind::Stage)
        return wrongRequest("Only what goes into a stage can be split.");
    const auto edge = editor.oneEdgeInto(id);
    if (!edge)
        return tl::make_unexpected(edge.error());
    const auto behind = editor.from(id);
    const processors::Node wired{"", split.kind, split.crossovers_hz.size() + 1};
    const auto outputs = processors::outputsOf(wired);
    if (output >= outputs.size())
        return wrongRequest("There is no such band.");
    const std::string parts = editor.add(std::move(split), prefix);
    const std::string met = editor.add(meeting, meeting == NodeKind::Rejoin ? "rejoin" : "sum");
    editor.erase(*edge);
    editor.connect(edge->from, edge->output, parts);
    for (const Edge& out : behind) {
        editor.erase(out);
        editor.connect(met, {}, out.to, out.input);
    }
    for (std::size_t o = 0; o < outputs.size(); ++o) {
        const std::string input = meeting == NodeKind::Rejoin ? outputs[o] : "";
        if (o != output) {
            editor.connect(parts, outputs[o], met, input);
            continue;
        }
        editor.connect(parts, outputs[o], id);
        editor.connect(id, {}, met, input);
    }
    return editor.finish();
}

} // namespace

Edited splitIntoBands(const Chain& chain, const std::string& id, const std::vector<double>& crossovers_hz,
                      std::size_t band)
{
    if (crossovers_hz.empty() || crossovers_hz.size() >= processors::most_bands ||
        !std::ranges::is_sorted(crossovers_hz) || crossovers_hz.front() < 20 || crossovers_hz.back() > 20000)
        return wrongRequest("Bands need 1 to " + std::to_string(processors::most_bands - 1) +
                            " crossovers from 20 Hz to 20 kHz that ascend.");
    Node bands;
    bands.kind = NodeKind::Bands;
    bands.crossovers_hz = crossovers_hz;
    return splitAround(chain, id, std::move(bands), "b", NodeKind::Sum, band);
}

Edited splitIntoMidAndSide(const Chain& chain, const std::string& id)
{
    Node parts;
    parts.kind = NodeKind::MidSide;
    return splitAround(chain, id, std::move(parts), "ms", NodeKind::Rejoin, 0);
}

Edited sendFrom(const Chain& chain, const std::string& id, Node stage)
{
    Editor editor(chain);
    const Node* node = editor.find(id);
    if (!node)
        return notThere(id);
    if (node->kind == NodeKind::Bands || node->kind == NodeKind::MidSide)
        return wrongRequest("A send needs one path to be fed from: choose a stage.");
    const auto out = editor.oneEdgeInto(chain_output);
    if (!out)
        return tl::make_unexpected(out.error());
    stage.blend_percent = 100;
    const std::string send = editor.add(NodeKind::Send, "send");
    const std::string effect = editor.add(std::move(stage), "s");
    const std::string back = editor.add(NodeKind::Return, "return");
    const std::string sum = editor.add(NodeKind::Sum, "sum");
    editor.putOn(*out, sum);
    editor.connect(id, {}, send);
    editor.connect(send, {}, effect);
    editor.connect(effect, {}, back);
    editor.connect(back, {}, sum);
    return editor.finish();
}

Edited paste(const Chain& chain, const std::string& before, const Chain& pasted)
{
    if (pasted.nodes.empty())
        return chain;
    Editor editor(chain);
    const bool into_empty = chain.nodes.empty();
    auto edge = into_empty ? Result<Edge>(Edge{chain_input, {}, chain_output, {}}) : editor.oneEdgeInto(before);
    if (!edge)
        return tl::make_unexpected(edge.error());
    editor.erase(*edge);
    std::map<std::string, std::string> ids;
    for (const Node& node : pasted.nodes)
        ids[node.id] = editor.add(node, node.kind == NodeKind::Stage ? "s" : word(node.kind));
    // What left the other chain goes where this path went; several paths through a sum.
    auto inner = pasted.graph().edges;
    const auto leaving = std::ranges::count(inner, std::string(chain_output), &Edge::to);
    const bool sums = leaving > 1;
    const std::string last = sums ? editor.add(NodeKind::Sum, "sum") : std::string();
    if (sums)
        editor.connect(last, {}, edge->to, edge->input);
    for (const Edge& one : inner) {
        const std::string from = one.from == chain_input ? edge->from : ids[one.from];
        const std::string output = one.from == chain_input ? edge->output : one.output;
        if (one.to != chain_output)
            editor.connect(from, output, ids[one.to], one.input);
        else if (sums)
            editor.connect(from, output, last);
        else
            editor.connect(from, output, edge->to, edge->input);
    }
    return editor.finish();
}

Edited copyOf(const Chain& chain, const std::set<std::string>& nodes)
{
    Chain copy;
    copy.name = chain.name;
    for (const Node& node : chain.nodes)
        if (nodes.contains(node.id) && node.kind == NodeKind::Stage)
            copy.nodes.push_back(node);
    copy.next_node = chain.next_node;
    if (copy.nodes.empty())
        return wrongRequest("Nothing is chosen that can be copied: choose stages.");
    return copy;
}

} // namespace hr::chain
