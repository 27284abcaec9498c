// SPDX-License-Identifier: GPL-3.0-or-later
//
// Many processors as points on a sheet, so that what behaves alike lies together.
#pragma once

#include "bench/fingerprint.h"

#include <stop_token>
#include <vector>

namespace hr::bench {

struct MapPlace {
    double x = 0.5, y = 0.5; ///< 0 to 1
};

struct LikenessMap {
    std::vector<MapPlace> places; ///< of the fingerprints, in their order
    /// Rank correlation (Spearman) of distances on the sheet with those of the fingerprints, of pairs all over:
    /// 1 where the nearer always is the more alike.
    double faithfulness = 0;
};

/// The two directions in which fingerprints differ most (principal components, H. Hotelling 1933); up to
/// most_arranged of them are then moved until distances on the sheet are as like those of the fingerprints as
/// they can be (stress majorisation: J. de Leeuw 1977). Far away is drawn nearer together. The same
/// fingerprints give the same map. Where `cancel` asks to stop, what there is by then.
LikenessMap mapOf(std::span<const Fingerprint> prints, const std::stop_token& cancel = {});

inline constexpr std::size_t most_arranged = 600;

} // namespace hr::bench
