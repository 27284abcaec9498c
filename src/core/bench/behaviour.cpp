// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/behaviour.h"

#include <algorithm>

namespace hr::bench {

namespace {

constexpr double distorts_percent = 1;
constexpr double hearing_low_hz = 25;
constexpr double hearing_high_hz = 17000;

const Reading* of(const std::vector<std::pair<std::string, Reading>>& readings, const char* test)
{
    const auto found = std::ranges::find(readings, test, [](const auto& one) { return one.first; });
    return found == readings.end() ? nullptr : &found->second;
}

std::optional<std::string> byCurve(const Reading& transfer)
{
    const auto found = transfer.figures.find("kind");
    if (found == transfer.figures.end() || !found->is_string())
        return std::nullopt;
    const auto kind = found->get<std::string>();
    if (kind == "linear")
        return std::nullopt;
    return kind == "saturating" ? "saturation" : kind == "upward" ? "dynamics" : kind;
}

std::string byResponse(const Reading& response)
{
    const bool low_cut = response.number("corner_low_hz").value_or(0) > hearing_low_hz;
    const bool high_cut = response.number("corner_high_hz").value_or(hearing_high_hz) < hearing_high_hz;
    if (low_cut || high_cut)
        return "filter";
    const auto any = [&](const char* list) {
        const auto found = response.figures.find(list);
        return found != response.figures.end() && found->is_array() && !found->empty();
    };
    return any("peaks") || any("notches") ? "equaliser" : "utility";
}

} // namespace

std::optional<std::string> behavesLike(const std::vector<std::pair<std::string, Reading>>& readings)
{
    const Reading* transfer = of(readings, "transfer");
    const Reading* harmonics = of(readings, "harmonics");
    const Reading* response = of(readings, "response");
    if (transfer)
        if (auto kind = byCurve(*transfer))
            return kind;
    if (harmonics && harmonics->number("thd_percent").value_or(0) > distorts_percent)
        return "saturation";
    return response ? std::optional(byResponse(*response)) : std::nullopt;
}

} // namespace hr::bench
