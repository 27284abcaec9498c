// SPDX-License-Identifier: GPL-3.0-or-later
//
// What stands on the stages of the chain on Build.
#pragma once

#include "chain/placement.h"
#include "models/chain_draft.h"
#include "models/stage_facts.h"
#include "models/stage_pictures.h"
#include "widgets/chain_picture.h"

namespace hr::app {

/// Rules of chain/placement.h that the user does not want to be told of any more.
class SilencedRemarks {
public:
    explicit SilencedRemarks(library::Store& store);
    bool contains(const std::string& rule) const { return m_rules.contains(QString::fromStdString(rule)); }
    Result<void> silence(const std::string& rule);

private:
    library::Store& m_store;
    QSet<QString> m_rules;
};

std::vector<ChainCard> cardsOf(const chain::Chain& chain, const StageFacts& facts,
                               const StagePictures& pictures, const SilencedRemarks& silenced,
                               bool with_values);

/// The remark about a stage, as it stands; empty: there is none.
std::optional<chain::PlacementRemark> remarkOn(const std::string& stage, const chain::Chain& chain,
                                               const StageFacts& facts, const SilencedRemarks& silenced);

/// What phases are called that nobody has to invent.
QStringList usualPhases();

} // namespace hr::app
