// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/figures.h"

#include "bench/behaviour.h"

namespace hr::library {

Figures figuresOf(const std::vector<std::pair<std::string, bench::Reading>>& readings)
{
    Figures figures;
    for (const auto& [test, reading] : readings) {
        if (test == "harmonics") {
            figures.thd_percent = reading.number("thd_percent");
        } else if (test == "cost") {
            figures.realtime_factor = reading.number("realtime_factor");
            const auto found = reading.number("latency_found_samples");
            figures.latency_samples = found ? found : reading.number("latency_reported_samples");
        } else if (test == "loudness_shift") {
            figures.shift_lu = reading.number("shift_lu");
        } else if (test == "noise") {
            figures.idle_dbfs = reading.number("idle_dbfs");
        }
    }
    if (const auto kind = bench::behavesLike(readings))
        figures.behaves_like = QString::fromStdString(*kind);
    return figures;
}

Figures merged(const Figures& fresh, const Figures& before)
{
    Figures both = fresh;
    for (auto figure : {&Figures::thd_percent, &Figures::realtime_factor, &Figures::latency_samples,
                        &Figures::shift_lu, &Figures::idle_dbfs})
        if (!(both.*figure))
            both.*figure = before.*figure;
    if (both.behaves_like.isEmpty())
        both.behaves_like = before.behaves_like;
    return both;
}

} // namespace hr::library
