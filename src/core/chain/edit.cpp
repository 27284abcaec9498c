// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/edit.h"

#include <algorithm>
#include <cassert>
#include <map>

namespace hr::chain {

using processors::chain_input;
using processors::chain_output;

namespace {

/// A chain with all its edges, on its way to another.
class Editor {
public:
    explicit Editor(const Chain& chain) : m_chain(chain) { m_chain.edges = chain.graph().edges; }

    Chain& chain() { return m_chain; }
    std::vector<Edge>& edges() { return m_chain.edges; }

    Node* find(const std::string& id)
    {
        const auto found = std::ranges::find(m_chain.nodes, id, &Node::id);
        return found == m_chain.nodes.end() ? nullptr : &*found;
    }

    /// Under a new id, beside the other nodes: not wired yet. References to nodes end here.
    std::string add(Node node, const std::string& prefix)
    {
        do
            node.id = prefix + std::to_string(m_chain.next_node++);
        while (find(node.id));
        m_chain.nodes.push_back(std::move(node));
        return m_chain.nodes.back().id;
    }
    std::string add(NodeKind kind, const std::string& prefix)
    {
        Node node;
        node.kind = kind;
        return add(std::move(node), prefix);
    }

    void connect(const std::string& from, const std::string& output, const std::string& to,
                 const std::string& input = {})
    {
        const Edge edge{from, output, to, input};
        if (std::ranges::find(edges(), edge) == edges().end()) // twice would be twice as loud
            edges().push_back(edge);
    }

    /// Edges into the main input, or inputs, of a node or the chain's output; not into its key.
    std::vector<Edge> into(const std::string& id) const
    {
        return edgesWhere([&](const Edge& edge) { return edge.to == id && edge.input != "key"; });
    }
    std::vector<Edge> from(const std::string& id) const
    {
        return edgesWhere([&](const Edge& edge) { return edge.from == id; });
    }

    void erase(const Edge& edge) { std::erase(edges(), edge); }

    /// `node` on this edge.
    void putOn(const Edge& edge, const std::string& node)
    {
        erase(edge);
        connect(edge.from, edge.output, node);
        connect(node, {}, edge.to, edge.input);
    }

    /// One edge into `id`: where there are several, behind a sum that is made for them.
    Result<Edge> oneEdgeInto(const std::string& id)
    {
        if (id != chain_output && !find(id))
            return wrongRequest("There is no \"" + id + "\" in the chain any more.");
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

    /// Everything that its outputs reach.
    std::set<std::string> reachable(const std::string& id) const
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

    void takeOut(const std::string& id)
    {
        std::erase_if(edges(), [&](const Edge& edge) { return edge.from == id || edge.to == id; });
        std::erase_if(m_chain.nodes, [&](const Node& node) { return node.id == id; });
    }

    /// What is before it is joined with what is behind it.
    Result<void> removeNode(const std::string& id)
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

    /// Whoever feeds only what is gone goes, too; and a path that reaches nothing.
    void removeLooseEnds()
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

    /// A sum of one path is none.
    void removeNeedlessSums()
    {
        for (bool again = true; again;) {
            const auto needless = std::ranges::find_if(m_chain.nodes, [this](const Node& node) {
                return node.kind == NodeKind::Sum && node.level_db == 0 && node.purpose.empty() &&
                       into(node.id).size() == 1;
            });
            again = needless != m_chain.nodes.end() && removeNode(std::string(needless->id)).has_value();
        }
    }

    /// Whole and in order, or why it does not run.
    Edited finish()
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

private:
    template<class Which>
    std::vector<Edge> edgesWhere(Which which) const
    {
        std::vector<Edge> found;
        std::ranges::copy_if(m_chain.edges, std::back_inserter(found), which);
        return found;
    }

    bool takesSeveral(const Edge& edge)
    {
        const Node* node = find(edge.to);
        return edge.to == chain_output || (node && processors::sums(node->kind));
    }

    /// The first node, as they run, that all paths from `id` lead through; the chain's output where there is
    /// none.
    std::string meeting(const std::string& id)
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
    Result<void> removeSplit(const std::string& id)
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

    Chain m_chain;
};

tl::unexpected<Error> notThere(const std::string& id)
{
    return wrongRequest("There is no \"" + id + "\" in the chain any more.");
}

} // namespace

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
               const std::string& name)
{
    Editor editor(chain);
    Node* node = editor.find(stage);
    if (!node || node->kind != NodeKind::Stage)
        return notThere(stage);
    node->processor = processor;
    node->name = name;
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
