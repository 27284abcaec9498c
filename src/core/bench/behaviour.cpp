// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/behaviour.h"

#include <algorithm>
#include <cmath>

namespace hr::bench {

namespace {

constexpr double distorts_percent = 1;
constexpr double hearing_low_hz = 25;
constexpr double hearing_high_hz = 17000;
constexpr std::size_t most_bends = 20;
constexpr double late_ms = 5;

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

std::size_t lengthOf(const Reading& reading, const char* list)
{
    const auto found = reading.figures.find(list);
    return found != reading.figures.end() && found->is_array() ? found->size() : 0;
}

/// Echoes, rooms, and what moves: no filter has so many bends, holds the sound back for so long, or has two
/// responses.
bool spreadsInTime(const Reading& response)
{
    if (std::ranges::any_of(response.flags, [](const Flag& flag) { return flag.code == "varies"; }))
        return true;
    if (lengthOf(response, "peaks") + lengthOf(response, "notches") > most_bends)
        return true;
    const auto found = response.series.find("group_delay");
    std::size_t points = 0;
    std::size_t late = 0;
    if (found != response.series.end())
        for (const auto& [frequency_hz, delay_ms] : found->second.points)
            if (frequency_hz >= 500 && frequency_hz <= 10000) {
                ++points;
                late += std::abs(delay_ms) > late_ms;
            }
    return late * 10 > points;
}

std::optional<std::string> byResponse(const Reading& response)
{
    if (spreadsInTime(response))
        return std::nullopt;
    const bool low_cut = response.number("corner_low_hz").value_or(0) > hearing_low_hz;
    const bool high_cut = response.number("corner_high_hz").value_or(hearing_high_hz) < hearing_high_hz;
    if (low_cut || high_cut)
        return "filter";
    return lengthOf(response, "peaks") + lengthOf(response, "notches") > 0 ? "equaliser" : "utility";
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
    return response ? byResponse(*response) : std::nullopt;
}

} // namespace hr::bench
