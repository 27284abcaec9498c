// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/location_json.h"

#include "hosting/path_text.h"

namespace hr::hosting {

using nlohmann::json;

json toJson(const Location& location)
{
    const Permissions permissions = permissionsOf(location);
    json all{{"id", location.id},
             {"bundle", pathText(location.bundle)},
             {"name", location.name},
             {"network", permissions.network},
             {"folder", pathText(permissions.folder)},
             {"readable", pathText(permissions.readable)},
             {"nodes", json::array()},
             {"edges", json::array()},
             {"stages", json::array()}};
    for (const processors::Node& node : location.graph.nodes)
        all["nodes"].push_back({{"id", node.id}, {"kind", word(node.kind)}, {"bands", node.bands}});
    for (const processors::Edge& edge : location.graph.edges)
        all["edges"].push_back({edge.from, edge.output, edge.to, edge.input});
    for (const StagePlace& stage : location.stages)
        all["stages"].push_back({{"node", stage.node}, {"id", stage.id}, {"bundle", pathText(stage.bundle)}});
    return all;
}

Location locationFromJson(const json& from)
{
    Location location{from.at("id"), pathFrom(from.at("bundle"))};
    location.permissions = {from.at("network"), pathFrom(from.at("folder")), pathFrom(from.at("readable"))};
    location.name = from.at("name");
    for (const json& node : from.at("nodes"))
        location.graph.nodes.push_back(
            {node.at("id"), processors::nodeKind(node.at("kind")).value(), node.at("bands")});
    for (const json& edge : from.at("edges"))
        location.graph.edges.push_back({edge.at(0), edge.at(1), edge.at(2), edge.at(3)});
    for (const json& stage : from.at("stages"))
        location.stages.push_back(
            {stage.at("node"), stage.at("id"), pathFrom(stage.at("bundle")), {}, location.permissions});
    return location;
}

} // namespace hr::hosting
