// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/placement.h"

#include "chain/part.h"

#include <algorithm>
#include <set>

namespace hr::chain {

namespace {

using Kinds = std::set<std::string>;

/// A stage of `kinds` with one of `others` somewhere before it, or behind it.
struct Rule {
    const char* name;
    Kinds kinds;
    bool others_before;
    Kinds others;
    const char* reason;
};

const Kinds compressing{"dynamics", "compressor", "limiter", "multiband"};
const Kinds gating{"gate", "expander"};
const Kinds spatial{"reverb", "delay"};
const Kinds bending{"saturation", "distortion", "resolution"};
const Kinds moving{"modulation", "chorus", "flanger", "phaser", "vibrato"};

Kinds together(std::initializer_list<Kinds> sets)
{
    Kinds all;
    for (const Kinds& set : sets)
        all.insert(set.begin(), set.end());
    return all;
}

const std::vector<Rule>& rules()
{
    static const std::vector<Rule> all{
        {"limiter-before-level",
         {"limiter"},
         false,
         together({compressing, bending, spatial, moving, {"equaliser", "filter", "pitch"}}),
         "What follows a limiter can lift peaks above its ceiling again."},
        {"gate-behind-space", gating, true, spatial, "It cuts off the tails of what comes before it."},
        {"gate-behind-compressor", gating, true, compressing,
         "What compresses brings noise closer to the sound: before it, a gate tells them apart more easily."},
        {"compressor-behind-space",
         {"compressor", "multiband"},
         true,
         spatial,
         "It brings up the tails of what comes before it."},
        {"restoration-late",
         {"restoration"},
         true,
         together({compressing, bending, spatial, moving, {"equaliser", "pitch"}}),
         "Noise, hum and clicks are told apart best in the untouched sound."},
        {"pitch-behind-effects",
         {"pitch"},
         true,
         together({bending, spatial, moving}),
         "Pitch is found most surely in a dry, clean sound."},
    };
    return all;
}

struct StageOfKind {
    std::string node, kind;
};

/// Stages that all of the sound passes, in order, as they are heard.
std::vector<StageOfKind> standing(const Chain& chain,
                                  const std::function<std::string(const std::string&)>& kind_of)
{
    std::vector<StageOfKind> found;
    if (!chain.isSeries())
        return found;
    for (const Node& node : chain.nodes)
        if (node.kind == NodeKind::Stage && node.on && node.blend_percent == 100)
            found.push_back({node.id, kind_of(node.processor)});
    return found;
}

} // namespace

std::vector<PlacementRemark>
placementRemarks(const Chain& chain, const std::function<std::string(const std::string& processor)>& kind_of)
{
    std::vector<PlacementRemark> remarks;
    const auto stages = standing(chain, kind_of);
    for (std::size_t i = 0; i < stages.size(); ++i) {
        const auto said = [&](const Rule& rule) {
            if (!rule.kinds.contains(stages[i].kind))
                return false;
            const std::span<const StageOfKind> all(stages);
            const auto others = rule.others_before ? all.first(i) : all.subspan(i + 1);
            const auto other = std::ranges::find_if(
                others, [&](const StageOfKind& one) { return rule.others.contains(one.kind); });
            if (other == others.end())
                return false;
            remarks.push_back({stages[i].node, other->node, rule.name, rule.reason});
            return true;
        };
        (void)std::ranges::any_of(rules(), said);
    }
    return remarks;
}

} // namespace hr::chain
