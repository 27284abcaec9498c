// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/drawing.h"

#include "chain/part.h"

#include <algorithm>

namespace hr::chain {

namespace {

using processors::chain_input;
using processors::chain_output;

/// Which lanes have a path under way in them.
class Lanes {
public:
    int takeLowest()
    {
        const auto lane = static_cast<int>(std::ranges::find(m_taken, false) - m_taken.begin());
        take(lane);
        return lane;
    }
    void take(int lane)
    {
        if (count() <= lane)
            m_taken.resize(static_cast<std::size_t>(lane) + 1);
        m_taken[static_cast<std::size_t>(lane)] = true;
    }
    void free(int lane) { m_taken[static_cast<std::size_t>(lane)] = false; }
    int count() const { return static_cast<int>(m_taken.size()); }

private:
    std::vector<bool> m_taken;
};

/// What goes on with the sound stays in the lane; what only passes by, and what is tapped off, leaves it.
int leavesLane(const Chain& chain, const Edge& edge)
{
    const Node* to = chain.node(edge.to);
    if (edge.input == "key")
        return 2;
    if (!to)
        return 0;
    switch (to->kind) {
    case NodeKind::Send:
    case NodeKind::Branch:
    case NodeKind::Key:
        return 2;
    case NodeKind::Sum:
    case NodeKind::Rejoin:
        return 1;
    default:
        return 0;
    }
}

class Drawer {
public:
    explicit Drawer(const Chain& chain) : m_chain(chain)
    {
        for (const Edge& edge : chain.graph().edges)
            m_drawing.paths.push_back({edge});
    }

    void put(const std::string& id)
    {
        const auto column = static_cast<int>(m_drawing.nodes.size());
        int lane = 0;
        bool fed = false;
        for (const bool keys : {false, true})
            for (DrawnPath& path : m_drawing.paths) {
                if (path.edge.to != id || path.isKey() != keys)
                    continue;
                lane = !fed || (!keys && path.lane < lane) ? path.lane : lane;
                fed = true;
                m_lanes.free(path.lane);
            }
        for (DrawnPath& path : m_drawing.paths)
            if (path.edge.to == id) {
                path.to_column = column;
                path.to_lane = lane;
            }
        m_drawing.nodes.push_back({id, column, lane});
        startPaths(id, column, lane);
        m_drawing.lanes = std::max({m_drawing.lanes, m_lanes.count(), lane + 1});
    }

    Drawing take() { return std::move(m_drawing); }

private:
    void startPaths(const std::string& id, int column, int lane)
    {
        std::vector<std::size_t> out;
        for (std::size_t i = 0; i < m_drawing.paths.size(); ++i)
            if (m_drawing.paths[i].edge.from == id)
                out.push_back(i);
        std::ranges::stable_sort(
            out, {}, [this](std::size_t i) { return leavesLane(m_chain, m_drawing.paths[i].edge); });
        for (const std::size_t i : out) {
            DrawnPath& path = m_drawing.paths[i];
            path.from_column = column;
            path.from_lane = lane;
            path.lane = i == out.front() ? lane : m_lanes.takeLowest();
            m_lanes.take(path.lane);
        }
    }

    const Chain& m_chain;
    Drawing m_drawing;
    Lanes m_lanes;
};

} // namespace

Result<Drawing> drawingOf(const Chain& chain)
{
    std::vector<std::string> nodes;
    if (!chain.nodes.empty()) {
        auto schedule = scheduleOf(chain);
        if (!schedule)
            return tl::make_unexpected(schedule.error());
        nodes = std::move(*schedule);
    }
    Drawer drawer(chain);
    drawer.put(chain_input);
    for (const std::string& node : nodes)
        drawer.put(node);
    drawer.put(chain_output);
    return drawer.take();
}

} // namespace hr::chain
