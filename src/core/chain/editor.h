// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain that is being rewired: what the edits of chain/edit.h are made of.
//
//     Editor editor(chain);
//     if (auto edge = editor.oneEdgeInto("s3"))
//         editor.putOn(*edge, editor.add(std::move(stage), "s"));
//     return editor.finish();
#pragma once

#include "chain/edit.h"

#include <algorithm>
#include <iterator>

namespace hr::chain {

/// "There is no "s3" in the chain any more."
tl::unexpected<Error> notThere(const std::string& id);

/// A chain with all its edges, on its way to another.
class Editor {
public:
    explicit Editor(const Chain& chain) : m_chain(chain) { m_chain.edges = chain.graph().edges; }

    Chain& chain() { return m_chain; }
    std::vector<Edge>& edges() { return m_chain.edges; }
    Node* find(const std::string& id); ///< null: it is not there

    /// Under a new id, beside the other nodes: not wired yet. References to nodes end here.
    std::string add(Node node, const std::string& prefix);
    std::string add(NodeKind kind, const std::string& prefix);

    void connect(const std::string& from, const std::string& output, const std::string& to,
                 const std::string& input = {});
    void erase(const Edge& edge) { std::erase(edges(), edge); }
    /// `node` on this edge.
    void putOn(const Edge& edge, const std::string& node);

    /// Edges into the main input, or inputs, of a node or the chain's output; not into its key.
    std::vector<Edge> into(const std::string& id) const;
    std::vector<Edge> from(const std::string& id) const;
    /// One edge into `id`: where there are several, behind a sum that is made for them.
    Result<Edge> oneEdgeInto(const std::string& id);

    /// Everything that its outputs reach.
    std::set<std::string> reachable(const std::string& id) const;

    /// What is before it is joined with what is behind it. Of a split, see remove() of chain/edit.h.
    Result<void> removeNode(const std::string& id);
    /// Whoever feeds only what is gone goes, too; and a path that reaches nothing.
    void removeLooseEnds();
    /// A sum of one path is none.
    void removeNeedlessSums();

    /// Whole and in order, or why it does not run. Nothing else may be asked of it afterwards.
    Edited finish();

private:
    template<class Which>
    std::vector<Edge> edgesWhere(Which which) const
    {
        std::vector<Edge> found;
        std::ranges::copy_if(m_chain.edges, std::back_inserter(found), which);
        return found;
    }
    std::string meeting(const std::string& id);
    bool takesSeveral(const Edge& edge);
    void takeOut(const std::string& id);
    Result<void> removeSplit(const std::string& id);

    Chain m_chain;
};

} // namespace hr::chain
