// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/assemble.h"

#include "processors/reference/registry.h"
#include "processors/states.h"
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

std::unique_ptr<Processor> takeFrom(LoadedStages& kept, const StagePlace& place)
{
    // The one of the same node first: it may remember what another of its kind should not.
    auto found = std::ranges::find_if(kept, [&](const LoadedStage& stage) {
        return stage.place.node == place.node && isSameProcessor(stage.place, place);
    });
    if (found == kept.end())
        found = std::ranges::find_if(
            kept, [&](const LoadedStage& stage) { return isSameProcessor(stage.place, place); });
    if (found == kept.end())
        return nullptr;
    auto processor = std::move(found->processor);
    kept.erase(found);
    return processor;
}

FaultOr<std::unique_ptr<Processor>> chainOf(const Location& location, const LoadOne& load,
                                            const processors::NetworkWatch& watch, LoadedStages kept)
{
    Network::Stages stages;
    for (const StagePlace& place : location.stages) {
        if (isMissing(place))
            continue;
        if (auto there = takeFrom(kept, place)) {
            stages[place.node] = std::move(there);
            continue;
        }
        const auto node = static_cast<std::size_t>(
            std::ranges::find(location.graph.nodes, place.node, &processors::Node::id) -
            location.graph.nodes.begin());
        if (watch.running)
            watch.running->store(static_cast<std::uint32_t>(node + 1), std::memory_order_relaxed);
        auto stage = madeStereo(locationOf(place), load);
        if (!stage) {
            Fault named = stage.error();
            named.detail = stageName(location, node) + ": " + named.detail;
            return tl::make_unexpected(named);
        }
        stages[place.node] = std::move(*stage);
    }
    if (watch.running)
        watch.running->store(0, std::memory_order_relaxed);
    auto network = Network::make(location.id, location.name, location.graph, std::move(stages));
    if (!network)
        return fault(Phase::Load, Cause::InvalidDescription, network.error().text);
    (*network)->tell(watch);
    return std::move(*network);
}

} // namespace

bool isSameProcessor(const StagePlace& a, const StagePlace& b)
{
    return a.id == b.id && a.bundle == b.bundle;
}

LoadedStages takeStages(std::unique_ptr<Processor> chain, const Location& location)
{
    LoadedStages loaded;
    auto* network = location.isChain() ? static_cast<Network*>(chain.get()) : nullptr;
    if (!network)
        return loaded;
    for (auto& [node, processor] : network->takeStages()) {
        const auto place = std::ranges::find(location.stages, node, &StagePlace::node);
        if (place != location.stages.end())
            loaded.push_back({*place, std::move(processor)});
    }
    return loaded;
}

bool isMissing(const StagePlace& stage)
{
    return stage.bundle.empty() && !processors::isReferenceId(stage.id);
}

std::string stateOf(const Location& location)
{
    if (!location.isChain())
        return location.state;
    processors::States states;
    for (const StagePlace& stage : location.stages)
        states[stage.node] = stage.state;
    return processors::packed(states);
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
        if (common->readable != stage.permissions.readable)
            common->readable.clear();
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
                                             const processors::NetworkWatch& watch, LoadedStages kept)
{
    if (location.isChain())
        return chainOf(location, load, watch, std::move(kept));
    return channels == Channels::Stereo ? madeStereo(location, load) : load(location);
}

} // namespace hr::hosting
