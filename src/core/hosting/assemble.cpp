// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/assemble.h"

#include "processors/reference/registry.h"
#include "processors/stereo_adapter.h"

#include <algorithm>

namespace hr::hosting {

using processors::Network;
using processors::NodeKind;
using processors::Processor;
using processors::StereoAdapter;

namespace {

FaultOr<std::unique_ptr<Processor>> madeStereo(const Location& location, const LoadOne& load)
{
    auto first = load(location);
    if (!first)
        return first;
    std::unique_ptr<Processor> second;
    if (StereoAdapter::needsTwo((*first)->info())) {
        auto loaded = load(location);
        if (!loaded)
            return loaded;
        second = std::move(*loaded);
    }
    return std::make_unique<StereoAdapter>(std::move(*first), std::move(second));
}

FaultOr<std::unique_ptr<Processor>> chainOf(const Location& location, const LoadOne& load,
                                            std::atomic<std::uint32_t>* running)
{
    Network::Stages stages;
    for (const StagePlace& place : location.stages) {
        if (isMissing(place))
            continue;
        const auto node = static_cast<std::size_t>(
            std::ranges::find(location.graph.nodes, place.node, &processors::Node::id) -
            location.graph.nodes.begin());
        if (running)
            running->store(static_cast<std::uint32_t>(node + 1), std::memory_order_relaxed);
        auto stage = madeStereo(locationOf(place), load);
        if (!stage) {
            Fault named = stage.error();
            named.detail = stageName(location, node) + ": " + named.detail;
            return tl::make_unexpected(named);
        }
        stages[place.node] = std::move(*stage);
    }
    if (running)
        running->store(0, std::memory_order_relaxed);
    auto network = Network::make(location.id, location.name, location.graph, std::move(stages));
    if (!network)
        return fault(Phase::Load, Cause::InvalidDescription, network.error().text);
    (*network)->tellRunning(running);
    return std::move(*network);
}

} // namespace

bool isMissing(const StagePlace& stage)
{
    return stage.bundle.empty() && !processors::isReferenceId(stage.id);
}

Permissions permissionsOf(const Location& location)
{
    if (!location.isChain())
        return location.permissions;
    std::optional<Permissions> common;
    for (const StagePlace& stage : location.stages) {
        if (isMissing(stage) || processors::isReferenceId(stage.id))
            continue;
        if (!common)
            common = stage.permissions;
        common->network = common->network && stage.permissions.network;
        if (common->folder != stage.permissions.folder)
            common->folder.clear();
    }
    return common.value_or(Permissions());
}

std::string stageName(const Location& location, std::size_t node)
{
    const auto& nodes = location.graph.nodes;
    if (node >= nodes.size() || nodes[node].kind != NodeKind::Stage)
        return {};
    const auto count = std::count_if(nodes.begin(), nodes.begin() + static_cast<std::ptrdiff_t>(node) + 1,
                                     [](const auto& n) { return n.kind == NodeKind::Stage; });
    const auto place = std::ranges::find(location.stages, nodes[node].id, &StagePlace::node);
    return "stage " + std::to_string(count) + (place == location.stages.end() ? "" : ", " + place->id);
}

FaultOr<std::unique_ptr<Processor>> assemble(const Location& location, Channels channels, const LoadOne& load,
                                             std::atomic<std::uint32_t>* running)
{
    if (location.isChain())
        return chainOf(location, load, running);
    return channels == Channels::Stereo ? madeStereo(location, load) : load(location);
}

} // namespace hr::hosting
