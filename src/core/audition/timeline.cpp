// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/timeline.h"

#include <algorithm>
#include <limits>

namespace hr::audition {

Timeline::Timeline(std::shared_ptr<const Source> the_source, Section the_loop, std::size_t start_in_loop)
    : source(std::move(the_source)), loop(the_loop), start(start_in_loop)
{
}

Timeline::Timeline(std::shared_ptr<const RecentInput> input)
    : live(std::move(input)), loop(wrapOf(live->rateHz())), start(live->arrived()), pace(live->rateHz())
{
}

std::size_t Timeline::availableFrom(std::uint64_t frame) const
{
    if (!live)
        return std::numeric_limits<std::size_t>::max();
    const std::size_t end = live->arrived();
    return end - std::min<std::size_t>(end, start + frame);
}

void Timeline::read(std::int64_t frame, float* left, float* right, std::size_t count) const
{
    const auto before =
        static_cast<std::size_t>(std::clamp<std::int64_t>(-frame, 0, static_cast<std::int64_t>(count)));
    std::fill_n(left, before, 0.0F);
    std::fill_n(right, before, 0.0F);
    if (before == count)
        return;
    const auto first = static_cast<std::uint64_t>(frame + static_cast<std::int64_t>(before));
    if (live)
        live->read(start + first, left + before, right + before, count - before);
    else
        source->read(loop, frameOfLoop(first), left + before, right + before, count - before);
}

} // namespace hr::audition
