// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/lv2/lv2_presets.h"

#include "hosting/inside/lv2/lv2_state.h"
#include "processors/processor.h"

#include <lv2/core/lv2.h>
#include <lv2/presets/presets.h>
#include <lv2/urid/urid.h>
#include <memory>

namespace hr::hosting::inside {

namespace {

std::string asText(const LilvNode* node)
{
    const char* string = node ? lilv_node_as_string(node) : nullptr;
    return string ? string : "";
}

Node valueOf(LilvWorld* world, const LilvNode* subject, const char* predicate)
{
    return Node(lilv_world_get(world, subject, uriNode(world, predicate).get(), nullptr));
}

std::string bankOf(LilvWorld* world, const LilvNode* preset)
{
    const auto bank = valueOf(world, preset, LV2_PRESETS__bank);
    if (!bank)
        return {};
    lilv_world_load_resource(world, bank.get());
    return asText(valueOf(world, bank.get(), LILV_NS_RDFS "label").get());
}

enum NumberType : LV2_URID { FloatNumber = 1, DoubleNumber, IntNumber, LongNumber, BoolNumber, NoNumber };

LV2_URID mapNumberType(LV2_URID_Map_Handle, const char* type)
{
    constexpr std::pair<std::string_view, NumberType> known[]{
        {"http://lv2plug.in/ns/ext/atom#Float", FloatNumber},
        {"http://lv2plug.in/ns/ext/atom#Double", DoubleNumber},
        {"http://lv2plug.in/ns/ext/atom#Int", IntNumber},
        {"http://lv2plug.in/ns/ext/atom#Long", LongNumber},
        {"http://lv2plug.in/ns/ext/atom#Bool", BoolNumber}};
    for (const auto& [address, number] : known)
        if (address == type)
            return number;
    return NoNumber;
}

void collectPreset(const char* symbol, void* into, const void* value, std::uint32_t size, std::uint32_t type)
{
    auto& values = static_cast<processors::PresetInfo*>(into)->values;
    if (type == FloatNumber && size == sizeof(float))
        values.emplace_back(symbol, *static_cast<const float*>(value));
    else if (type == DoubleNumber && size == sizeof(double))
        values.emplace_back(symbol, *static_cast<const double*>(value));
    else if ((type == IntNumber || type == BoolNumber) && size == sizeof(std::int32_t))
        values.emplace_back(symbol, *static_cast<const std::int32_t*>(value));
    else if (type == LongNumber && size == sizeof(std::int64_t))
        values.emplace_back(symbol, static_cast<double>(*static_cast<const std::int64_t*>(value)));
}

} // namespace

std::optional<processors::PresetInfo> readPreset(LilvWorld* world, const LilvNode* node, Lv2Features& features)
{
    lilv_world_load_resource(world, node);
    LV2_URID_Map map{nullptr, mapNumberType};
    const State state(lilv_state_new_from_world(world, &map, node));
    if (!state)
        return std::nullopt;
    const char* label = lilv_state_get_label(state.get());
    processors::PresetInfo preset{label ? label : asText(node), asText(node), {}, bankOf(world, node)};
    lilv_state_emit_port_values(state.get(), collectPreset, &preset);
    preset.state = stateText(world, features, node);
    if (preset.state.size() > processors::longest_state_bytes)
        preset.state.clear();
    return preset;
}

std::vector<BundleContents::Preset> presetsIn(LilvWorld* world)
{
    const Nodes nodes(lilv_world_find_nodes(world, nullptr, uriNode(world, LILV_NS_RDF "type").get(),
                                            uriNode(world, LV2_PRESETS__Preset).get()));
    Lv2Features features({}, false);
    std::vector<BundleContents::Preset> found;
    LILV_FOREACH(nodes, i, nodes.get())
    {
        const LilvNode* node = lilv_nodes_get(nodes.get(), i);
        if (auto preset = readPreset(world, node, features))
            found.push_back(
                {"lv2:" + asText(valueOf(world, node, LV2_CORE__appliesTo).get()), std::move(*preset)});
    }
    return found;
}

} // namespace hr::hosting::inside
