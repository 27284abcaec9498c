// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/chain_layout.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

using chain::DrawnNode;
using chain::DrawnPath;

constexpr double box_width = 176, box_height = 76;
constexpr double beside_values = 9, below_values = 6; // to the edges of a stage
constexpr double part_width = 62, part_height = 34;
constexpr double end_width = 40;
constexpr double lane_gap = 12, path_height = 16;
constexpr double edge = 4;       // around all
constexpr double left_edge = 30; // the scale of levels stands there, below

bool isEndOfChain(const std::string& id)
{
    return id == processors::chain_input || id == processors::chain_output;
}

double heightOf(const ChainCard* card)
{
    if (!card || !card->is_stage)
        return part_height;
    return box_height + static_cast<double>(card->values.size()) * ChainLayout::value_height;
}

} // namespace

ChainLayout::ChainLayout(chain::Drawing drawing, std::vector<ChainCard> cards)
    : m_drawing(std::move(drawing)), m_cards(std::move(cards))
{
    struct Need {
        double height = path_height, below = 0;
    };
    std::vector<Need> needs(static_cast<std::size_t>(m_drawing.lanes));
    double left = left_edge;
    for (const DrawnNode& node : m_drawing.nodes) {
        const ChainCard* shown = cardOf(node);
        const bool is_stage = shown && shown->is_stage;
        const double width = isEndOfChain(node.id) ? end_width : is_stage ? box_width : part_width;
        m_columns.push_back({left, width});
        left += width + column_gap;
        Need& need = needs[static_cast<std::size_t>(node.lane)];
        need.height = std::max(need.height, heightOf(shown));
        if (is_stage && shown->blend_percent < 100)
            need.below = dry_drop + dry_words_height / 2;
    }
    double top = phases_height + edge;
    for (const auto& [height, below] : needs) {
        m_lanes.push_back({top + height / 2, top + height + below});
        top += height + below + lane_gap;
    }
}

bool ChainLayout::setGain(const QString& id, std::optional<double> gain_db)
{
    constexpr double seen_db = 0.05;
    const auto found = std::ranges::find(m_cards, id, &ChainCard::id);
    if (found == m_cards.end() || (found->gain_db && gain_db ? std::abs(*found->gain_db - *gain_db) < seen_db
                                                             : found->gain_db == gain_db))
        return false;
    found->gain_db = gain_db;
    return true;
}

QRectF ChainLayout::pictureBox(const QRectF& stage, const ChainCard& card) const
{
    constexpr double width = 80, height = 25, margin = 9, below = 7;
    return {stage.left() + margin,
            stage.bottom() - below - height - static_cast<double>(card.values.size()) * value_height, width,
            height};
}

/// Beside the picture.
QRectF ChainLayout::gainBox(const QRectF& stage, const ChainCard& card) const
{
    constexpr double between = 4, margin = 9, height = 16;
    const QRectF picture = pictureBox(stage, card);
    return {picture.right() + between, picture.top() - 3, stage.right() - margin - picture.right() - between,
            height};
}

const ChainCard* ChainLayout::card(const QString& id) const
{
    const auto found = std::ranges::find(m_cards, id, &ChainCard::id);
    return found == m_cards.end() ? nullptr : &*found;
}

const DrawnNode* ChainLayout::node(const QString& id) const
{
    const auto found = std::ranges::find(m_drawing.nodes, id.toStdString(), &DrawnNode::id);
    return found == m_drawing.nodes.end() ? nullptr : &*found;
}

QSizeF ChainLayout::size() const
{
    if (m_columns.empty())
        return {2 * left_edge, phases_height + box_height};
    return {m_columns.back().left + m_columns.back().width + edge, m_lanes.back().bottom + lane_gap};
}

QRectF ChainLayout::boxOf(const DrawnNode& node) const
{
    const auto [left, width] = m_columns[static_cast<std::size_t>(node.column)];
    const ChainCard* shown = cardOf(node);
    const double height = heightOf(shown);
    return {left, middleOf(node.lane) - height / 2, width, height};
}

QPointF ChainLayout::addPoint(const DrawnPath& path) const
{
    const bool turns = path.lane != path.to_lane;
    return {leftOf(path.to_column) - (turns ? column_gap : column_gap / 2), middleOf(path.lane)};
}

std::optional<std::size_t> ChainLayout::pathAt(const QPointF& at, double within) const
{
    std::optional<std::size_t> nearest;
    double least = within;
    for (std::size_t i = 0; i < m_drawing.paths.size(); ++i) {
        if (m_drawing.paths[i].isKey())
            continue;
        const QPointF away = addPoint(m_drawing.paths[i]) - at;
        const double distance = std::hypot(away.x(), away.y());
        if (distance <= least) {
            least = distance;
            nearest = i;
        }
    }
    return nearest;
}

QPointF ChainLayout::endPoint(const End& end) const
{
    const DrawnPath& path = m_drawing.paths[end.path];
    const int lane = end.arrives ? path.to_lane : path.from_lane;
    const double at = end.arrives ? leftOf(path.to_column) : rightOf(path.from_column);
    // Where several come together, each is taken hold of in its own lane.
    if (path.lane == lane)
        return {at, middleOf(lane)};
    return {end.arrives ? at - bend : at + bend, middleOf(path.lane)};
}

std::optional<ChainLayout::End> ChainLayout::endAt(const QPointF& at, double within) const
{
    std::optional<End> nearest;
    double least = within;
    for (std::size_t i = 0; i < m_drawing.paths.size(); ++i)
        for (const bool arrives : {true, false}) {
            const QPointF away = endPoint({i, arrives}) - at;
            if (const double distance = std::hypot(away.x(), away.y()); distance <= least) {
                least = distance;
                nearest = End{i, arrives};
            }
        }
    return nearest;
}

QString ChainLayout::placeAt(const QPointF& at) const
{
    for (const DrawnNode& node : m_drawing.nodes)
        if (boxOf(node).contains(at))
            return QString::fromStdString(node.id);
    return {};
}

QRectF ChainLayout::valueBox(const QRectF& stage, const ChainCard& card, std::size_t value) const
{
    const auto from_below = static_cast<double>(card.values.size() - value);
    return {stage.left() + beside_values, stage.bottom() - below_values - from_below * value_height,
            stage.width() - 2 * beside_values, value_height};
}

std::optional<ChainLayout::ValueAt> ChainLayout::valueAt(const QPointF& at) const
{
    const QString id = nodeAt(at);
    const ChainCard* shown = card(id);
    for (std::size_t i = 0; shown && i < shown->values.size(); ++i)
        if (valueBox(boxOf(*node(id)), *shown, i).contains(at))
            return ValueAt{id, i};
    return std::nullopt;
}

QString ChainLayout::nodeAt(const QPointF& at) const
{
    for (const DrawnNode& node : m_drawing.nodes)
        if (!isEndOfChain(node.id) && boxOf(node).contains(at))
            return QString::fromStdString(node.id);
    return {};
}

std::optional<std::size_t> ChainLayout::pathBehind(const QString& node) const
{
    const std::string id = node.toStdString();
    const auto found = std::ranges::find_if(m_drawing.paths, [&](const DrawnPath& path) {
        return id.empty() ? path.edge.to == processors::chain_output : path.edge.from == id && !path.isKey();
    });
    return found == m_drawing.paths.end()
               ? std::nullopt
               : std::optional(static_cast<std::size_t>(found - m_drawing.paths.begin()));
}

std::optional<std::size_t> ChainLayout::pathBefore(const QString& node) const
{
    const auto found = std::ranges::find_if(m_drawing.paths, [id = node.toStdString()](const DrawnPath& path) {
        return path.edge.to == id && !path.isKey();
    });
    return found == m_drawing.paths.end()
               ? std::nullopt
               : std::optional(static_cast<std::size_t>(found - m_drawing.paths.begin()));
}

} // namespace hr::app
