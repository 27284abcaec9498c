// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/pictures.h"

#include "bench/curve.h"

#include <algorithm>
#include <cmath>

namespace hr::library {

namespace {

using bench::Points;
using bench::pointsOf;
using bench::valueAt;

char height(double value, double low, double high)
{
    const double part = std::clamp((value - low) / (high - low), 0.0, 1.0);
    return static_cast<char>(static_cast<unsigned char>(std::lround(254 * part)));
}

QByteArray responseOf(const bench::Reading& reading)
{
    const Points* points = pointsOf(reading, "magnitude");
    QByteArray heights;
    const double level_db = points ? valueAt(*points, 1000) : 0;
    for (int i = 0; points && i < Pictures::response_columns; ++i) {
        const double frequency_hz = 20 * std::pow(1000.0, i / (Pictures::response_columns - 1.0));
        heights += height(valueAt(*points, frequency_hz) - level_db, -Pictures::response_span_db,
                          Pictures::response_span_db);
    }
    return heights;
}

QByteArray inOutOf(const bench::Reading& reading)
{
    const Points* points = pointsOf(reading, "in_out");
    QByteArray heights;
    for (int i = 0; points && i < Pictures::in_out_columns; ++i) {
        const double input_dbfs = Pictures::in_out_floor_dbfs * (1 - i / (Pictures::in_out_columns - 1.0));
        heights += height(valueAt(*points, input_dbfs), Pictures::in_out_floor_dbfs, 0);
    }
    return heights;
}

QByteArray harmonicsOf(const bench::Reading& reading)
{
    QByteArray heights;
    const auto found = reading.figures.find("harmonics_db");
    if (found == reading.figures.end() || !found->is_array())
        return heights;
    for (std::size_t i = 0; i < static_cast<std::size_t>(Pictures::harmonic_bars); ++i) {
        const bool there = i < found->size() && (*found)[i].is_number();
        heights += there ? height((*found)[i].get<double>(), Pictures::harmonics_floor_db, 0) : '\0';
    }
    return heights;
}

} // namespace

Pictures picturesOf(const std::vector<std::pair<std::string, bench::Reading>>& readings)
{
    Pictures pictures;
    for (const auto& [test, reading] : readings) {
        if (test == "response")
            pictures.response = responseOf(reading);
        else if (test == "transfer")
            pictures.in_out = inOutOf(reading);
        else if (test == "harmonics")
            pictures.harmonics = harmonicsOf(reading);
    }
    return pictures;
}

} // namespace hr::library
