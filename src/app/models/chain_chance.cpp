// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_chance.h"

#include "chain/chain_json.h"
#include "processors/settings.h"

#include <algorithm>

namespace hr::app {

ChainChance::ChainChance(ChainDraft& draft, const StageFacts& facts, QObject* parent)
    : QObject(parent), m_draft(draft), m_facts(facts)
{
    connect(&m_draft, &ChainDraft::replaced, this, &ChainChance::forget);
}

/// It was about another chain.
void ChainChance::forget()
{
    m_tried.clear();
    m_held.clear();
    m_limits.clear();
    m_at = 0;
    emit changed();
}

void ChainChance::draw(const std::vector<std::string>& stages)
{
    chain::Chain after = m_draft.chain();
    for (chain::Node& node : after.nodes) {
        const StageFacts::Facts* facts = m_facts.of(node.processor);
        auto values = m_facts.valuesOf(node);
        if (std::ranges::find(stages, node.id) == stages.end() || !facts || values.empty())
            continue;
        std::set<std::size_t> held;
        processors::Limits between;
        for (std::size_t i = 0; i < values.size(); ++i) {
            const Place place{node.id, facts->info.parameters[i].key};
            if (m_held.contains(place))
                held.insert(i);
            if (const auto known = m_limits.find(place); known != m_limits.end())
                between[i] = known->second;
        }
        values = processors::randomValues(facts->info, std::move(values), held, between, m_random);
        node.settings = processors::settingsOf(facts->info, values);
    }
    keepWhatStands();
    m_tried.push_back(after);
    while (m_tried.size() > most_kept)
        m_tried.pop_front();
    show(m_tried.size() - 1);
}

/// It may have been turned by hand since it was drawn.
void ChainChance::keepWhatStands()
{
    if (m_tried.empty()) {
        m_tried.push_back(m_draft.chain());
    } else if (chain::toText(m_tried[m_at]) != chain::toText(m_draft.chain())) {
        ++m_at;
        m_tried.insert(m_tried.begin() + static_cast<std::ptrdiff_t>(m_at), m_draft.chain());
    }
}

void ChainChance::show(std::size_t which)
{
    m_at = which;
    m_draft.change(m_tried[which]);
    emit changed();
}

bool ChainChance::step(int by)
{
    if (!m_tried.empty())
        keepWhatStands();
    const auto to = static_cast<std::ptrdiff_t>(m_at) + by;
    if (to < 0 || to >= static_cast<std::ptrdiff_t>(m_tried.size()))
        return false;
    show(static_cast<std::size_t>(to));
    return true;
}

bool ChainChance::throwAway()
{
    if (m_at == 0 || m_tried.empty())
        return false;
    m_tried.erase(m_tried.begin() + static_cast<std::ptrdiff_t>(m_at));
    show(m_at - 1);
    return true;
}

void ChainChance::hold(const std::string& node, const std::string& key, bool on)
{
    if (on)
        m_held.insert({node, key});
    else
        m_held.erase({node, key});
    emit changed();
}

void ChainChance::setLimits(const std::string& node, const std::string& key, const Limits& limits)
{
    if (limits)
        m_limits[{node, key}] = *limits;
    else
        m_limits.erase({node, key});
    emit changed();
}

ChainChance::Limits ChainChance::limits(const std::string& node, const std::string& key) const
{
    const auto known = m_limits.find({node, key});
    return known == m_limits.end() ? Limits() : Limits(known->second);
}

} // namespace hr::app
