// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chance on Build: random settings of stages within limits, those that are held as they are, and the way back
// through the last fifty. What was drawn is an edit like any other, heard behind the limiter of the output.
#pragma once

#include "models/chain_draft.h"
#include "models/stage_facts.h"

#include <deque>
#include <random>

namespace hr::app {

class ChainChance : public QObject {
    Q_OBJECT
public:
    static constexpr std::size_t most_kept = 50;

    ChainChance(ChainDraft& draft, const StageFacts& facts, QObject* parent = nullptr);

    /// Other settings of these stages.
    void draw(const std::vector<std::string>& stages);
    /// To the variation before or after the one that stands; the chain as it was before the first is among
    /// them. False where there is none.
    bool step(int by);
    /// What stands is forgotten, and the one before it stands again; false where nothing was drawn.
    bool throwAway();
    std::size_t count() const { return m_tried.size(); }

    // By node and key of a parameter:
    void hold(const std::string& node, const std::string& key, bool on);
    bool isHeld(const std::string& node, const std::string& key) const { return m_held.contains({node, key}); }
    using Limits = std::optional<std::pair<double, double>>;
    void setLimits(const std::string& node, const std::string& key, const Limits& limits);
    Limits limits(const std::string& node, const std::string& key) const;

signals:
    void changed();

private:
    using Place = std::pair<std::string, std::string>;
    void forget();
    void keepWhatStands();
    void show(std::size_t which);

    ChainDraft& m_draft;
    const StageFacts& m_facts;
    std::set<Place> m_held;
    std::map<Place, std::pair<double, double>> m_limits;
    std::deque<chain::Chain> m_tried; // in the order in which they were drawn
    std::size_t m_at = 0;
    std::mt19937_64 m_random{std::random_device{}()};
};

} // namespace hr::app
