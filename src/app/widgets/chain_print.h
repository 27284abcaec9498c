// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain as it is drawn, on sheets of A4: as many strips below one another as its length needs.
#pragma once

#include "signal/result.h"
#include "widgets/chain_layout.h"

#include <filesystem>

namespace hr::app {

/// Where the strips begin and end, in columns: each as wide as `width` at most, or one column.
std::vector<std::pair<int, int>> stripsOf(const ChainLayout& layout, double width);

/// As PDF. A failure leaves the file that was there.
Result<void> printChain(const ChainLayout& layout, const QString& title, const std::filesystem::path& file);

} // namespace hr::app
