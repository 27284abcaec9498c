// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/chain_edits.h"

#include "pages/build/add_stage.h"

#include <algorithm>

namespace hr::app {

std::string ChainEdits::currentId() const
{
    return m_picture.current().toStdString();
}

std::set<std::string> ChainEdits::chosen() const
{
    std::set<std::string> ids;
    for (const QString& id : m_picture.chosen())
        ids.insert(id.toStdString());
    return ids;
}

std::vector<std::string> ChainEdits::chosenStages() const
{
    std::vector<std::string> ids;
    for (const QString& id : m_picture.chosen())
        if (const chain::Node* node = m_services.draft.node(id.toStdString());
            node && node->kind == chain::NodeKind::Stage)
            ids.push_back(node->id);
    return ids;
}

QString ChainEdits::numberOf(const std::string& id) const
{
    const chain::Node* node = m_services.draft.node(id);
    const std::size_t number = chain::stageNumber(m_services.draft.chain(), id);
    return !node ? QString() : number == 0 ? m_services.facts.nameOf(*node) : QString::number(number);
}

std::optional<chain::Edge> ChainEdits::edgeOf(std::optional<std::size_t> path) const
{
    const auto& paths = m_picture.chainLayout().drawing().paths;
    return path && *path < paths.size() ? std::optional(paths[*path].edge) : std::nullopt;
}

void ChainEdits::edit(const std::function<chain::Edited(const chain::Chain&)>& how)
{
    std::set<std::string> before;
    for (const chain::Node& node : m_services.draft.chain().nodes)
        before.insert(node.id);
    if (!m_services.draft.edit(how))
        return;
    bool others = false;
    for (const chain::Node& node : m_services.draft.chain().nodes)
        if (!before.contains(node.id) && node.kind == chain::NodeKind::Stage)
            m_picture.choose(QString::fromStdString(node.id), std::exchange(others, true));
}

void ChainEdits::editWithFound(const QString& what,
                               const std::function<chain::Edited(const chain::Chain&, chain::Node)>& how)
{
    AddStage::open(m_services, &m_picture,
                   m_picture.mapToGlobal(m_picture.placeOf(m_picture.current()).bottomLeft()), what,
                   [this, how](const chain::Node& stage) {
                       edit([&](const chain::Chain& chain) { return how(chain, stage); });
                   });
}

QString ChainEdits::numbersOf(const std::vector<std::string>& ids) const
{
    QStringList numbers;
    for (const std::string& id : ids)
        numbers << numberOf(id);
    return numbers.join(QStringLiteral(", "));
}

} // namespace hr::app
