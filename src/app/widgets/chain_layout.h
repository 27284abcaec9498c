// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where everything of a drawn chain stands, in pixels at a zoom of 1: a column for each node, a lane for each
// path that runs beside others, as high as what stands in it.
#pragma once

#include "chain/drawing.h"
#include "processors/description.h"
#include "widgets/small_pictures.h"

#include <QPointF>
#include <QRectF>
#include <QString>
#include <optional>

namespace hr::app {

/// A parameter that can be turned on the stage itself.
struct CardValue {
    processors::ParameterInfo parameter;
    double value = 0;
};

/// What stands on a node.
struct ChainCard {
    QString id;
    QString title, about; ///< its purpose, or its name; and "3 · Leveller · compressor"
    QString phase;        ///< empty: none
    QString state;        ///< "off", "not installed"; empty: it is at work
    QString remark;       ///< why it may stand oddly; empty: it does not
    bool is_stage = false, at_work = true, may_move = false;
    double blend_percent = 100;
    SmallPicture picture = SmallPicture::Response;
    QByteArray heights;            ///< of the picture; empty: not known
    std::optional<double> gain_db; ///< of what passes it at the moment; empty: nothing does, or it is not shown
    std::vector<CardValue> values; ///< its foremost parameters, at most ChainLayout::most_values
};

class ChainLayout {
public:
    static constexpr double column_gap = 24;
    static constexpr double phases_height = 22; ///< of the words over all
    static constexpr double bend = 9;           ///< from a box to where its path turns
    static constexpr double dry_drop = 15;      ///< from a box down to its dry path
    static constexpr double dry_words_height = 16;
    static constexpr std::size_t most_values = 2;
    static constexpr double value_height = 16; ///< of a parameter on a stage

    ChainLayout() = default;
    ChainLayout(chain::Drawing drawing, std::vector<ChainCard> cards);

    const chain::Drawing& drawing() const { return m_drawing; }
    const std::vector<ChainCard>& cards() const { return m_cards; }
    const ChainCard* card(const QString& id) const; ///< null: it is not there, or an end of the chain
    /// Whether that is to be seen.
    bool setGain(const QString& id, std::optional<double> gain_db);
    QRectF gainBox(const QRectF& stage, const ChainCard& card) const;
    QRectF pictureBox(const QRectF& stage, const ChainCard& card) const;
    const ChainCard* cardOf(const chain::DrawnNode& node) const
    {
        return card(QString::fromStdString(node.id));
    }
    const chain::DrawnNode* node(const QString& id) const; ///< null: it is not there

    QSizeF size() const;
    QRectF boxOf(const chain::DrawnNode& node) const;
    double leftOf(int column) const { return m_columns[static_cast<std::size_t>(column)].left; }
    double rightOf(int column) const
    {
        return leftOf(column) + m_columns[static_cast<std::size_t>(column)].width;
    }
    double middleOf(int lane) const { return m_lanes[static_cast<std::size_t>(lane)].middle; }

    /// Where something is put on a path: in the gap before the node that it feeds.
    QPointF addPoint(const chain::DrawnPath& path) const;
    /// The path whose addPoint() is nearest, and no further; keys have none.
    std::optional<std::size_t> pathAt(const QPointF& at, double within) const;
    QString nodeAt(const QPointF& at) const; ///< empty: none
    /// Of an empty id, the one that leaves the chain.
    std::optional<std::size_t> pathBehind(const QString& node) const;
    std::optional<std::size_t> pathBefore(const QString& node) const;

    /// One end of a path, which can be led elsewhere.
    struct End {
        std::size_t path = 0;
        bool arrives = true; ///< else it is where the path begins
        friend bool operator==(const End&, const End&) = default;
    };
    QPointF endPoint(const End& end) const;
    /// The nearest, and no further.
    std::optional<End> endAt(const QPointF& at, double within) const;
    /// As nodeAt(), or an end of the chain.
    QString placeAt(const QPointF& at) const;

    /// Of a parameter that stands on a stage.
    struct ValueAt {
        QString id;
        std::size_t value = 0; ///< in its card
    };
    QRectF valueBox(const QRectF& stage, const ChainCard& card, std::size_t value) const;
    std::optional<ValueAt> valueAt(const QPointF& at) const;

private:
    struct Column {
        double left, width;
    };
    struct Lane {
        double middle, bottom;
    };
    chain::Drawing m_drawing;
    std::vector<ChainCard> m_cards;
    std::vector<Column> m_columns;
    std::vector<Lane> m_lanes;
};

} // namespace hr::app
