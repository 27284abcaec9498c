// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where several sources are delivered to, so that none is overwritten.
#pragma once

#include "signal/result.h"

#include <filesystem>
#include <vector>

namespace hr::audition {

struct DeliveryPlace {
    std::filesystem::path source, written;
};

/// Each source under its own name in `folder`, with this ending ("wav"). Refused: a folder that is not there,
/// two sources that would be one file, and a file that is one of the sources.
Result<std::vector<DeliveryPlace>> deliveryPlaces(const std::vector<std::filesystem::path>& sources,
                                                  const std::filesystem::path& folder,
                                                  const std::string& ending);

} // namespace hr::audition
