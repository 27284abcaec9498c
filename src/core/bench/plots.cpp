// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/plots.h"

#include <algorithm>
#include <map>

namespace hr::bench {

Quantity quantityOf(const std::string& axis)
{
    static const std::map<std::string, Quantity> all{{"frequency_hz", {"frequency", "Hz", true, 0, 0}},
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
                                                     {"pitch_cents", {"pitch", "cent", false, 10, 1}},
                                                     {"width_db", {"width", "dB", false, 12, 2}}};
    const auto found = all.find(axis);
    return found == all.end() ? Quantity{axis, {}} : found->second;
}

const std::vector<PlotInfo>& allPlots()
{
    static const std::vector<PlotInfo> all{
        {"response", "magnitude", "Magnitude", "frequency_hz", "magnitude_db"},
        {"response", "phase", "Phase", "frequency_hz", "phase_deg"},
        {"response", "group_delay", "Group delay", "frequency_hz", "group_delay_ms"},
        {"harmonics", "thd_over_level", "Distortion over level", "level_dbfs", "thd_percent"},
        {"harmonics", "thd_over_frequency", "Distortion over frequency", "frequency_hz", "thd_percent"},
        {"aliasing", "alias_over_frequency", "Worst alias of each tone", "frequency_hz", "alias_db"},
        {"transfer", "in_out", "Settled levels", "input_dbfs", "output_dbfs"},
        {"timing", "gain", "Gain after a step up, and down", "time_ms", "gain_db"},
        {"detector", "sensitivity", "Sensitivity of the detector", "frequency_hz", "offset_db"},
        {"key_input", "in_out", "What the key's level does", "input_dbfs", "output_dbfs"},
        {"key_input", "gain", "Gain after a step of the key", "time_ms", "gain_db"},
        {"decay", "rt60", "Reverberation time by octave", "frequency_hz", "rt60_s"},
        {"echoes", "echoes", "Echoes", "time_ms", "level_db", true},
        {"movement", "amplitude", "Level of a steady tone", "time_s", "level_dbfs"},
        {"movement", "pitch", "Pitch of a steady tone", "time_s", "pitch_cents"},
        {"movement", "notch_*", "Paths of notches", "time_s", "frequency_hz"},
        {"stereo", "width", "Side against mid", "frequency_hz", "width_db"}};
    return all;
}

const PlotInfo* plotOf(const std::string& test, const std::string& series)
{
    const auto found = std::ranges::find_if(
        allPlots(), [&](const PlotInfo& plot) { return plot.test == test && plot.series == series; });
    return found == allPlots().end() ? nullptr : &*found;
}

std::vector<const Curve*> curvesIn(const Reading& reading, const PlotInfo& plot)
{
    const bool many = plot.series.ends_with('*');
    const std::string begins = plot.series.substr(0, plot.series.size() - (many ? 1 : 0));
    std::vector<const Curve*> curves;
    for (const auto& [key, curve] : reading.series)
        if ((many ? key.starts_with(begins) : key == plot.series) && !curve.points.empty())
            curves.push_back(&curve);
    return curves;
}

} // namespace hr::bench
