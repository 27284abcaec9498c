// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/ladspa/ladspa_description.h"

#include "hosting/path_text.h"
#include "hosting/wire.h"
#include "processors/kinds.h"
#include "processors/plain_text.h"
#include "processors/port_names.h"
#include "processors/units.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace hr::hosting::inside {

namespace {

using processors::ParameterInfo;
using processors::Scale;

std::string textOf(const char* text, std::size_t most = processors::longest_name)
{
    return text ? processors::plainText(text, most) : "";
}

/// The default by its hint (ladspa.h, "Default hints"), between bounds that may be logarithmic; empty where
/// there is none, or where it is a place between bounds that are not both stated.
std::optional<double> defaultOf(LADSPA_PortRangeHintDescriptor hint, const std::optional<double>& low,
                                const std::optional<double>& high)
{
    const auto between = [&](double part) -> std::optional<double> {
        if (!low || !high)
            return std::nullopt;
        if (LADSPA_IS_HINT_LOGARITHMIC(hint) && *low > 0 && *high > 0)
            return std::exp(std::log(*low) * (1 - part) + std::log(*high) * part);
        return *low * (1 - part) + *high * part;
    };
    switch (hint & LADSPA_HINT_DEFAULT_MASK) {
    case LADSPA_HINT_DEFAULT_MINIMUM:
        return low;
    case LADSPA_HINT_DEFAULT_LOW:
        return between(0.25);
    case LADSPA_HINT_DEFAULT_MIDDLE:
        return between(0.5);
    case LADSPA_HINT_DEFAULT_HIGH:
        return between(0.75);
    case LADSPA_HINT_DEFAULT_MAXIMUM:
        return high;
    case LADSPA_HINT_DEFAULT_0:
        return 0;
    case LADSPA_HINT_DEFAULT_1:
        return 1;
    case LADSPA_HINT_DEFAULT_100:
        return 100;
    case LADSPA_HINT_DEFAULT_440:
        return 440;
    default:
        return std::nullopt;
    }
}

/// Without a default of its own a control begins at 0, or at the stated bound that is nearest to it. Where a
/// bound is not stated, one is proposed that leaves the default room: tenfold, and at least 10.
void setRange(const LADSPA_PortRangeHint& range, ParameterInfo& p)
{
    const auto hint = range.HintDescriptor;
    p.scales_with_rate = LADSPA_IS_HINT_SAMPLE_RATE(hint);
    const double scale = p.scales_with_rate ? processors::described_rate_hz : 1;
    std::optional<double> low;
    std::optional<double> high;
    if (LADSPA_IS_HINT_BOUNDED_BELOW(hint))
        low = range.LowerBound * scale;
    if (LADSPA_IS_HINT_BOUNDED_ABOVE(hint))
        high = range.UpperBound * scale;
    p.minimum_stated = low.has_value();
    p.maximum_stated = high.has_value();
    p.minimum = low.value_or(0);
    p.maximum = high.value_or(0);
    p.default_value = p.allowed(defaultOf(hint, low, high).value_or(0));
    const double room = std::max(10.0, 10 * std::abs(p.default_value));
    if (!low)
        p.minimum =
            std::min({0.0, p.default_value < 0 ? -room : 0.0, p.maximum_stated ? p.maximum - room : 0.0});
    if (!high)
        p.maximum = std::max(p.minimum, 0.0) + room;
    if (!LADSPA_IS_HINT_TOGGLED(hint))
        return;
    // On is anything above 0 (ladspa.h), so its range is known.
    p.minimum_stated = p.maximum_stated = true;
    p.minimum = 0;
    p.maximum = 1;
    p.default_value = p.default_value > 0 ? 1 : 0;
}

FaultOr<ParameterInfo> readParameter(const LADSPA_Descriptor& plugin, unsigned long port)
{
    ParameterInfo p;
    const auto& range = plugin.PortRangeHints[port];
    p.name = p.key = textOf(plugin.PortNames[port]);
    p.unit = processors::unitIn(p.name);
    setRange(range, p);
    if (!std::isfinite(p.minimum) || !std::isfinite(p.maximum) || p.minimum > p.maximum)
        return fault(Phase::Read, Cause::InvalidDescription,
                     "the range of \"" + p.name + "\" ends before it begins");
    if (LADSPA_IS_HINT_TOGGLED(range.HintDescriptor)) {
        p.scale = Scale::Toggle;
    } else if (LADSPA_IS_HINT_INTEGER(range.HintDescriptor)) {
        p.scale = Scale::Integer;
        p.default_value = p.allowed(std::round(p.default_value));
    } else if (LADSPA_IS_HINT_LOGARITHMIC(range.HintDescriptor) && p.minimum > 0) {
        p.scale = Scale::Logarithmic;
    }
    return p;
}

/// Two controls may bear one name; keys must not.
void makeKeysUnique(std::vector<ParameterInfo>& parameters)
{
    for (std::size_t i = 0; i < parameters.size(); ++i)
        for (int again = 2; std::any_of(parameters.begin(), parameters.begin() + static_cast<std::ptrdiff_t>(i),
                                        [&](const ParameterInfo& p) { return p.key == parameters[i].key; });
             ++again)
            parameters[i].key = parameters[i].name + " " + std::to_string(again);
}

} // namespace

bool isKeyInput(const LADSPA_Descriptor& plugin, unsigned long port)
{
    const auto isInput = [&](unsigned long p) {
        return LADSPA_IS_PORT_AUDIO(plugin.PortDescriptors[p]) &&
               LADSPA_IS_PORT_INPUT(plugin.PortDescriptors[p]);
    };
    if (!isInput(port) || !processors::namesKeyInput(textOf(plugin.PortNames[port])))
        return false;
    // Where all are called so, none is apart from the others.
    for (unsigned long p = 0; p < plugin.PortCount; ++p)
        if (isInput(p) && !processors::namesKeyInput(textOf(plugin.PortNames[p])))
            return true;
    return false;
}

bool tellsLatency(const LADSPA_Descriptor& plugin, unsigned long port)
{
    const std::string name = textOf(plugin.PortNames[port]);
    return name == "latency" || name == "_latency";
}

FaultOr<processors::ProcessorInfo> describe(const LADSPA_Descriptor& plugin, const std::filesystem::path& file)
{
    processors::ProcessorInfo info;
    info.id = "ladspa:" + pathText(file.stem()) + ":" + textOf(plugin.Label);
    info.name = textOf(plugin.Name);
    info.maker = textOf(plugin.Maker);
    info.kind = processors::unplaced_kind; // the other side places it
    info.label = textOf(plugin.Label);
    info.unique_id = plugin.UniqueID;
    info.format = "LADSPA";
    info.documentation = textOf(plugin.Copyright, processors::longest_document);
    if (info.name.empty() || textOf(plugin.Label).empty())
        return fault(Phase::Read, Cause::InvalidDescription, "it has no name or no label");
    if (plugin.PortCount > 0 && (!plugin.PortDescriptors || !plugin.PortNames || !plugin.PortRangeHints))
        return fault(Phase::Read, Cause::InvalidDescription, "it does not describe its ports");
    for (unsigned long port = 0; port < plugin.PortCount; ++port) {
        const auto what = plugin.PortDescriptors[port];
        if (LADSPA_IS_PORT_AUDIO(what))
            ++(isKeyInput(plugin, port)     ? info.key_in
               : LADSPA_IS_PORT_INPUT(what) ? info.audio_in
                                            : info.audio_out);
        if (!LADSPA_IS_PORT_CONTROL(what) || !LADSPA_IS_PORT_INPUT(what))
            continue;
        auto parameter = readParameter(plugin, port);
        if (!parameter)
            return tl::make_unexpected(parameter.error());
        info.parameters.push_back(std::move(*parameter));
    }
    makeKeysUnique(info.parameters);
    return info;
}

} // namespace hr::hosting::inside
