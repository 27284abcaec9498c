// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/foremost.h"

#include "processors/kinds.h"
#include "processors/value_text.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace hr::processors {

namespace {

/// What parameters are called that a kind is turned by, the foremost first.
struct Turned {
    std::string_view kind;
    std::array<std::string_view, 4> words;
};
constexpr std::array turned_by{
    Turned{"dynamics", {"threshold", "ratio", "release", "attack"}},
    Turned{"limiter", {"threshold", "ceiling", "limit", "release"}},
    Turned{"equaliser", {"gain", "freq", "cutoff", "q"}},
    Turned{"filter", {"cutoff", "freq", "resonance", "q"}},
    Turned{"saturation", {"drive", "gain", "colour", "mix"}},
    Turned{"reverb", {"decay", "time", "size", "mix"}},
    Turned{"delay", {"time", "delay", "feedback", "mix"}},
    Turned{"modulation", {"rate", "depth", "speed", "mix"}},
};

const Turned* turnedBy(std::string_view kind)
{
    for (; !kind.empty(); kind = kindAbove(kind))
        if (const auto found = std::ranges::find(turned_by, kind, &Turned::kind); found != turned_by.end())
            return &*found;
    return nullptr;
}

std::string lowered(std::string text)
{
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return std::tolower(c); });
    return text;
}

/// The place of the first word that names it; behind all of them where none does.
std::size_t rankOf(const ParameterInfo& parameter, const Turned* turned)
{
    if (!turned)
        return 0;
    const bool in_db = parameter.unit == "dB" && turned->kind == "equaliser";
    if (in_db)
        return 0; // the gain of a band, whatever that is called
    const std::string named = lowered(parameter.key + ' ' + parameter.name);
    const auto word = std::ranges::find_if(turned->words, [&](std::string_view one) {
        return one.size() > 1 ? named.find(one) != std::string::npos : lowered(parameter.name) == one;
    });
    return static_cast<std::size_t>(word - turned->words.begin());
}

} // namespace

std::vector<std::size_t> foremostParameters(const ProcessorInfo& info, const std::string& kind,
                                            std::size_t most)
{
    const Turned* const turned = turnedBy(kind);
    std::vector<std::size_t> found;
    for (std::size_t i = 0; i < info.parameters.size(); ++i) {
        const ParameterInfo& one = info.parameters[i];
        if (!one.hidden && !one.enables && !hasNamedValues(one))
            found.push_back(i);
    }
    std::ranges::stable_sort(found, {}, [&](std::size_t i) { return rankOf(info.parameters[i], turned); });
    if (found.size() > most)
        found.resize(most);
    return found;
}

} // namespace hr::processors
