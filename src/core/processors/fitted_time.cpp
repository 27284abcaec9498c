// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/fitted_time.h"

#include "processors/note_value.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace hr::processors {

namespace {

bool isPreDelay(const std::string& name)
{
    const auto pre = name.find("pre");
    return pre != std::string::npos && name.find("delay", pre) != std::string::npos;
}

bool isDecay(const std::string& name)
{
    for (const char* word : {"decay", "rt60", "t60", "reverb time", "reverberation"})
        if (name.find(word) != std::string::npos)
            return true;
    return false;
}

std::optional<double> msIn(const std::string& unit)
{
    if (unit == "ms")
        return 1;
    return unit == "s" ? std::optional(1000.0) : std::nullopt;
}

} // namespace

std::optional<std::size_t> controlOf(RoomTime what, const ProcessorInfo& info)
{
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        std::string name = info.parameters[i].key + ' ' + info.parameters[i].name;
        std::ranges::transform(name, name.begin(), [](unsigned char c) { return std::tolower(c); });
        const bool named = what == RoomTime::PreDelay ? isPreDelay(name) : isDecay(name) && !isPreDelay(name);
        if (named && !info.parameters[i].hidden && msIn(info.parameters[i].unit))
            return i;
    }
    return std::nullopt;
}

std::optional<FittedTime> fitted(RoomTime what, const ProcessorInfo& info, const std::vector<double>& values,
                                 double measured_ms, double tempo_bpm)
{
    const auto control = controlOf(what, info);
    if (!control || *control >= values.size() || !(measured_ms > 0) || !(tempo_bpm > 0))
        return std::nullopt;
    const auto notes = noteTimes(tempo_bpm);
    const auto nearest = std::ranges::min_element(
        notes, {}, [&](const NoteTime& note) { return std::abs(std::log(note.ms / measured_ms)); });
    const ParameterInfo& parameter = info.parameters[*control];
    const double unit_ms = *msIn(parameter.unit);
    const double value = what == RoomTime::Decay ? values[*control] * nearest->ms / measured_ms
                                                 : values[*control] + (nearest->ms - measured_ms) / unit_ms;
    if (!parameter.allows(value) || !(value >= 0))
        return std::nullopt;
    return FittedTime{nearest->note, nearest->ms, *control, value};
}

} // namespace hr::processors
