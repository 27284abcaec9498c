// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/lv2/lv2_world.h"

#include "hosting/inside/lv2/lv2_presets.h"
#include "processors/kinds.h"
#include "processors/plain_text.h"
#include "processors/port_names.h"
#include "processors/units.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <lv2/atom/atom.h>
#include <lv2/core/lv2.h>
#include <lv2/options/options.h>
#include <lv2/port-groups/port-groups.h>
#include <lv2/port-props/port-props.h>
#include <lv2/presets/presets.h>
#include <lv2/resize-port/resize-port.h>
#include <lv2/state/state.h>
#include <lv2/time/time.h>
#include <lv2/units/units.h>
#include <serd/serd.h>

namespace hr::hosting::inside {

Node uriNode(LilvWorld* world, const char* uri)
{
    return Node(lilv_new_uri(world, uri));
}

namespace {

using processors::ParameterInfo;
using processors::ProcessorInfo;
using processors::Scale;

/// LV2's units as they are printed.
constexpr std::array<std::pair<const char*, const char*>, 20> units{
    {{LV2_UNITS__db, "dB"},       {LV2_UNITS__hz, "Hz"},
     {LV2_UNITS__khz, "kHz"},     {LV2_UNITS__mhz, "MHz"},
     {LV2_UNITS__ms, "ms"},       {LV2_UNITS__s, "s"},
     {LV2_UNITS__min, "min"},     {LV2_UNITS__pc, "%"},
     {LV2_UNITS__cent, "cent"},   {LV2_UNITS__semitone12TET, "semitones"},
     {LV2_UNITS__oct, "octaves"}, {LV2_UNITS__degree, "°"},
     {LV2_UNITS__bpm, "bpm"},     {LV2_UNITS__beat, "beats"},
     {LV2_UNITS__bar, "bars"},    {LV2_UNITS__frame, "samples"},
     {LV2_UNITS__m, "m"},         {LV2_UNITS__cm, "cm"},
     {LV2_UNITS__coef, ""},       {LV2_UNITS__midiNote, "note"}}};

template<class Table>
const char* lookUp(const Table& table, const char* uri)
{
    for (const auto& [key, value] : table)
        if (std::strcmp(key, uri) == 0)
            return value;
    return nullptr;
}

std::string text(const LilvNode* node)
{
    const char* string = node ? lilv_node_as_string(node) : nullptr;
    return string ? processors::plainText(string, processors::longest_document, processors::Lines::Many) : "";
}

std::string firstText(LilvWorld* world, const LilvNode* subject, const char* predicate)
{
    const Node value(lilv_world_get(world, subject, uriNode(world, predicate).get(), nullptr));
    return text(value.get());
}

/// A number, whether written as integer or decimal; NaN where it is neither.
double number(const LilvNode* node)
{
    if (node && (lilv_node_is_float(node) || lilv_node_is_int(node)))
        return lilv_node_as_float(node);
    return std::nan("");
}

/// The names of its classes, without the address before them.
std::vector<std::string> classesOf(LilvWorld* world, const LilvPlugin* plugin)
{
    const Nodes nodes(lilv_plugin_get_value(plugin, uriNode(world, LILV_NS_RDF "type").get()));
    std::vector<std::string> classes;
    LILV_FOREACH(nodes, i, nodes.get())
    {
        const std::string address = text(lilv_nodes_get(nodes.get(), i));
        if (address.starts_with(LV2_CORE_PREFIX))
            classes.push_back(address.substr(std::strlen(LV2_CORE_PREFIX)));
    }
    return classes;
}

std::string versionOf(LilvWorld* world, const LilvPlugin* plugin)
{
    const LilvNode* subject = lilv_plugin_get_uri(plugin);
    const std::string minor = firstText(world, subject, LV2_CORE__minorVersion);
    const std::string micro = firstText(world, subject, LV2_CORE__microVersion);
    return minor.empty() && micro.empty() ? "" : minor + "." + micro;
}

struct PortReader {
    LilvWorld* world;
    const LilvPlugin* plugin;
    const LilvPort* port;

    bool is(const char* uri) const { return lilv_port_is_a(plugin, port, uriNode(world, uri).get()); }
    bool has(const char* uri) const { return lilv_port_has_property(plugin, port, uriNode(world, uri).get()); }
    Nodes values(const char* uri) const
    {
        return Nodes(lilv_port_get_value(plugin, port, uriNode(world, uri).get()));
    }
    /// Whether it is declared to be what this designation says.
    bool isFor(const char* designation) const
    {
        const Nodes designations = values(LV2_CORE__designation);
        LILV_FOREACH(nodes, i, designations.get())
        if (text(lilv_nodes_get(designations.get(), i)) == designation)
            return true;
        return false;
    }
    std::string name() const { return text(Node(lilv_port_get_name(plugin, port)).get()); }
    std::string symbol() const { return text(lilv_port_get_symbol(plugin, port)); }
};

bool isKey(const PortReader& port)
{
    if (port.has(LV2_CORE_PREFIX "isSideChain") || processors::namesKeyInput(port.name()) ||
        processors::namesKeyInput(port.symbol()))
        return true;
    const Nodes groups = port.values(LV2_PORT_GROUPS__group);
    LILV_FOREACH(nodes, i, groups.get())
    {
        const Node main(lilv_world_get(port.world, lilv_nodes_get(groups.get(), i),
                                       uriNode(port.world, LV2_PORT_GROUPS__sideChainOf).get(), nullptr));
        if (main)
            return true;
    }
    return false;
}

std::string unitOf(const PortReader& port)
{
    const Nodes unit = port.values(LV2_UNITS__unit);
    if (!unit || lilv_nodes_size(unit.get()) == 0)
        return {};
    const LilvNode* first = lilv_nodes_get_first(unit.get());
    if (const char* known = lookUp(units, text(first).c_str()))
        return known;
    return firstText(port.world, first, LV2_UNITS__symbol);
}

void addChoices(const PortReader& port, ParameterInfo& p)
{
    LilvScalePoints* points = lilv_port_get_scale_points(port.plugin, port.port);
    LILV_FOREACH(scale_points, i, points)
    {
        const LilvScalePoint* point = lilv_scale_points_get(points, i);
        const double value = number(lilv_scale_point_get_value(point));
        if (std::isfinite(value))
            p.choices.push_back({value, text(lilv_scale_point_get_label(point))});
    }
    lilv_scale_points_free(points);
    std::ranges::sort(p.choices, {}, &processors::Choice::value);
}

FaultOr<ParameterInfo> readParameter(const PortReader& port)
{
    ParameterInfo p;
    p.key = port.symbol();
    p.name = port.name();
    p.unit = unitOf(port);
    if (p.unit.empty())
        p.unit = processors::unitIn(p.name);
    p.comment = firstText(port.world, lilv_port_get_node(port.plugin, port.port), LILV_NS_RDFS "comment");
    p.hidden = port.has(LV2_PORT_PROPS__notOnGUI) || port.isFor(LV2_CORE__freeWheeling);
    p.enables = port.isFor(LV2_CORE__enabled);
    LilvNode* def = nullptr;
    LilvNode* min = nullptr;
    LilvNode* max = nullptr;
    lilv_port_get_range(port.plugin, port.port, &def, &min, &max);
    const Node own_def(def);
    const Node own_min(min);
    const Node own_max(max);
    const bool toggled = port.has(LV2_CORE__toggled);
    const auto either = [](double value, double fallback) { return std::isfinite(value) ? value : fallback; };
    p.minimum_stated = std::isfinite(number(min)) || toggled;
    p.maximum_stated = std::isfinite(number(max)) || toggled;
    const double given = either(number(def), either(number(min), 0));
    p.minimum = either(number(min), std::min(0.0, 10 * given));
    p.maximum = either(number(max), std::max({1.0, toggled ? 1.0 : 10 * given, p.minimum}));
    p.default_value = given;
    if (port.has(LV2_CORE__sampleRate)) { // bounds are parts of the rate
        p.scales_with_rate = true;
        for (double* bound : {&p.minimum, &p.maximum, &p.default_value})
            *bound *= processors::described_rate_hz;
    }
    if (!(p.minimum <= p.maximum))
        return fault(Phase::Read, Cause::InvalidDescription,
                     "the range of \"" + p.key + "\" ends before it begins");
    p.default_value = std::clamp(p.default_value, p.minimum, p.maximum);
    addChoices(port, p);
    if (toggled)
        p.scale = Scale::Toggle;
    else if (port.has(LV2_CORE__enumeration) && !p.choices.empty())
        p.scale = Scale::Choice;
    else if (port.has(LV2_CORE__integer))
        p.scale = Scale::Integer;
    else if (port.has(LV2_PORT_PROPS__logarithmic) && p.minimum > 0)
        p.scale = Scale::Logarithmic;
    return p;
}

/// Where all inputs are called key inputs, none is apart from the others.
void keepOneMainInput(Lv2Description& description)
{
    if (description.info.audio_in > 0)
        return;
    std::swap(description.info.audio_in, description.info.key_in);
    for (Lv2Port& port : description.ports)
        if (port.role == PortRole::KeyIn)
            port.role = PortRole::AudioIn;
}

FaultOr<Lv2Port> readPort(const PortReader& port, ProcessorInfo& info)
{
    Lv2Port out;
    const bool input = port.is(LV2_CORE__InputPort);
    if (port.is(LV2_CORE__AudioPort)) {
        out.role = !input ? PortRole::AudioOut : isKey(port) ? PortRole::KeyIn : PortRole::AudioIn;
        info.audio_in += out.role == PortRole::AudioIn ? 1 : 0;
        info.audio_out += out.role == PortRole::AudioOut ? 1 : 0;
        info.key_in += out.role == PortRole::KeyIn ? 1 : 0;
    } else if (port.is(LV2_CORE__ControlPort) && input) {
        auto parameter = readParameter(port);
        if (!parameter)
            return tl::make_unexpected(parameter.error());
        out.role = PortRole::ControlIn;
        out.takes_tempo = port.isFor(LV2_TIME__beatsPerMinute);
        out.parameter = info.parameters.size();
        info.parameters.push_back(std::move(*parameter));
    } else if (port.is(LV2_CORE__ControlPort)) {
        out.role = PortRole::ControlOut;
        out.is_latency = port.has(LV2_CORE__reportsLatency) || port.isFor(LV2_CORE__latency);
    } else if (port.is(LV2_ATOM__AtomPort)) {
        out.role = input ? PortRole::AtomIn : PortRole::AtomOut;
        out.takes_tempo = input && lilv_port_supports_event(port.plugin, port.port,
                                                            uriNode(port.world, LV2_TIME__Position).get());
        const Nodes size = port.values(LV2_RESIZE_PORT__minimumSize);
        if (size && lilv_nodes_size(size.get()) > 0 && lilv_node_is_int(lilv_nodes_get_first(size.get())))
            out.atom_bytes = static_cast<std::size_t>(
                std::clamp(lilv_node_as_int(lilv_nodes_get_first(size.get())), 1024, 1 << 22));
    } else if (port.is(LV2_CORE__CVPort)) {
        out.role = input ? PortRole::CvIn : PortRole::CvOut;
    } else if (!port.has(LV2_CORE__connectionOptional)) {
        return fault(Phase::Read, Cause::UnsupportedFeature,
                     "the port \"" + port.symbol() + "\" is of a kind this host does not know");
    }
    info.takes_tempo = info.takes_tempo || out.takes_tempo;
    return out;
}

void addLinks(LilvWorld* world, const LilvPlugin* plugin, ProcessorInfo& info)
{
    for (const char* predicate : {LILV_NS_DOAP "homepage", LV2_CORE__documentation, LILV_NS_RDFS "seeAlso"}) {
        const Nodes nodes(lilv_plugin_get_value(plugin, uriNode(world, predicate).get()));
        LILV_FOREACH(nodes, i, nodes.get())
        if (const std::string link = text(lilv_nodes_get(nodes.get(), i));
            link.starts_with("http://") || link.starts_with("https://"))
            info.links.push_back(link);
    }
}

void addPresets(LilvWorld* world, const LilvPlugin* plugin, ProcessorInfo& info)
{
    Lv2Features features({}, false);
    const Nodes presets(lilv_plugin_get_related(plugin, uriNode(world, LV2_PRESETS__Preset).get()));
    LILV_FOREACH(nodes, i, presets.get())
    if (auto preset = readPreset(world, lilv_nodes_get(presets.get(), i), features))
        info.presets.push_back(std::move(*preset));
    std::ranges::sort(info.presets, {}, [](const auto& p) { return std::tie(p.bank, p.name); });
}

} // namespace

bool isTurtle(const std::filesystem::path& file)
{
    SerdReader* reader = serd_reader_new(SERD_TURTLE, nullptr, nullptr, nullptr, nullptr, nullptr, nullptr);
    serd_reader_set_error_sink(
        reader, [](void*, const SerdError*) { return SERD_SUCCESS; }, nullptr);
    const std::string path = file.string();
    const SerdStatus status =
        serd_reader_read_file(reader, reinterpret_cast<const std::uint8_t*>(path.c_str()));
    serd_reader_free(reader);
    return status == SERD_SUCCESS;
}

World openBundle(const std::filesystem::path& bundle)
{
    World world(lilv_world_new());
    // lilv takes a folder only with its closing slash.
    const std::string path = (bundle / "").string();
    const Node uri(lilv_new_file_uri(world.get(), nullptr, path.c_str()));
    lilv_world_load_bundle(world.get(), uri.get());
    return world;
}

const LilvPlugin* findPlugin(LilvWorld* world, const std::string& uri)
{
    const Node node = uriNode(world, uri.c_str());
    return node ? lilv_plugins_get_by_uri(lilv_world_get_all_plugins(world), node.get()) : nullptr;
}

FaultOr<Lv2Description> describe(LilvWorld* world, const LilvPlugin* plugin)
{
    Lv2Description out;
    const LilvNode* uri = lilv_plugin_get_uri(plugin);
    out.info.id = "lv2:" + text(uri);
    out.info.format = "LV2";
    out.info.name = text(Node(lilv_plugin_get_name(plugin)).get());
    if (out.info.name.empty())
        return fault(Phase::Read, Cause::InvalidDescription, "it has no name (doap:name)");
    out.info.maker = text(Node(lilv_plugin_get_author_name(plugin)).get());
    out.info.kind = processors::unplaced_kind; // the other side places it
    out.info.classes = classesOf(world, plugin);
    out.info.version = versionOf(world, plugin);
    out.info.documentation = firstText(world, uri, LV2_CORE__documentation);
    if (out.info.documentation.empty())
        out.info.documentation = firstText(world, uri, LILV_NS_RDFS "comment");

    addLinks(world, plugin, out.info);

    const std::uint32_t count = lilv_plugin_get_num_ports(plugin);
    for (std::uint32_t i = 0; i < count; ++i) {
        const LilvPort* port = lilv_plugin_get_port_by_index(plugin, i);
        if (!port)
            return fault(Phase::Read, Cause::InvalidDescription, "port " + std::to_string(i) + " is missing");
        auto read = readPort({world, plugin, port}, out.info);
        if (!read)
            return tl::make_unexpected(read.error());
        out.ports.push_back(*read);
    }
    keepOneMainInput(out);
    addPresets(world, plugin, out.info);
    const Nodes required(lilv_plugin_get_required_features(plugin));
    LILV_FOREACH(nodes, i, required.get())
    out.required_features.push_back(text(lilv_nodes_get(required.get(), i)));
    const Nodes options(lilv_plugin_get_value(plugin, uriNode(world, LV2_OPTIONS__requiredOption).get()));
    LILV_FOREACH(nodes, i, options.get())
    out.required_options.push_back(text(lilv_nodes_get(options.get(), i)));
    return out;
}

BundleContents describeAll(LilvWorld* world)
{
    BundleContents contents;
    const LilvPlugins* plugins = lilv_world_get_all_plugins(world);
    LILV_FOREACH(plugins, i, plugins)
    {
        const LilvPlugin* plugin = lilv_plugins_get(plugins, i);
        auto description = describe(world, plugin);
        if (!description)
            contents.broken.push_back({"lv2:" + text(lilv_plugin_get_uri(plugin)), description.error()});
        else if (const std::string reason = whyNotHosted(description->info); !reason.empty())
            contents.left_out.push_back({description->info.id, description->info.name, reason});
        else
            contents.processors.push_back(std::move(description->info));
    }
    return contents;
}

} // namespace hr::hosting::inside
