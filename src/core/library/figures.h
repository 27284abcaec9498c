// SPDX-License-Identifier: GPL-3.0-or-later
//
// The few figures that a list of thousands is sorted by, and what a processor behaves like, of the newest
// readings of each test at the settings it has as new.
#pragma once

#include "bench/suite.h"

#include <QString>

namespace hr::library {

struct Figures {
    std::optional<double> thd_percent;     ///< at 1 kHz, -12 dBFS
    std::optional<double> realtime_factor; ///< seconds of audio a second of one core
    std::optional<double> latency_samples; ///< found, else reported
    std::optional<double> shift_lu;        ///< what switching it in does to loudness
    std::optional<double> idle_dbfs;       ///< noise with nothing going in; empty: not measured, or none
    QString behaves_like;                  ///< a kind (bench/behaviour.h); empty: not known

    friend bool operator==(const Figures&, const Figures&) = default;
};

Figures figuresOf(const std::vector<std::pair<std::string, bench::Reading>>& readings);

/// What `fresh` does not know is taken from `before`.
Figures merged(const Figures& fresh, const Figures& before);

} // namespace hr::library
