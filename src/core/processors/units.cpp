// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/units.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <utility>

namespace hr::processors {

std::string unitIn(const std::string& name)
{
    constexpr std::array<std::pair<const char*, const char*>, 25> known{{{"db", "dB"},
                                                                         {"dbfs", "dBFS"},
                                                                         {"hz", "Hz"},
                                                                         {"khz", "kHz"},
                                                                         {"ms", "ms"},
                                                                         {"msec", "ms"},
                                                                         {"milliseconds", "ms"},
                                                                         {"s", "s"},
                                                                         {"sec", "s"},
                                                                         {"secs", "s"},
                                                                         {"seconds", "s"},
                                                                         {"%", "%"},
                                                                         {"percent", "%"},
                                                                         {"1:n", ":1"},
                                                                         {"n:1", ":1"},
                                                                         {":1", ":1"},
                                                                         {"samples", "samples"},
                                                                         {"cents", "cent"},
                                                                         {"semitones", "semitones"},
                                                                         {"octaves", "octaves"},
                                                                         {"degrees", "°"},
                                                                         {"deg", "°"},
                                                                         {"bpm", "bpm"},
                                                                         {"bits", "bits"},
                                                                         {"beats", "beats"}}};
    const auto open = name.find_last_of("([");
    const auto close = name.find_last_of(")]");
    if (open == std::string::npos || close == std::string::npos || close < open)
        return {};
    std::string inside = name.substr(open + 1, close - open - 1);
    std::ranges::transform(inside, inside.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    for (const auto& [word, unit] : known)
        if (inside == word)
            return unit;
    return {};
}

} // namespace hr::processors
