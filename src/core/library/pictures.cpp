// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/pictures.h"

#include "bench/curve.h"
#include "processors/kinds.h"

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

QByteArray decayOf(const bench::Reading& reading)
{
    constexpr int columns = 40;
    constexpr double floor_db = -60;
    const Points* points = pointsOf(reading, "decay");
    QByteArray heights;
    if (!points || points->size() < 2)
        return heights;
    const auto end = std::ranges::find_if(*points, [](const auto& point) { return point.second < floor_db; });
    const double last_s = end == points->end() ? points->back().first : end->first;
    for (int i = 0; i < columns; ++i)
        heights += height(valueAt(*points, last_s * i / (columns - 1.0)), floor_db, 0);
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

PictureOf pictureOf(const std::string& kind)
{
    const std::string_view sort = processors::kindAbove(kind);
    if (kind == "dynamics" || sort == "dynamics" || kind == "saturation" || sort == "saturation")
        return PictureOf::InOut;
    return kind == "reverb" || kind == "delay" ? PictureOf::Decay : PictureOf::Response;
}

std::string testOf(PictureOf what)
{
    switch (what) {
    case PictureOf::Response:
        break;
    case PictureOf::InOut:
        return "transfer";
    case PictureOf::Decay:
        return "decay";
    }
    return "response";
}

QByteArray heightsOf(PictureOf what, const bench::Reading& reading)
{
    switch (what) {
    case PictureOf::Response:
        break;
    case PictureOf::InOut:
        return inOutOf(reading);
    case PictureOf::Decay:
        return decayOf(reading);
    }
    return responseOf(reading);
}

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
