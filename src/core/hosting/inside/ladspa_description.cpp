// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/ladspa_description.h"

#include "hosting/wire.h"
#include "processors/kinds.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace hr::hosting::inside {

namespace {

using processors::ParameterInfo;
using processors::Scale;

std::string textOf(const char* text)
{
    return text ? text : "";
}

/// "Delay (Seconds)" holds its unit in brackets at its end.
std::string unitIn(const std::string& name)
{
    constexpr std::array<std::pair<const char*, const char*>, 12> known{{{"db", "dB"},
                                                                         {"hz", "Hz"},
                                                                         {"khz", "kHz"},
                                                                         {"ms", "ms"},
                                                                         {"s", "s"},
                                                                         {"seconds", "s"},
                                                                         {"%", "%"},
                                                                         {"1:n", ":1"},
                                                                         {"samples", "samples"},
                                                                         {"cents", "cent"},
                                                                         {"semitones", "semitones"},
                                                                         {"degrees", "°"}}};
    const auto open = name.find_last_of("([");
    const auto close = name.find_last_of(")]");
    if (open == std::string::npos || close == std::string::npos || close < open)
        return {};
    std::string inside = name.substr(open + 1, close - open - 1);
    std::ranges::transform(inside, inside.begin(), [](unsigned char c) { return std::tolower(c); });
    for (const auto& [word, unit] : known)
        if (inside == word)
            return unit;
    return {};
}

/// The default by its hint, between bounds that may be logarithmic; empty where there is none.
std::optional<double> defaultOf(LADSPA_PortRangeHintDescriptor hint, double low, double high)
{
    const bool logarithmic = LADSPA_IS_HINT_LOGARITHMIC(hint) && low > 0 && high > 0;
    const auto between = [&](double part) {
        return logarithmic ? std::exp(std::log(low) * (1 - part) + std::log(high) * part)
                           : low * (1 - part) + high * part;
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

/// A bound that is not stated is put where the default leaves room: tenfold, and at least 0 to 10.
void setRange(const LADSPA_PortRangeHint& range, ParameterInfo& p)
{
    const auto hint = range.HintDescriptor;
    p.scales_with_rate = LADSPA_IS_HINT_SAMPLE_RATE(hint);
    const double scale = p.scales_with_rate ? processors::described_rate_hz : 1;
    const bool below = LADSPA_IS_HINT_BOUNDED_BELOW(hint);
    const bool above = LADSPA_IS_HINT_BOUNDED_ABOVE(hint);
    const double low = below ? range.LowerBound * scale : 0;
    const double high = above ? range.UpperBound * scale : std::max(10.0, 10 * low);
    const double value = defaultOf(hint, low, high).value_or(std::clamp(0.0, low, std::max(low, high)));
    p.minimum = below ? low : std::min({0.0, 10 * value, high});
    p.maximum = above ? high : std::max(high, 10 * value);
    p.default_value = std::clamp(value, p.minimum, std::max(p.minimum, p.maximum));
}

FaultOr<ParameterInfo> readParameter(const LADSPA_Descriptor& plugin, unsigned long port)
{
    ParameterInfo p;
    const auto& range = plugin.PortRangeHints[port];
    p.name = p.key = textOf(plugin.PortNames[port]);
    p.unit = unitIn(p.name);
    setRange(range, p);
    if (!std::isfinite(p.minimum) || !std::isfinite(p.maximum) || p.minimum > p.maximum)
        return fault(Stage::Read, Cause::InvalidDescription,
                     "the range of \"" + p.name + "\" ends before it begins");
    if (LADSPA_IS_HINT_TOGGLED(range.HintDescriptor)) {
        p.scale = Scale::Toggle;
        p.minimum = 0;
        p.maximum = 1;
        p.default_value = p.default_value > 0 ? 1 : 0;
    } else if (LADSPA_IS_HINT_INTEGER(range.HintDescriptor)) {
        p.scale = Scale::Integer;
        p.default_value = std::clamp(std::round(p.default_value), p.minimum, p.maximum);
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

bool tellsLatency(const LADSPA_Descriptor& plugin, unsigned long port)
{
    const std::string name = textOf(plugin.PortNames[port]);
    return name == "latency" || name == "_latency";
}

FaultOr<processors::ProcessorInfo> describe(const LADSPA_Descriptor& plugin, const std::filesystem::path& file)
{
    processors::ProcessorInfo info;
    info.id = "ladspa:" + file.stem().string() + ":" + textOf(plugin.Label);
    info.name = textOf(plugin.Name);
    info.maker = textOf(plugin.Maker);
    info.kind = processors::refinedKind({}, info.name + ' ' + textOf(plugin.Label));
    info.format = "LADSPA";
    info.documentation = textOf(plugin.Copyright);
    if (info.name.empty() || textOf(plugin.Label).empty())
        return fault(Stage::Read, Cause::InvalidDescription, "it has no name or no label");
    if (plugin.PortCount > 0 && (!plugin.PortDescriptors || !plugin.PortNames || !plugin.PortRangeHints))
        return fault(Stage::Read, Cause::InvalidDescription, "it does not describe its ports");
    for (unsigned long port = 0; port < plugin.PortCount; ++port) {
        const auto what = plugin.PortDescriptors[port];
        if (LADSPA_IS_PORT_AUDIO(what))
            ++(LADSPA_IS_PORT_INPUT(what) ? info.audio_in : info.audio_out);
        if (!LADSPA_IS_PORT_CONTROL(what) || !LADSPA_IS_PORT_INPUT(what))
            continue;
        auto parameter = readParameter(plugin, port);
        if (!parameter)
            return tl::make_unexpected(parameter.error());
        info.parameters.push_back(std::move(*parameter));
    }
    makeKeysUnique(info.parameters);
    if (info.audio_in > most_channels || info.audio_out > most_channels)
        return fault(Stage::Read, Cause::UnsupportedFeature,
                     "it has more than " + std::to_string(most_channels) + " channels");
    return info;
}

} // namespace hr::hosting::inside
