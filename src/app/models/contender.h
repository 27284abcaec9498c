// SPDX-License-Identifier: GPL-3.0-or-later
//
// One that is heard: the untreated source, or a candidate. Its id is its own for life, its mark (letter, shape,
// colour) for as long as it stands in the line-up; where it stands is the line-up's.
#pragma once

#include "audition/mix_loudness.h"
#include "audition/scene.h"
#include "chain/chain.h"
#include "library/collections.h"
#include "processors/settings.h"

#include <QString>
#include <array>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

namespace hr::app {

/// Of the user's own presets and the maker's; `id` as of library::Preset.
struct AppliedPreset {
    QString id, name;
    bool changed = false; ///< something has been moved since
};

enum class MatchState { Waiting, Matched, Silent, Failed };

struct Contender {
    audition::ContenderId id = audition::no_contender;
    std::uint32_t generation = 1; ///< another build, or put back: what was told of an older one is not of this
    int mark = 0;                 ///< 0: the untreated source; 1 to 8: A to H

    QString processor; ///< its id in the catalogue; empty: the untreated source, or a chain
    QString title;
    QString maker;
    processors::ProcessorInfo described; ///< of a chain: empty until it is open
    processors::ProcessorInfo info;      ///< the same at the rate at which it plays
    hosting::Location location;
    std::vector<double> values;
    std::vector<processors::Setting> kept_settings; ///< of a processor that could not be opened
    std::optional<chain::Chain> chain;              ///< as it was opened, where it is one
    struct Rendered {
        QString file;
        QString of; ///< the source it was rendered from: nothing is heard of it on another
    };
    std::optional<Rendered> rendered;   ///< where it is a file that was rendered before
    bool out_of_place = false;          ///< it is, and another source plays
    nlohmann::ordered_json kept_extras; ///< of one that is not open: what a document says beside it
    bool opening = false;               ///< of a chain: what it holds is being looked up

    QString name;                 ///< what it is called here ("the classic"), where that is not its title
    bool on = true;               ///< switched off, it is the source, in its place and matched
    std::set<std::size_t> held;   ///< parameters that presets and random settings leave alone
    std::set<std::size_t> pinned; ///< parameters that are seen first
    bool all_seen = false;        ///< not only those that are seen first
    processors::Limits limits;    ///< between which random settings stay
    std::map<std::size_t, QString> notes; ///< parameters whose value was given as a note ("1/8.")
    bool follows_tempo = false;           ///< these follow the tempo of the source
    std::optional<AppliedPreset> preset;
    std::array<std::optional<std::vector<double>>, 4> snapshots;
    /// Settings that are being matched: they are taken, whole, once that is known.
    struct Pending {
        std::vector<double> values;
        std::optional<AppliedPreset> preset;
        std::string state; ///< as of hosting::Location
    };
    std::optional<Pending> pending;

    /// Another form of the chain that it is, opened and being matched: taken, whole, once that is known.
    struct ChangedChain {
        chain::Chain chain;
        hosting::Location location;
        processors::ProcessorInfo described, info;
        std::vector<double> values;
    };
    std::optional<ChangedChain> changed_chain;
    bool chain_opens = false;     ///< another form of it is being opened
    std::uint32_t chain_turn = 0; ///< of the change asked for last: what is told of an earlier one is not of it

    double amount_percent = 100; ///< of it beside the source, where it is an insert
    double return_db = 0;        ///< at which it comes back, where it is on a send

    MatchState match = MatchState::Waiting;
    audition::LoopLoudness loop;                       ///< before matching
    std::optional<audition::LoopLoudness> live_loop;   ///< live: of what came in last, in place of that
    std::optional<double> by_hand_db;                  ///< the user's own gain, in place of the matching
    bool gain_known = false;                           ///< it has been matched since it is what it is
    double gain_db = 0;                                ///< what the matching took, or the user's own
    double matched_db = 0;                             ///< what the matching would take
    std::optional<double> apart_lu;                    ///< at that gain, from the reference; empty: no loudness
    std::optional<audition::Difference> difference;    ///< from the reference; empty: not known
    std::optional<audition::MixLoudness> mix_loudness; ///< at these settings; empty: not known
    QString fault;                                     ///< why it is silent

    bool isUntreated() const { return mark == 0; }
    const QString& calledHere() const { return name.isEmpty() ? title : name; }
    const audition::LoopLoudness& heardLoop() const { return live_loop ? *live_loop : loop; }
    const std::optional<double>& loudnessLufs() const { return heardLoop().levels.loudness_lufs; }
    /// How far from the reference, at the most, a repetition of it may be heard.
    double unfairLu() const;
    /// Whether it can be heard and measured: a chain that could not be opened cannot.
    bool isOpen() const { return isUntreated() || (!info.id.empty() && !out_of_place); }
    /// By the bench.
    bool isBeingChanged() const { return pending || changed_chain || chain_opens; }
    bool isMeasurable() const { return isOpen() && !isUntreated() && !rendered; }
    std::vector<processors::Setting> settings() const; ///< those that differ from the defaults
    std::vector<processors::Setting>
    settings(const std::vector<double>& of_values) const; ///< the same of others
    /// All of them, whether they differ or not.
    std::vector<processors::Setting> allSettings(const std::vector<double>& of_values) const;
    chain::Chain chainNow() const;        ///< of one that is a chain, with its values as they are
    library::CollectionItem item() const; ///< as it is kept
};

library::CollectionItem itemOf(const chain::Chain& chain);

} // namespace hr::app
