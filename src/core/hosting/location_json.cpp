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
             {"preset", location.preset},
             {"name", location.name},
             {"network", permissions.network},
             {"folder", pathText(permissions.folder)},
             {"nodes", json::array()},
             {"edges", json::array()},
             {"stages", json::array()}};
    for (const processors::Node& node : location.graph.nodes)
        all["nodes"].push_back({{"id", node.id}, {"kind", word(node.kind)}, {"bands", node.bands}});
    for (const processors::Edge& edge : location.graph.edges)
        all["edges"].push_back({edge.from, edge.output, edge.to, edge.input});
    for (const StagePlace& stage : location.stages)
        all["stages"].push_back({{"node", stage.node},
                                 {"id", stage.id},
                                 {"bundle", pathText(stage.bundle)},
                                 {"preset", stage.preset}});
    return all;
}

Location locationFromJson(const json& from)
{
    Location location{from.at("id"), pathFrom(from.at("bundle")), from.at("preset")};
    location.permissions = {from.at("network"), pathFrom(from.at("folder"))};
    location.name = from.at("name");
    for (const json& node : from.at("nodes"))
        location.graph.nodes.push_back(
            {node.at("id"), processors::nodeKind(node.at("kind")).value(), node.at("bands")});
    for (const json& edge : from.at("edges"))
        location.graph.edges.push_back({edge.at(0), edge.at(1), edge.at(2), edge.at(3)});
    for (const json& stage : from.at("stages"))
        location.stages.push_back({stage.at("node"), stage.at("id"), pathFrom(stage.at("bundle")),
                                   stage.at("preset"), location.permissions});
    return location;
}

} // namespace hr::hosting
