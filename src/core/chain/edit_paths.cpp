// SPDX-License-Identifier: GPL-3.0-or-later
//
// Edits of where paths lead: their ends, and what key inputs listen to.
#include "chain/editor.h"

namespace hr::chain {

using processors::chain_input;
using processors::chain_output;
using processors::KeySource;

namespace {

/// For people: what they called it, else its processor, else its id.
std::string called(const Node& node)
{
    return !node.purpose.empty() ? node.purpose : !node.name.empty() ? node.name : node.id;
}

/// What feeds the key of a stage, and nothing else, goes.
void dropKey(Editor& editor, const std::string& stage)
{
    std::erase_if(editor.edges(), [&](const Edge& edge) { return edge.to == stage && edge.input == "key"; });
    editor.removeLooseEnds();
}

/// What no path leads out of any more, or into, is not given up for a path that is led elsewhere.
Result<void> nothingIsLeftHanging(Editor& editor, const Edge& path)
{
    const Node* from = editor.find(path.from);
    if (from && from->kind != NodeKind::Key && editor.from(path.from).empty())
        return wrongRequest("What comes out of \"" + called(*from) +
                            "\" would lead nowhere: it needs another path first, or remove it.");
    if (const Node* to = editor.find(path.to); to && path.input != "key" && editor.into(path.to).empty())
        return wrongRequest("Nothing would feed \"" + called(*to) +
                            "\" any more: it needs another path first, or remove it.");
    return {};
}

} // namespace

Edited lead(const Chain& chain, const Edge& path, const Edge& as)
{
    Editor editor(chain);
    if (std::ranges::find(editor.edges(), path) == editor.edges().end())
        return wrongRequest("There is no such path any more.");
    const bool key_moves = as.input == "key";
    for (const std::string& end : {as.from, as.to})
        if (end != chain_input && end != chain_output && !editor.find(end))
            return notThere(end);
    if (as == path)
        return chain;
    editor.erase(path);
    if (as.from == as.to || editor.reachable(as.to).contains(as.from))
        return wrongRequest("The sound would go in a circle: a path leads to what runs later.");
    if (Node* kept = editor.find(path.to); kept && path.input == "key" && as.to != path.to)
        kept->key = KeySource::Own;
    if (key_moves) {
        std::erase_if(editor.edges(),
                      [&](const Edge& edge) { return edge.to == as.to && edge.input == "key"; });
        editor.connect(as.from, as.output, as.to, as.input);
        editor.find(as.to)->key = KeySource::Wired;
    } else if (const Node* to = editor.find(as.to); to && to->kind == NodeKind::Stage) {
        const std::string sum = editor.add(NodeKind::Sum, "sum");
        for (const Edge& before : editor.into(as.to))
            editor.putOn(before, sum);
        if (editor.into(as.to).empty())
            editor.connect(sum, {}, as.to);
        editor.connect(as.from, as.output, sum);
    } else {
        editor.connect(as.from, as.output, as.to, as.input);
    }
    if (auto good = nothingIsLeftHanging(editor, path); !good)
        return tl::make_unexpected(good.error());
    editor.removeLooseEnds();
    editor.removeNeedlessSums();
    return editor.finish();
}

Edited keyFrom(const Chain& chain, const std::string& stage, const std::string& from)
{
    Editor editor(chain);
    Node* node = editor.find(stage);
    if (!node || node->kind != NodeKind::Stage)
        return notThere(stage);
    node->key = KeySource::Wired;
    const Node* source = editor.find(from);
    if (from != chain_input && !source)
        return notThere(from);
    if (source && (source->kind == NodeKind::Bands || source->kind == NodeKind::MidSide))
        return wrongRequest("A key needs one path to listen to: choose a stage.");
    if (from == stage || editor.reachable(stage).contains(from))
        return wrongRequest("The key cannot be what comes behind the stage itself: choose an earlier point.");
    dropKey(editor, stage);
    const std::string key = editor.add(NodeKind::Key, "key");
    editor.connect(from, {}, key);
    editor.connect(key, {}, stage, "key");
    return editor.finish();
}

Edited setKey(const Chain& chain, const std::string& stage, KeySource source)
{
    Editor editor(chain);
    Node* node = editor.find(stage);
    if (!node || node->kind != NodeKind::Stage)
        return notThere(stage);
    node->key = source;
    dropKey(editor, stage);
    return editor.finish();
}

} // namespace hr::chain
