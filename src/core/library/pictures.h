// SPDX-License-Identifier: GPL-3.0-or-later
//
// Small pictures of what was measured, for lists of thousands: a few dozen bytes a processor, each byte a
// height from 0 to 254. An empty one was not measured.
#pragma once

#include "bench/suite.h"

#include <QByteArray>

namespace hr::library {

struct Pictures {
    static constexpr int response_columns = 40;        ///< 20 Hz to 20 kHz, evenly by octaves
    static constexpr double response_span_db = 24;     ///< heights from -24 to +24 dB around the gain at 1 kHz
    static constexpr int in_out_columns = 32;          ///< input -60 to 0 dBFS
    static constexpr double in_out_floor_dbfs = -60;   ///< heights from there to 0 dBFS of output
    static constexpr int harmonic_bars = 7;            ///< second to eighth
    static constexpr double harmonics_floor_db = -120; ///< heights from there to 0 dB of the fundamental

    QByteArray response, in_out, harmonics;

    friend bool operator==(const Pictures&, const Pictures&) = default;
};

/// What shows best what a processor does, and the test that finds it.
enum class PictureOf { Response, InOut, Decay };
PictureOf pictureOf(const std::string& kind); ///< as of processors/kinds.h
std::string testOf(PictureOf what);
/// Heights like those above, of a reading of that test; empty where it shows nothing. A decay begins at the
/// left with 0 dB and is 60 dB high.
QByteArray heightsOf(PictureOf what, const bench::Reading& reading);

/// Of the tests that are among the readings.
Pictures picturesOf(const std::vector<std::pair<std::string, bench::Reading>>& readings);

} // namespace hr::library
