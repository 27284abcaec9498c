// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/assemble.h"

#include "processors/reference/registry.h"
#include "processors/series.h"
#include "processors/stereo_adapter.h"

namespace hr::hosting {

using processors::Processor;
using processors::Series;
using processors::StereoAdapter;

namespace {

FaultOr<std::unique_ptr<Processor>> madeStereo(const Location& location, const LoadOne& load)
{
    auto first = load(location);
    if (!first)
        return first;
    std::unique_ptr<Processor> second;
    if (StereoAdapter::needsTwo((*first)->info())) {
        auto loaded = load(location);
        if (!loaded)
            return loaded;
        second = std::move(*loaded);
    }
    return std::make_unique<StereoAdapter>(std::move(*first), std::move(second));
}

FaultOr<std::unique_ptr<Processor>> chainOf(const Location& location, const LoadOne& load)
{
    Series::Stages stages;
    for (std::size_t i = 0; i < location.stages.size(); ++i) {
        const Location& place = location.stages[i];
        if (isMissing(place)) {
            stages.push_back(nullptr);
            continue;
        }
        auto stage = madeStereo(place, load);
        if (!stage) {
            Fault named = stage.error();
            named.detail = "stage " + std::to_string(i + 1) + ", " + place.id + ": " + named.detail;
            return tl::make_unexpected(named);
        }
        stages.push_back(std::move(*stage));
    }
    return std::make_unique<Series>(location.id, location.id.substr(location.id.find(':') + 1),
                                    std::move(stages));
}

} // namespace

bool isMissing(const Location& location)
{
    return location.stages.empty() && location.bundle.empty() && !processors::isReferenceId(location.id);
}

FaultOr<std::unique_ptr<Processor>> assemble(const Location& location, Channels channels, const LoadOne& load)
{
    if (!location.stages.empty())
        return chainOf(location, load);
    return channels == Channels::Stereo ? madeStereo(location, load) : load(location);
}

} // namespace hr::hosting
