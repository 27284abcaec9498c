// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/plots.h"

#include "signal/number_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <map>
#include <optional>

namespace hr::bench {

Quantity quantityOf(const std::string& axis)
{
    static const std::map<std::string, Quantity> all{
        {"frequency_hz", {"frequency", "Hz", true, 0, 0}},
        {"time_s", {"time", "s", false, 0, 2}},
        {"time_ms", {"time", "ms", false, 0, 1}},
        {"input_dbfs", {"in", "dBFS", false, 0, 1}},
        {"output_dbfs", {"out", "dBFS", false, 12, 2}},
        {"level_dbfs", {"level", "dBFS", false, 6, 2}},
        {"magnitude_db", {"magnitude", "dB", false, 12, 2}},
        {"phase_deg", {"phase", "°", false, 90, 1}},
        {"group_delay_ms", {"group delay", "ms", false, 1, 3}},
        {"thd_percent", {"THD", "%", false, 0.01, 3}},
        {"alias_db", {"alias", "dB", false, 20, 1}},
        {"gain_db", {"gain", "dB", false, 6, 2}},
        {"offset_db", {"sensitivity", "dB", false, 12, 2}},
        {"rt60_s", {"T30", "s", false, 0.5, 2}},
        {"level_db", {"level", "dB", false, 20, 2}},
        {"order", {"harmonic", "order", false, 0, 0}},
        {"pitch_cents", {"pitch", "cent", false, 10, 1}},
        {"width_db", {"width", "dB", false, 12, 2}},
        {"balance_db", {"right against left", "dB", false, 12, 2}},
        {"correlation", {"correlation", "", false, 0, 3, std::pair(-1.0, 1.0)}},
        {"cycle_deg", {"phase", "°", false, 0, 0}},
        {"amplitude_fs", {"amplitude", "FS", false, 0.1, 4}},
        {"band_dbfs", {"level", "dBFS", false, 20, 1}},
        {"block_frames", {"block", "samples", true, 0, 0}},
        {"core_percent", {"of a core", "%", false, 1, 3}},
        {"beside_hz", {"from 7 kHz", "Hz", false, 0, 0}},
        {"product_khz", {"frequency", "kHz", false, 0, 0}},
        {"momentary_lufs", {"momentary loudness", "LUFS", false, 12, 1}},
        {"input_lsb", {"in", "LSB at 16 bit", false, 0, 1}},
        {"output_lsb", {"out", "LSB at 16 bit", false, 8, 2}}};
    const auto found = all.find(axis);
    return found == all.end() ? Quantity{axis, {}} : found->second;
}

const std::vector<PlotInfo>& allPlots()
{
    const auto second = [](const char* series) { return ThinLine{series, "second output", true}; };
    static const std::vector<PlotInfo> all{
        {"response", "magnitude", "Magnitude", "frequency_hz", "magnitude_db", false, false,
         second("magnitude_2")},
        {"response", "phase", "Phase", "frequency_hz", "phase_deg", false, false, second("phase_2")},
        {"response", "group_delay", "Group delay", "frequency_hz", "group_delay_ms", false, false,
         second("group_delay_2")},
        {"harmonics", harmonics_list, "Harmonics · odd: full, even: pale", "order", "level_db", true},
        {"harmonics", "thd_over_level", "Distortion over level", "level_dbfs", "thd_percent"},
        {"harmonics", "thd_over_frequency", "Distortion over frequency", "frequency_hz", "thd_percent"},
        {"harmonics", "cycle_out", "One cycle · thin: going in", "cycle_deg", "amplitude_fs", false, false,
         ThinLine{"cycle_in", "going in", false, true}},
        {"intermodulation", "smpte_lines", "60 Hz and 7 kHz: beside the tone of 7 kHz", "beside_hz", "level_db",
         true},
        {"intermodulation", "difference_lines", "19 and 20 kHz: against one of the two", "product_khz",
         "level_db", true},
        {"aliasing", "alias_over_frequency", "Worst alias of each tone", "frequency_hz", "alias_db"},
        {"transfer", "in_out", "Settled levels · thin: the fit", "input_dbfs", "output_dbfs", false, true,
         ThinLine{"model", "fit"}},
        {"transfer", "in_out_at_100_hz", "Settled levels at 100 Hz", "input_dbfs", "output_dbfs", false, true},
        {"transfer", "in_out_at_1000_hz", "Settled levels at 1 kHz", "input_dbfs", "output_dbfs", false, true},
        {"transfer", "in_out_at_6500_hz", "Settled levels at 6.5 kHz", "input_dbfs", "output_dbfs", false,
         true},
        {"timing", "gain", "Gain after a step up, and down", "time_ms", "gain_db"},
        {"detector", "sensitivity", "Sensitivity of the detector", "frequency_hz", "offset_db"},
        {"key_input", "in_out", "What the key's level does", "input_dbfs", "output_dbfs"},
        {"key_input", "gain", "Gain after a step of the key", "time_ms", "gain_db"},
        {"decay", "decay", "Energy left · thin: impulse response", "time_s", "level_db", false, false,
         ThinLine{"impulse", "impulse"}},
        {"decay", "rt60", "Reverberation time by octave", "frequency_hz", "rt60_s"},
        {"echoes", "echoes", "Echoes", "time_ms", "level_db", true},
        {"movement", "amplitude", "Level of a steady tone", "time_s", "level_dbfs"},
        {"movement", "pitch", "Pitch of a steady tone", "time_s", "pitch_cents"},
        {"movement", "notch_*", "Paths of notches", "time_s", "frequency_hz"},
        {"noise", "spectrum", "Idle noise, by twelfths of an octave", "frequency_hz", "band_dbfs"},
        {"stereo", "width", "Side against mid", "frequency_hz", "width_db"},
        {"stereo", "balance", "Right against left", "frequency_hz", "balance_db"},
        {"stereo", "correlation", "Both outputs, with programme", "frequency_hz", "correlation"},
        {"resolution", "steps", "Steps around zero", "input_lsb", "output_lsb", false, true},
        {"cost", "core", "Share of a core over the size of blocks", "block_frames", "core_percent"},
        {"loudness_shift", "momentary_out", "Loudness of the programme · thin: going in", "time_s",
         "momentary_lufs", false, false, ThinLine{"momentary_in", "going in", false, true}}};
    return all;
}

const PlotInfo* plotOf(const std::string& test, const std::string& series)
{
    const auto found = std::ranges::find_if(
        allPlots(), [&](const PlotInfo& plot) { return plot.test == test && plot.series == series; });
    return found == allPlots().end() ? nullptr : &*found;
}

namespace {

constexpr double least_drawn_db = -140; // below is the noise of 32-bit arithmetic

/// A bar for each harmonic, from the second.
Curve harmonicBars(const Reading& reading)
{
    Curve bars{"order", "level_db", {}};
    const auto list = reading.figures.find("harmonics_db");
    if (list == reading.figures.end() || !list->is_array())
        return bars;
    for (std::size_t i = 0; i < list->size(); ++i)
        if (const auto& level = (*list)[i]; level.is_number() && level.get<double>() > least_drawn_db)
            bars.points.emplace_back(static_cast<double>(i + 2), level.get<double>());
    return bars;
}

} // namespace

std::vector<Curve> curvesIn(const Reading& reading, const PlotInfo& plot)
{
    std::vector<Curve> curves;
    if (plot.series == harmonics_list) {
        if (Curve bars = harmonicBars(reading); !bars.points.empty())
            curves.push_back(std::move(bars));
        return curves;
    }
    const bool many = plot.series.ends_with('*');
    const std::string begins = plot.series.substr(0, plot.series.size() - (many ? 1 : 0));
    for (const auto& [key, curve] : reading.series)
        if ((many ? key.starts_with(begins) : key == plot.series) && !curve.points.empty())
            curves.push_back(curve);
    return curves;
}

const nlohmann::ordered_json& conditionsOf(const Reading& reading, const PlotInfo& plot)
{
    const auto place = plot.series.find("at_");
    const auto there = place == std::string::npos ? reading.conditions.end()
                                                  : reading.conditions.find(plot.series.substr(place));
    return there == reading.conditions.end() || !there->is_object() ? reading.conditions : *there;
}

std::optional<Curve> thinLineIn(const Reading& reading, const PlotInfo& plot)
{
    const auto found = plot.thin ? reading.series.find(plot.thin->series) : reading.series.end();
    return found == reading.series.end() || found->second.points.empty() ? std::nullopt
                                                                         : std::optional(found->second);
}

namespace {

std::string withUnit(const char* name, double value, const char* unit, int digits)
{
    return std::string(name) + ' ' + signal::fixedText(value, digits) + ' ' + unit;
}

/// On the line between the points around x; empty outside.
std::optional<double> heightAt(const Curve& curve, double x)
{
    const auto after = std::ranges::lower_bound(curve.points, x, {}, &std::pair<double, double>::first);
    if (after == curve.points.end() || (after == curve.points.begin() && after->first > x))
        return std::nullopt;
    if (after == curve.points.begin() || after->first == x)
        return after->second;
    const auto before = after - 1;
    const double part = (x - before->first) / (after->first - before->first);
    return before->second + part * (after->second - before->second);
}

} // namespace

Curve differenceOf(const PlotInfo& plot, const Curve& curve, const Curve& from)
{
    const auto has = [&from](double x) {
        return std::ranges::find(from.points, x, &std::pair<double, double>::first) != from.points.end();
    };
    Curve difference{curve.x, curve.y, {}};
    for (const auto& [x, y] : curve.points)
        if (const auto other = heightAt(from, x); other && (!plot.stems || has(x)))
            difference.points.emplace_back(x, y - *other);
    return difference;
}

std::vector<Mark> marksOf(const Reading& reading, const PlotInfo& plot)
{
    std::vector<Mark> marks;
    const auto curves = curvesIn(reading, plot);
    if (curves.size() != 1)
        return marks;
    const auto at = [&](std::optional<double> x, const std::string& text) {
        if (const auto y = x ? heightAt(curves.front(), *x) : std::nullopt)
            marks.push_back({*x, *y, text});
    };
    const auto figure = [&](const char* key, const char* name, const char* unit, int digits) {
        if (const auto value = reading.number(key))
            at(value, withUnit(name, *value, unit, digits));
    };
    if (plot.test == "response" && plot.series == "magnitude") {
        figure("corner_low_hz", "corner", "Hz", 1);
        figure("corner_high_hz", "corner", "Hz", 0);
    } else if (plot.series == "in_out") {
        figure("threshold_db", "threshold", "dB", 1);
        const auto threshold_db = reading.number("threshold_db");
        const auto knee_db = reading.number("knee_db");
        if (threshold_db && knee_db && *knee_db > 1)
            for (const double side : {-0.5, 0.5})
                at(*threshold_db + side * *knee_db, side < 0 ? "knee" : "");
    } else if (plot.series == "gain") {
        for (const char* which : {"attack", "release"}) {
            const auto taken = reading.series.find(std::string(which) + "_at");
            const auto value = reading.number(std::string(which) + "_ms");
            if (taken != reading.series.end() && !taken->second.points.empty() && value)
                marks.push_back({taken->second.points.front().first, taken->second.points.front().second,
                                 withUnit(which, *value, "ms", 1)});
        }
    } else if (plot.test == "noise") {
        if (const auto hum = reading.figures.find("hum_hz"); hum != reading.figures.end() && hum->is_array())
            for (const auto& line : *hum)
                if (line.is_number())
                    at(line.get<double>(), withUnit("hum", line.get<double>(), "Hz", 1));
    } else if (plot.test == "decay" && plot.series == "decay" && reading.number("rt60_s")) {
        // The line that T30 is read off.
        for (const double level_db : {-5.0, -35.0}) {
            const auto& points = curves.front().points;
            const auto from = std::ranges::find_if(points, [=](const auto& p) { return p.second <= level_db; });
            if (from != points.end())
                marks.push_back({from->first, from->second,
                                 level_db < -30 ? withUnit("T30", *reading.number("rt60_s"), "s", 2) : ""});
        }
    }
    return marks;
}

namespace {

constexpr double most_grid_lines = 16;

/// Quarters of a tempo, or every so many bars of four where there were too many.
std::vector<Mark> beatsUntil(double end_ms, double tempo_bpm)
{
    std::vector<Mark> grid;
    const double quarter_ms = 60000 / tempo_bpm;
    const double beats = end_ms / quarter_ms + 1;
    const double every = beats > most_grid_lines ? 4 * std::ceil(beats / 4 / most_grid_lines) : 1;
    for (double beat = every; beat <= beats; beat += every)
        grid.push_back({beat * quarter_ms, 0, std::to_string(std::lround(beat)) + "/4"});
    return grid;
}

/// Whole periods; the first says how fast it goes.
std::vector<Mark> periodsUntil(double end_s, double rate_hz)
{
    std::vector<Mark> grid;
    const double every = std::ceil(std::max(1.0, end_s * rate_hz) / most_grid_lines);
    for (double period = every; period <= end_s * rate_hz; period += every)
        grid.push_back({period / rate_hz, 0, grid.empty() ? withUnit("", rate_hz, "Hz", 2).substr(1) : ""});
    return grid;
}

} // namespace

std::vector<Mark> gridOf(const Reading& reading, const PlotInfo& plot)
{
    const auto curves = curvesIn(reading, plot);
    if (curves.empty())
        return {};
    const double end = curves.front().points.back().first;
    if (plot.series == "echoes") {
        const auto tempo = reading.conditions.find("tempo_bpm");
        const bool told = tempo != reading.conditions.end() && tempo->is_number() && tempo->get<double>() > 0;
        return told ? beatsUntil(end, tempo->get<double>()) : std::vector<Mark>();
    }
    if (plot.test == "movement" && (plot.series == "amplitude" || plot.series == "pitch"))
        if (const auto rate_hz = reading.number(plot.series + "_rate_hz"); rate_hz && *rate_hz > 0)
            return periodsUntil(end, *rate_hz);
    return {};
}

} // namespace hr::bench
