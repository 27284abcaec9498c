// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/chain_cards.h"

#include "processors/foremost.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr auto silenced_setting = "silenced_remarks";

SmallPicture shapeOf(library::PictureOf what)
{
    switch (what) {
    case library::PictureOf::Response:
        break;
    case library::PictureOf::InOut:
        return SmallPicture::InOut;
    case library::PictureOf::Decay:
        return SmallPicture::Decay;
    }
    return SmallPicture::Response;
}

std::vector<chain::PlacementRemark> remarksOn(const chain::Chain& chain, const StageFacts& facts,
                                              const SilencedRemarks& silenced)
{
    auto remarks = chain::placementRemarks(chain, [&](const std::string& processor) {
        const StageFacts::Facts* known = facts.of(processor);
        return known ? known->entry.kind.toStdString() : std::string();
    });
    std::erase_if(remarks, [&](const auto& remark) { return silenced.contains(remark.rule); });
    return remarks;
}

std::vector<CardValue> foremostOf(const chain::Node& stage, const StageFacts& facts)
{
    const StageFacts::Facts* known = facts.of(stage.processor);
    const auto values = facts.valuesOf(stage);
    std::vector<CardValue> found;
    if (!known || values.empty())
        return found;
    for (const std::size_t i :
         processors::foremostParameters(known->info, known->entry.kind.toStdString(), ChainLayout::most_values))
        found.push_back({known->info.parameters[i], values[i]});
    return found;
}

} // namespace

SilencedRemarks::SilencedRemarks(library::Store& store) : m_store(store)
{
    const QStringList rules =
        store.setting(QLatin1String(silenced_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    m_rules = QSet<QString>(rules.begin(), rules.end());
}

Result<void> SilencedRemarks::silence(const std::string& rule)
{
    m_rules.insert(QString::fromStdString(rule));
    return m_store.setSetting(QLatin1String(silenced_setting), m_rules.values().join(QLatin1Char('\n')));
}

QStringList usualPhases()
{
    return {QObject::tr("corrective"), QObject::tr("shaping"), QObject::tr("colour"), QObject::tr("space"),
            QObject::tr("safety")};
}

std::optional<chain::PlacementRemark> remarkOn(const std::string& stage, const chain::Chain& chain,
                                               const StageFacts& facts, const SilencedRemarks& silenced)
{
    auto remarks = remarksOn(chain, facts, silenced);
    const auto found = std::ranges::find(remarks, stage, &chain::PlacementRemark::node);
    return found == remarks.end() ? std::nullopt : std::optional(std::move(*found));
}

std::vector<ChainCard> cardsOf(const chain::Chain& chain, const StageFacts& facts,
                               const StagePictures& pictures, const SilencedRemarks& silenced, bool with_values)
{
    const auto remarks = remarksOn(chain, facts, silenced);
    std::vector<ChainCard> cards;
    for (const chain::Node& node : chain.nodes) {
        ChainCard card;
        card.id = QString::fromStdString(node.id);
        card.is_stage = node.kind == chain::NodeKind::Stage;
        const QString name = facts.nameOf(node);
        const QString kind = facts.kindOf(node);
        card.title = node.purpose.empty() ? name : QString::fromStdString(node.purpose);
        card.at_work = node.on;
        if (card.is_stage) {
            const QString number = QString::number(chain::stageNumber(chain, node.id));
            card.about =
                QStringList{number, node.purpose.empty() ? kind : name}.join(QStringLiteral(" \u00b7 "));
            card.phase = QString::fromStdString(node.phase);
            card.may_move = node.may_move;
            card.blend_percent = node.blend_percent;
            card.state = kind.isEmpty() ? QObject::tr("bypassed (not installed)")
                         : node.on      ? QString()
                                        : QObject::tr("off");
            card.at_work = node.on && !kind.isEmpty();
            const auto remark = std::ranges::find(remarks, node.id, &chain::PlacementRemark::node);
            if (remark != remarks.end())
                card.remark = QString::fromStdString(remark->reason);
            const StagePicture picture = pictures.of(node);
            card.picture = shapeOf(picture.what);
            card.heights = picture.heights;
            if (with_values)
                card.values = foremostOf(node, facts);
        } else {
            card.about = kind;
        }
        cards.push_back(std::move(card));
    }
    return cards;
}

} // namespace hr::app
