// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/neutral.h"

#include <algorithm>
#include <cmath>

namespace hr::audition {

namespace {

using hosting::FaultOr;

} // namespace

Result<FaultOr<std::map<std::string, double>>>
neutralTrims(const chain::Chain& chain, const std::vector<std::string>& stages, const OpenPart& open,
             const std::filesystem::path& file, const std::stop_token& cancel)
{
    using Trims = std::map<std::string, double>;
    constexpr double least_trim_db = -60, most_trim_db = 24;
    auto schedule = chain::scheduleOf(chain);
    if (!schedule)
        return tl::make_unexpected(schedule.error());
    chain::Chain trimmed = chain;
    Trims trims;
    for (const std::string& id : *schedule) {
        chain::Node* node = trimmed.node(id);
        if (std::ranges::find(stages, id) == stages.end() || node->kind != chain::NodeKind::Stage || !node->on)
            continue;
        std::array<std::optional<double>, 2> lufs; // bypassed, at work
        for (const bool on : {false, true}) {
            if (cancel.stop_requested())
                return FaultOr<Trims>(hosting::fault(hosting::Phase::Run, hosting::Cause::Cancelled, {}));
            node->on = on;
            auto part = chain::upTo(trimmed, id);
            if (!part)
                return tl::make_unexpected(part.error());
            auto played = playedThrough(*part, open, file, cancel);
            if (!played)
                return tl::make_unexpected(played.error());
            if (!*played)
                return FaultOr<Trims>(tl::make_unexpected(played->error()));
            lufs[on ? 1 : 0] = (*played)->loudness.integrated_lufs;
        }
        if (!lufs[0] || !lufs[1])
            continue;
        const double trim_db = std::clamp(node->trim_db + *lufs[0] - *lufs[1], least_trim_db, most_trim_db);
        node->trim_db = trims[id] = std::round(100 * trim_db) / 100;
    }
    return FaultOr<Trims>(std::move(trims));
}

} // namespace hr::audition
