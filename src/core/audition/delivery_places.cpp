// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/delivery_places.h"

#include <set>

namespace hr::audition {

namespace fs = std::filesystem;

Result<std::vector<DeliveryPlace>> deliveryPlaces(const std::vector<fs::path>& sources, const fs::path& folder,
                                                  const std::string& ending)
{
    std::error_code failed;
    if (!fs::is_directory(folder, failed))
        return wrongRequest("There is no folder " + folder.string() + ": make it first, or choose another.");
    std::vector<DeliveryPlace> places;
    std::set<fs::path> taken;
    for (const fs::path& source : sources) {
        DeliveryPlace place{source, folder / (source.stem().string() + "." + ending)};
        if (!taken.insert(place.written).second)
            return wrongRequest("Two sources would both be written to " + place.written.string() +
                                ": rename one, or deliver them into different folders.");
        places.push_back(std::move(place));
    }
    for (const DeliveryPlace& place : places)
        for (const fs::path& source : sources)
            if (fs::equivalent(place.written, source, failed) && !failed)
                return wrongRequest(place.written.string() +
                                    " is a source itself, and is not overwritten: choose another folder.");
    return places;
}

} // namespace hr::audition
