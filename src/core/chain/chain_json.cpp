// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain_json.h"

#include "chain/fields.h"
#include "processors/json_text.h"
#include "processors/processor.h"
#include "processors/states.h"

#include <algorithm>
#include <array>

namespace hr::chain {

using nlohmann::ordered_json;
using processors::KeySource;

namespace {

constexpr std::array<std::pair<KeySource, const char*>, 4> key_words{{{KeySource::None, "none"},
                                                                      {KeySource::Own, "own"},
                                                                      {KeySource::Chain, "chain"},
                                                                      {KeySource::Wired, "wired"}}};

Result<void> readKey(const ordered_json& json, KeySource& key)
{
    if (!json.contains("key"))
        return {};
    const auto found = std::ranges::find(key_words, textIn(json, "key"),
                                         [](const auto& entry) { return std::string(entry.second); });
    if (found == key_words.end())
        return wrongRequest("has a \"key\" that is none of none, own, chain and wired");
    key = found->first;
    return {};
}

Result<void> readSettings(const ordered_json& json, std::vector<processors::Setting>& settings)
{
    const auto found = json.find("settings");
    if (found == json.end())
        return {};
    if (!found->is_object())
        return wrongRequest("has \"settings\" that are not an object");
    for (const auto& [key, value] : found->items()) {
        if (!value.is_number())
            return wrongRequest("has a setting \"" + key + "\" that is not a number");
        settings.push_back({key, value.get<double>()});
    }
    return {};
}

/// What versions 1 and 2 write alike. `processor_key` is what the processor's id stands under.
Result<Node> stageFrom(const ordered_json& json, const char* processor_key)
{
    if (!json.is_object() || textIn(json, processor_key).empty())
        return wrongRequest(std::string("has no \"") + processor_key + "\"");
    Node stage;
    stage.processor = textIn(json, processor_key);
    stage.name = textIn(json, "name");
    stage.preset = textIn(json, "preset");
    stage.purpose = textIn(json, "purpose");
    stage.phase = textIn(json, "phase");
    const auto state = processors::fromBase64(textIn(json, "state"));
    if (!state || state->size() > processors::longest_state_bytes)
        return wrongRequest("has a \"state\" that cannot be read");
    stage.state = *state;
    const auto read = all({readFlag(json, "on", stage.on), readFlag(json, "may_move", stage.may_move),
                           readNumber(json, "blend_percent", 0, 100, stage.blend_percent),
                           readNumber(json, "trim_db", -60, 24, stage.trim_db), readKey(json, stage.key),
                           readSettings(json, stage.settings)});
    return read ? Result<Node>(std::move(stage)) : tl::make_unexpected(read.error());
}

Result<void> readCrossovers(const ordered_json& json, std::vector<double>& crossovers_hz)
{
    const auto found = json.find("crossovers_hz");
    const bool listed =
        found != json.end() && found->is_array() && !found->empty() && found->size() < processors::most_bands;
    if (!listed || std::ranges::any_of(*found, [](const auto& one) {
            return !one.is_number() || !(one.template get<double>() >= 20) ||
                   !(one.template get<double>() <= 20000);
        }))
        return wrongRequest("must have \"crossovers_hz\", a list of 1 to " +
                            std::to_string(processors::most_bands - 1) + " numbers from 20 to 20000");
    crossovers_hz = found->get<std::vector<double>>();
    if (!std::ranges::is_sorted(crossovers_hz))
        return wrongRequest("has \"crossovers_hz\" that do not ascend");
    return {};
}

/// Of version 2.
Result<Node> nodeFrom(const ordered_json& json)
{
    if (!json.is_object() || textIn(json, "id").empty())
        return wrongRequest("has no \"id\"");
    const auto kind = processors::nodeKind(json.contains("kind") ? textIn(json, "kind") : "stage");
    if (!kind)
        return wrongRequest("is of a \"kind\" that this version does not know");
    if (*kind == NodeKind::Stage) {
        auto stage = stageFrom(json, "processor");
        if (stage)
            stage->id = textIn(json, "id");
        return stage;
    }
    Node node;
    node.id = textIn(json, "id");
    node.kind = *kind;
    node.purpose = textIn(json, "purpose");
    const auto read =
        all({readFlag(json, "on", node.on), readNumber(json, "level_db", -60, 24, node.level_db),
             readNumber(json, "low_cut_hz", 0, 20000, node.low_cut_hz),
             readNumber(json, "high_cut_hz", 0, 20000, node.high_cut_hz),
             *kind == NodeKind::Bands ? readCrossovers(json, node.crossovers_hz) : Result<void>()});
    return read ? Result<Node>(std::move(node)) : tl::make_unexpected(read.error());
}

Result<Edge> edgeFrom(const ordered_json& json)
{
    if (!json.is_object() || textIn(json, "from").empty() || textIn(json, "to").empty())
        return wrongRequest("An edge lacks its \"from\" or its \"to\".");
    return Edge{textIn(json, "from"), textIn(json, "output"), textIn(json, "to"), textIn(json, "input")};
}

Result<Chain> firstVersion(const ordered_json& document)
{
    const auto& list = document.value("stages", ordered_json());
    if (!list.is_array() || list.empty())
        return wrongRequest("It is damaged: it has no list of stages.");
    if (list.size() > most_stages)
        return wrongRequest("It has " + std::to_string(list.size()) + " stages; a chain has at most " +
                            std::to_string(most_stages) + ".");
    Chain chain{textIn(document, "name"), {}};
    for (const ordered_json& one : list) {
        auto stage = stageFrom(one, "id");
        if (!stage)
            return wrongRequest("Stage " + std::to_string(chain.next_node) + " " + stage.error().text + ".");
        stage->id = "s" + std::to_string(chain.next_node++);
        chain.nodes.push_back(std::move(*stage));
    }
    return chain;
}

Result<void> readEdges(const ordered_json& document, Chain& chain)
{
    const auto edges = document.find("edges");
    if (edges == document.end())
        return {};
    if (!edges->is_array() || edges->empty())
        return wrongRequest("It is damaged: its \"edges\" are not a list.");
    for (const ordered_json& one : *edges) {
        auto edge = edgeFrom(one);
        if (!edge)
            return tl::make_unexpected(edge.error());
        chain.edges.push_back(std::move(*edge));
    }
    return {};
}

/// An edge into a key input is what it listens to, unless the file says otherwise.
Result<void> wireKeys(const ordered_json& nodes, Chain& chain)
{
    for (std::size_t n = 0; n < chain.nodes.size(); ++n) {
        Node& node = chain.nodes[n];
        const bool wired = std::ranges::any_of(
            chain.edges, [&](const Edge& edge) { return edge.to == node.id && edge.input == "key"; });
        if (wired && !nodes[n].contains("key"))
            node.key = KeySource::Wired;
        if (!wired && node.key == KeySource::Wired)
            return wrongRequest("The \"key\" of \"" + node.id + "\" is wired, but no edge goes there.");
    }
    return {};
}

Result<Chain> secondVersion(const ordered_json& document)
{
    const auto& list = document.value("nodes", ordered_json());
    if (!list.is_array())
        return wrongRequest("It is damaged: it has no list of nodes.");
    if (list.size() > most_nodes)
        return wrongRequest("It has " + std::to_string(list.size()) + " nodes; a chain has at most " +
                            std::to_string(most_nodes) + ".");
    Chain chain{textIn(document, "name"), {}};
    for (const ordered_json& one : list) {
        auto node = nodeFrom(one);
        if (!node)
            return wrongRequest("Node " + std::to_string(chain.nodes.size() + 1) + " " + node.error().text +
                                ".");
        chain.nodes.push_back(std::move(*node));
    }
    if (const std::size_t stages = stageCount(chain); stages > most_stages)
        return wrongRequest("It has " + std::to_string(stages) + " stages; a chain has at most " +
                            std::to_string(most_stages) + ".");
    if (auto read = readEdges(document, chain); !read)
        return tl::make_unexpected(read.error());
    if (auto wired = wireKeys(list, chain); !wired)
        return tl::make_unexpected(wired.error());
    if (auto compiled = processors::compile(chain.graph()); !compiled)
        return wrongRequest(compiled.error().text + ".");
    const auto next = document.find("next_node");
    const bool counted = next != document.end() && next->is_number_unsigned() && *next < 1000000U;
    chain.next_node = counted ? std::max<std::size_t>(1, next->get<std::size_t>()) : chain.nodes.size() + 1;
    return chain;
}

ordered_json toJson(const Node& node)
{
    ordered_json json{{"id", node.id}, {"kind", word(node.kind)}};
    if (!node.purpose.empty() || node.kind == NodeKind::Stage)
        json["purpose"] = node.purpose;
    if (node.kind == NodeKind::Bands) {
        json["crossovers_hz"] = node.crossovers_hz;
        return json;
    }
    if (node.kind == NodeKind::Stage) {
        json["processor"] = node.processor;
        json["name"] = node.name;
        json["preset"] = node.preset;
        if (!node.phase.empty())
            json["phase"] = node.phase;
        if (node.may_move)
            json["may_move"] = true;
        if (!node.state.empty())
            json["state"] = processors::base64(node.state);
        json["settings"] = ordered_json::object();
        for (const auto& [key, value] : node.settings)
            json["settings"][key] = value;
    }
    for (const auto& [key, value] : addedTo(node)) {
        if (key == "on")
            json[key] = value > 0.5;
        else if (key == "key")
            json[key] = std::ranges::find(key_words, node.key, [](const auto& e) { return e.first; })->second;
        else
            json[key] = value;
    }
    return json;
}

} // namespace

ordered_json toJson(const Chain& chain)
{
    ordered_json nodes = ordered_json::array();
    for (const Node& node : chain.nodes)
        nodes.push_back(toJson(node));
    ordered_json json{
        {"format", format_name}, {"version", format_version}, {"name", chain.name}, {"nodes", nodes}};
    for (const Edge& edge : chain.edges) {
        ordered_json one{{"from", edge.from}, {"to", edge.to}};
        if (!edge.output.empty())
            one["output"] = edge.output;
        if (!edge.input.empty())
            one["input"] = edge.input;
        json["edges"].push_back(one);
    }
    json["next_node"] = chain.next_node;
    return json;
}

std::string toText(const Chain& chain)
{
    return toJson(chain).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

Result<Chain> fromJson(const ordered_json& document)
{
    if (!document.is_object() || textIn(document, "format") != format_name)
        return wrongRequest("It is not a chain of Honest Rack: its \"format\" is not \"honest-rack-chain\".");
    const ordered_json version = document.value("version", ordered_json());
    if (version == 1)
        return firstVersion(document);
    if (version != format_version)
        return wrongRequest(
            "It was written by another version of Honest Rack: this one reads versions 1 and 2.");
    return secondVersion(document);
}

Result<Chain> fromText(const std::string& text)
{
    return fromJson(processors::orderedJsonFrom(text));
}

} // namespace hr::chain
