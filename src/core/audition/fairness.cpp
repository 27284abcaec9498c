// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/fairness.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

Fairness fairnessOf(std::span<const Part> parts, Basis basis, std::size_t reference)
{
    std::vector<std::optional<double>> levels;
    for (const Part& part : parts)
        levels.push_back(part.by_hand_db ? std::nullopt : part.loop.levels.by(basis));
    Fairness fairness;
    fairness.matched_db = matchingGainsDb(levels);
    for (std::size_t i = 0; i < parts.size(); ++i)
        if (parts[i].by_hand_db) {
            auto with_it = levels;
            with_it[i] = parts[i].loop.levels.by(basis);
            fairness.matched_db[i] = matchingGainsDb(with_it)[i];
        }
    fairness.gains_db = fairness.matched_db;
    std::vector<std::optional<double>> after;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        fairness.gains_db[i] = parts[i].by_hand_db.value_or(fairness.gains_db[i]);
        const auto& loudness = parts[i].loop.levels.loudness_lufs;
        after.push_back(loudness ? std::optional(*loudness + fairness.gains_db[i]) : std::nullopt);
        if (after.back())
            fairness.common_lufs = std::min(fairness.common_lufs.value_or(*after.back()), *after.back());
    }
    if (after[reference])
        fairness.common_lufs = after[reference];
    for (const auto& loudness : after)
        fairness.apart_lu.push_back(loudness ? std::optional(*loudness - *fairness.common_lufs) : std::nullopt);
    return fairness;
}

double Fairness::withinLu(std::span<const Part> parts) const
{
    double worst = 0;
    for (std::size_t i = 0; i < parts.size(); ++i)
        if (apart_lu[i])
            worst = std::max(worst, std::abs(*apart_lu[i]) + parts[i].loop.spread_lu);
    return worst;
}

} // namespace hr::audition
