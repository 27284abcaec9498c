// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/label_readings.h"

#include "bench/curve.h"
#include "signal/levels.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>

namespace hr::bench {

namespace {

using InUse = std::vector<ReadingInUse>;

constexpr double corner_db = 3.01;
/// A response that turns its phase by less has no half of it to speak of.
constexpr double least_turn_deg = 40;
/// Two ends of a response so far apart, each of them so level over its last half octave, are those of a shelf.
constexpr double least_shelf_db = 1;
constexpr double level_within_db = 0.3;
/// A curve levels off where two steps at its end gain the same within this.
constexpr double levels_off_db = 0.1;
/// What any detector holds.
constexpr double detector_window_ms = 3;
constexpr double lowest_judged_hz = 25;
/// Movement that is no more periodic than this has no rate.
constexpr double mostly_random = 0.5;

void take(InUse& all, const Reading& reading, const char* key, const char* words)
{
    if (const auto value = reading.number(key); value && reading.whyUnsure(key).empty())
        all.push_back({words, *value});
}

/// As many of a list as have the figure.
void takeList(InUse& all, const Reading& reading, const char* list, const char* words,
              const std::function<std::optional<double>(const nlohmann::ordered_json&)>& valueOf)
{
    const auto items = reading.figures.find(list);
    if (items == reading.figures.end() || !items->is_array() || !reading.whyUnsure(list).empty())
        return;
    for (const auto& item : *items)
        if (const auto value = valueOf(item))
            all.push_back({words, *value});
}

std::optional<double> numberOf(const nlohmann::ordered_json& item, const char* key)
{
    const auto found = item.find(key);
    return found != item.end() && found->is_number() ? std::optional(found->get<double>()) : std::nullopt;
}

auto numberUnder(const char* key)
{
    return [key](const nlohmann::ordered_json& item) { return numberOf(item, key); };
}

/// Where a curve over frequency passes a value, every time.
std::vector<double> crossings(const Points& points, double value)
{
    std::vector<double> found;
    for (std::size_t i = 1; i < points.size(); ++i) {
        const double before = points[i - 1].second - value;
        const double after = points[i].second - value;
        if ((before < 0) == (after < 0))
            continue;
        const double part = before / (before - after);
        found.push_back(points[i - 1].first * std::pow(points[i].first / points[i - 1].first, part));
    }
    return found;
}

/// The frequency at which the phase has turned by half of what it turns by.
std::optional<double> halfTurn(const Reading& response)
{
    const Points* phase = pointsOf(response, "phase");
    if (!phase || std::abs(phase->back().second - phase->front().second) < least_turn_deg)
        return std::nullopt;
    const auto halves = crossings(*phase, (phase->front().second + phase->back().second) / 2);
    return halves.size() == 1 ? std::optional(halves.front()) : std::nullopt;
}

/// A response with two level ends: the frequency halfway between them, and those 3 dB from each.
void takeShelf(InUse& all, const Reading& response)
{
    const Points* magnitude = pointsOf(response, "magnitude");
    if (!magnitude)
        return;
    const auto [low_hz, low_db] = magnitude->front();
    const auto [high_hz, high_db] = magnitude->back();
    const bool level = std::abs(valueAt(*magnitude, 2 * low_hz) - low_db) < level_within_db &&
                       std::abs(valueAt(*magnitude, 0.7 * high_hz) - high_db) < level_within_db;
    if (!level || std::abs(high_db - low_db) < least_shelf_db)
        return;
    for (const double at_hz : crossings(*magnitude, (low_db + high_db) / 2))
        all.push_back({"halfway up its shelf", at_hz});
    const double towards = high_db > low_db ? corner_db : -corner_db;
    for (const double from_db : {low_db + towards, high_db - towards})
        for (const double at_hz : crossings(*magnitude, from_db))
            all.push_back({"3 dB from the level of its shelf", at_hz});
}

InUse frequenciesInUse(double set_hz, const Reading& response)
{
    InUse all;
    const Points* magnitude = pointsOf(response, "magnitude");
    if (!magnitude || set_hz < lowest_judged_hz || set_hz > 0.9 * magnitude->back().first)
        return all;
    take(all, response, "corner_low_hz", "its lower -3 dB corner");
    take(all, response, "corner_high_hz", "its upper -3 dB corner");
    takeList(all, response, "peaks", "its peak", numberUnder("frequency_hz"));
    takeList(all, response, "notches", "its notch", numberUnder("frequency_hz"));
    const auto low_hz = response.number("corner_low_hz");
    const auto high_hz = response.number("corner_high_hz");
    if (low_hz && high_hz)
        all.push_back({"the geometric mean of its corners", std::sqrt(*low_hz * *high_hz)});
    takeShelf(all, response);
    if (const auto half = halfTurn(response))
        all.push_back({"where its phase has turned by half", *half});
    return all;
}

/// Of a peak or notch: between its half-gain points, between those 3 dB from it, or of the pole behind it (R.
/// Bristow-Johnson, Audio EQ Cookbook). Of a band-pass: between its corners. Of a low or high pass: the gain
/// where the phase has turned by half.
InUse qualitiesInUse(const Reading& response)
{
    InUse all;
    const auto poleQ = [](bool wide) {
        return [wide](const nlohmann::ordered_json& item) -> std::optional<double> {
            const auto q = numberOf(item, "q");
            const auto gain_db = numberOf(item, "gain_db");
            if (!q || !gain_db)
                return std::nullopt;
            const double root = std::pow(10, std::abs(*gain_db) / 40);
            return wide ? *q / root : *q * root;
        };
    };
    const auto threeDb = [](const nlohmann::ordered_json& item) -> std::optional<double> {
        const auto width_hz = numberOf(item, "bandwidth_3db_hz");
        const auto at_hz = numberOf(item, "frequency_hz");
        return width_hz && at_hz ? std::optional(*at_hz / *width_hz) : std::nullopt;
    };
    for (const char* list : {"peaks", "notches"}) {
        takeList(all, response, list, "its frequency by the width at half its gain", numberUnder("q"));
        takeList(all, response, list, "its frequency by the width 3 dB from it", threeDb);
        takeList(all, response, list, "that of its poles", poleQ(true));
        takeList(all, response, list, "that of its poles", poleQ(false));
    }
    const auto low_hz = response.number("corner_low_hz");
    const auto high_hz = response.number("corner_high_hz");
    if (low_hz && high_hz && *high_hz > *low_hz)
        all.push_back({"its centre by the width between its corners",
                       std::sqrt(*low_hz * *high_hz) / (*high_hz - *low_hz)});
    const Points* magnitude = pointsOf(response, "magnitude");
    const auto passband_db = response.number("passband_db");
    if (const auto half = halfTurn(response); half && magnitude && passband_db)
        all.push_back({"its gain where the phase has turned by half",
                       signal::dbToLinear(valueAt(*magnitude, *half) - *passband_db)});
    return all;
}

/// Whether levels are treated differently from frequency to frequency: it listens to a part of the band, and
/// has its threshold there.
bool listensToAPart(const Reading& transfer)
{
    return std::ranges::any_of(std::array{"at_100_hz", "at_1000_hz", "at_6500_hz"}, [&](const char* place) {
        const auto there = transfer.figures.find(place);
        return there != transfer.figures.end() && there->is_object();
    });
}

InUse thresholdsInUse(const Reading& transfer)
{
    constexpr double rms_of_sine_db = 3.01;
    InUse all;
    if (listensToAPart(transfer))
        return all;
    take(all, transfer, "threshold_db", "the peak level of a sine");
    if (all.empty())
        return all;
    take(all, transfer, "closes_db", "the level at which it closes");
    for (std::size_t i = 0, count = all.size(); i < count; ++i)
        all.push_back({"the RMS level of a sine", all[i].value - rms_of_sine_db});
    if (const auto knee = transfer.number("knee_db"); knee && *knee > 0) {
        all.push_back({"where its knee begins", all.front().value - *knee / 2});
        all.push_back({"where its knee ends", all.front().value + *knee / 2});
    }
    return all;
}

/// Only where the curve levels off: what goes on beyond the levels that were tried may reach any range.
InUse rangesInUse(double set, const Reading& transfer)
{
    InUse all;
    take(all, transfer, "range_db", "the largest change of the gain");
    const Points* curve = pointsOf(transfer, "in_out");
    if (all.empty() || !curve || curve->size() < 3)
        return {};
    const auto gain_db = [&](std::size_t i) { return (*curve)[i].second - (*curve)[i].first; };
    const std::size_t last = curve->size() - 1;
    const bool ends_low = std::abs(gain_db(1) - gain_db(0)) < levels_off_db;
    const bool ends_high = std::abs(gain_db(last) - gain_db(last - 1)) < levels_off_db;
    if (!ends_low || !ends_high)
        return {};
    if (set < 0)
        all.front().value = -all.front().value; // "-40 dB"
    return all;
}

InUse ratesInUse(const Reading& movement)
{
    InUse all;
    if (movement.number("randomness").value_or(0) > mostly_random)
        return all;
    take(all, movement, "amplitude_rate_hz", "the rate of its amplitude");
    take(all, movement, "pitch_rate_hz", "the rate of its pitch");
    // What passes a tone on its way up and on its way down does so twice.
    for (std::size_t i = 0, count = all.size(); i < count; ++i)
        all.push_back({"half of " + all[i].words, all[i].value / 2});
    return all;
}

InUse timesInUse(const char* key, const Reading& timing, const std::vector<TimeInUse>& times)
{
    const auto depends = timing.figures.find("release_depends_on_depth");
    const bool depends_on_depth =
        depends != timing.figures.end() && depends->is_boolean() && depends->get<bool>();
    InUse all;
    if (!timing.number(key) || !timing.whyUnsure(key).empty() ||
        (std::string(key) == "release_ms" && depends_on_depth))
        return all;
    for (const TimeInUse& time : times)
        all.push_back({time.words, time.ms});
    return all;
}

InUse decaysInUse(const Reading& decay)
{
    InUse all;
    take(all, decay, "rt60_s", "its T30");
    if (all.empty())
        return all;
    take(all, decay, "edt_s", "its early decay time");
    if (const Points* octaves = pointsOf(decay, "rt60"))
        for (const auto& [octave_hz, rt60_s] : *octaves)
            all.push_back(
                {"its T30 in the octave of " + std::to_string(std::lround(octave_hz)) + " Hz", rt60_s});
    return all;
}

} // namespace

InUse readingsInUse(const Promise& promise, double set, const Measured& measured)
{
    const Reading& reading = measured.readings.at(promise.test);
    InUse all;
    const std::string& figure = promise.figure;
    if (figure == "corners")
        return frequenciesInUse(set, reading);
    if (figure == "q")
        return qualitiesInUse(reading);
    if (figure == "threshold_db")
        return thresholdsInUse(reading);
    if (figure == "range_db")
        return rangesInUse(set, reading);
    if (figure == "rates")
        return ratesInUse(reading);
    if (figure == "attack_ms")
        return timesInUse("attack_ms", reading, measured.attack);
    if (figure == "release_ms")
        return timesInUse("release_ms", reading, measured.release);
    if (figure == "rt60_s")
        return decaysInUse(reading);
    if (figure == "first_ms") {
        takeList(all, reading, "echoes", "an echo", numberUnder("time_ms"));
        take(all, reading, "repeat_ms", "the time between its echoes");
        return all;
    }
    take(all, reading, figure.c_str(), "the figure");
    if (all.empty())
        return all;
    const double read = all.front().value;
    if (figure == "ratio" && read > 0)
        all.push_back({"output dB per input dB", 1 / read});
    else if (figure == "knee_db")
        all.push_back({"half of its width", read / 2});
    else if (figure == "hold_ms") {
        if (set <= detector_window_ms)
            return {};
        all.push_back({"without what any detector holds", std::clamp(set, read - detector_window_ms, read)});
    }
    return all;
}

} // namespace hr::bench
