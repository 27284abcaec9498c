// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_opening.h"

namespace hr::app {

ChainOpening::ChainOpening(const chain::Chain& chain, const library::Store& store)
    : ChainOpening(std::vector{chain}, store)
{
}

ChainOpening::ChainOpening(const std::vector<chain::Chain>& chains, const library::Store& store)
    : m_chain(chains.empty() ? chain::Chain() : chains.front())
{
    for (const chain::Chain& chain : chains)
        for (const chain::Node& node : chain.nodes)
            if (node.kind == chain::NodeKind::Stage && !m_places.contains(node.processor))
                m_places.emplace(node.processor,
                                 store.catalogue.location(QString::fromStdString(node.processor)));
}

Result<hosting::FaultOr<audition::OpenedChain>> ChainOpening::open(const chain::Chain& chain,
                                                                   const std::stop_token& cancel) const
{
    using Opened = hosting::FaultOr<audition::OpenedChain>;
    const auto placed = chain::place(chain, [&](const std::string& id) { return m_places.at(id); });
    auto instance = hosting::openInstance(placed.location, {.cancel = cancel});
    if (!instance)
        return Opened(tl::make_unexpected(instance.error()));
    auto values = chain::values(chain, (*instance)->info());
    if (!values)
        return tl::make_unexpected(values.error());
    return Opened(audition::OpenedChain{std::move(*instance), std::move(*values), placed.location});
}

QString inWords(const Error& error)
{
    return QString::fromStdString(error.text);
}

QString inWords(const hosting::Fault& fault)
{
    return QObject::tr("A stage %1").arg(QString::fromStdString(hosting::sentence(fault)));
}

} // namespace hr::app
