// SPDX-License-Identifier: GPL-3.0-or-later
//
// Draws a chain as it is laid out.
#pragma once

#include "theme/theme.h"
#include "widgets/chain_layout.h"

#include <QPainter>
#include <QSet>

namespace hr::app {

class ChainPainter {
public:
    /// `focused`: where the keys are; empty: elsewhere.
    ChainPainter(QPainter& painter, const ChainLayout& layout, const QSet<QString>& chosen, QString focused,
                 const Palette& palette = Theme::palette())
        : m_painter(painter), m_layout(layout), m_chosen(chosen), m_focused(std::move(focused)),
          m_palette(palette)
    {
    }

    /// All that meets `seen`.
    void paint(const QRectF& seen) const;
    /// Where something can be put; `strong`: is about to be.
    void paintAdd(std::size_t path, bool strong) const;
    /// A stage that is dragged, around this point.
    void paintDragged(const ChainCard& card, const QPointF& at) const;

    /// The end of a path that can be taken hold of.
    void paintEnd(const ChainLayout::End& end) const;
    /// The same, held: the path as it would lead.
    void paintLed(const ChainLayout::End& end, const QPointF& to) const;

    static constexpr double add_radius = 8;
    static constexpr double end_radius = 6;

private:
    void paintPhases() const;
    void paintPath(const chain::DrawnPath& path) const;
    void paintDryPath(const QRectF& box, double blend_percent) const;
    void paintStage(const QRectF& box, const ChainCard& card, double opacity = 1) const;
    void paintPart(const QRectF& box, const ChainCard& card) const;
    void paintEndOfChain(const QRectF& box, bool is_source) const;
    void paintGain(const QRectF& box, double gain_db) const;
    void paintValue(const QRectF& box, const CardValue& value) const;
    void paintFrame(const QRectF& box, const ChainCard& card, const QColor& paper, double radius) const;

    QPainter& m_painter;
    const ChainLayout& m_layout;
    const QSet<QString>& m_chosen;
    const QString m_focused;
    const Palette& m_palette;
};

} // namespace hr::app
