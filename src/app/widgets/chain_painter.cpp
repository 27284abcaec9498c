// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/chain_painter.h"

#include "processors/value_text.h"

#include <QCoreApplication>

namespace hr::app {

namespace {

using chain::DrawnNode;
using chain::DrawnPath;

constexpr double stage_radius = 5;
constexpr double dragged_opacity = 0.6, idle_opacity = 0.5;

QString translated(const char* words)
{
    return QCoreApplication::translate("ChainPainter", words);
}

} // namespace

void ChainPainter::paint(const QRectF& seen) const
{
    m_painter.setRenderHint(QPainter::Antialiasing);
    paintPhases();
    for (const DrawnPath& path : m_layout.drawing().paths)
        paintPath(path);
    for (const DrawnNode& node : m_layout.drawing().nodes) {
        const QRectF box = m_layout.boxOf(node);
        const double around = ChainLayout::column_gap;
        if (!seen.intersects(box.adjusted(-around, -around, around, around)))
            continue;
        const ChainCard* card = m_layout.cardOf(node);
        if (!card) {
            paintEndOfChain(box, node.column == 0);
        } else if (card->is_stage) {
            if (card->blend_percent < 100)
                paintDryPath(box, card->blend_percent);
            paintStage(box, *card);
        } else {
            paintPart(box, *card);
        }
    }
}

void ChainPainter::paintDragged(const ChainCard& card, const QPointF& at) const
{
    const DrawnNode* node = m_layout.node(card.id);
    if (!node)
        return;
    QRectF box = m_layout.boxOf(*node);
    box.moveCenter(at);
    card.is_stage ? paintStage(box, card, dragged_opacity) : paintPart(box, card);
}

void ChainPainter::paintEndOfChain(const QRectF& box, bool is_source) const
{
    m_painter.setPen(m_palette.faint);
    m_painter.setFont(Theme::words(Theme::small_px));
    m_painter.drawText(box, Qt::AlignVCenter | (is_source ? Qt::AlignRight : Qt::AlignLeft),
                       is_source ? translated("source") : translated("out"));
}

/// A word over the stages that follow one another in one phase.
void ChainPainter::paintPhases() const
{
    const Palette& p = m_palette;
    const auto& nodes = m_layout.drawing().nodes;
    const auto phaseOf = [&](std::size_t i) {
        const ChainCard* card = m_layout.cardOf(nodes[i]);
        return card ? card->phase : QString();
    };
    m_painter.setFont(Theme::words(Theme::small_px));
    for (std::size_t i = 0, end = 0; i < nodes.size(); i = end) {
        const QString phase = phaseOf(i);
        for (end = i + 1; end < nodes.size() && phaseOf(end) == phase;)
            ++end;
        if (phase.isEmpty())
            continue;
        const double left = m_layout.leftOf(nodes[i].column);
        const double width = m_layout.rightOf(nodes[end - 1].column) - left;
        m_painter.setPen(p.faint);
        m_painter.drawText(QRectF(left, 0, width, ChainLayout::phases_height - 6),
                           Qt::AlignLeft | Qt::AlignVCenter,
                           m_painter.fontMetrics().elidedText(phase, Qt::ElideRight, int(width)));
        m_painter.setPen(QPen(p.rule, 1));
        const double below = ChainLayout::phases_height - 4;
        m_painter.drawLine(QPointF(left, below), QPointF(left + width, below));
    }
}

void ChainPainter::paintPath(const DrawnPath& path) const
{
    constexpr double from_words = 4; // of the chain's ends
    const Palette& p = m_palette;
    const bool begins = path.from_column == 0;
    const bool ends = path.edge.to == processors::chain_output;
    const double left = m_layout.rightOf(path.from_column) + (begins ? from_words : 0);
    const double right = m_layout.leftOf(path.to_column) - (ends ? from_words : 0);
    QPolygonF line;
    line << QPointF(left, m_layout.middleOf(path.from_lane));
    if (path.lane != path.from_lane)
        line << QPointF(left + ChainLayout::bend, m_layout.middleOf(path.from_lane))
             << QPointF(left + ChainLayout::bend, m_layout.middleOf(path.lane));
    if (path.lane != path.to_lane)
        line << QPointF(right - ChainLayout::bend, m_layout.middleOf(path.lane))
             << QPointF(right - ChainLayout::bend, m_layout.middleOf(path.to_lane));
    line << QPointF(right, m_layout.middleOf(path.to_lane));
    m_painter.setBrush(Qt::NoBrush);
    m_painter.setPen(QPen(p.faint, 1.3, path.isKey() ? Qt::DotLine : Qt::SolidLine));
    m_painter.drawPolyline(line);
    m_painter.setFont(Theme::words(Theme::small_px));
    QString named = path.isKey() ? translated("key") : QString::fromStdString(path.edge.output);
    named.replace(QLatin1Char('_'), QLatin1Char(' ')); // "band_1"
    // Where the path is in a lane of its own there is room for its name.
    if (!named.isEmpty() && path.lane != path.from_lane)
        m_painter.drawText(QPointF(left + ChainLayout::bend + 3, m_layout.middleOf(path.lane) - 4), named);
    else if (!named.isEmpty())
        m_painter.drawText(QRectF(right - 4 * ChainLayout::column_gap, m_layout.middleOf(path.lane) - 40,
                                  4 * ChainLayout::column_gap - 3, 14),
                           Qt::AlignRight | Qt::AlignVCenter, named);
}

void ChainPainter::paintDryPath(const QRectF& box, double blend_percent) const
{
    const Palette& p = m_palette;
    const double left = box.left() - ChainLayout::bend;
    const double right = box.right() + ChainLayout::bend;
    const double below = box.bottom() + ChainLayout::dry_drop;
    m_painter.setPen(QPen(p.faint, 1.2, Qt::DashLine));
    m_painter.setBrush(Qt::NoBrush);
    m_painter.drawPolyline(
        QPolygonF{{left, box.center().y()}, {left, below}, {right, below}, {right, box.center().y()}});
    m_painter.setFont(Theme::words(Theme::small_px));
    const QString words = translated("dry %1 %").arg(number(100 - blend_percent, 0));
    const double width = m_painter.fontMetrics().horizontalAdvance(words) + 12;
    const QRectF place(box.center().x() - width / 2, below - ChainLayout::dry_words_height / 2, width,
                       ChainLayout::dry_words_height);
    m_painter.fillRect(place, p.sheet);
    m_painter.setPen(p.faint);
    m_painter.drawText(place, Qt::AlignCenter, words);
}

void ChainPainter::paintFrame(const QRectF& box, const ChainCard& card, const QColor& paper,
                              double radius) const
{
    const Palette& p = m_palette;
    const bool is_chosen = m_chosen.contains(card.id);
    m_painter.setBrush(is_chosen ? p.wash : paper);
    m_painter.setPen(
        QPen(is_chosen ? p.action : p.rule, is_chosen ? 2 : 1.2, card.at_work ? Qt::SolidLine : Qt::DashLine));
    m_painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), radius, radius);
    if (card.id != m_focused)
        return;
    m_painter.setBrush(Qt::NoBrush); // beside what is chosen: where the keys are
    m_painter.setPen(QPen(p.action, 1, Qt::DotLine));
    m_painter.drawRoundedRect(box.adjusted(-2.5, -2.5, 2.5, 2.5), radius + 2, radius + 2);
}

void ChainPainter::paintStage(const QRectF& box, const ChainCard& card, double opacity) const
{
    const Palette& p = m_palette;
    m_painter.setOpacity(opacity);
    paintFrame(box, card, p.sheet, stage_radius);
    const QRectF inside = box.adjusted(9, 6, -9, -7);
    const bool remarked = !card.remark.isEmpty();
    m_painter.setPen(card.at_work ? p.ink : p.faint);
    m_painter.setFont(Theme::words(Theme::text_px, QFont::DemiBold));
    const double title_width = inside.width() - (remarked ? 14 : 0);
    m_painter.drawText(QRectF(inside.left(), inside.top(), title_width, 17), Qt::AlignLeft | Qt::AlignVCenter,
                       m_painter.fontMetrics().elidedText(card.title, Qt::ElideRight, int(title_width)));
    if (remarked) {
        m_painter.setPen(p.caution);
        m_painter.drawText(QRectF(inside.right() - 12, inside.top(), 12, 17), Qt::AlignCenter,
                           QStringLiteral("?"));
    }
    m_painter.setPen(p.faint);
    m_painter.setFont(Theme::words(Theme::small_px));
    m_painter.drawText(QRectF(inside.left(), inside.top() + 17, inside.width(), 15),
                       Qt::AlignLeft | Qt::AlignVCenter,
                       m_painter.fontMetrics().elidedText(card.about, Qt::ElideRight, int(inside.width())));
    for (std::size_t i = 0; i < card.values.size(); ++i)
        paintValue(m_layout.valueBox(box, card, i), card.values[i]);
    const QRectF picture = m_layout.pictureBox(box, card);
    m_painter.setFont(Theme::words(Theme::small_px));
    m_painter.setOpacity(card.at_work ? opacity : opacity * idle_opacity);
    paintPicture(m_painter, picture, card.picture, card.heights, m_palette);
    m_painter.setOpacity(opacity);
    const QString words = !card.state.isEmpty() ? card.state
                          : card.may_move       ? translated("may move")
                                                : QString();
    m_painter.setPen(card.at_work ? p.faint : p.caution);
    m_painter.drawText(QRectF(picture.right() + 4, picture.top() - 3, inside.right() - picture.right() - 4, 28),
                       Qt::AlignRight | Qt::AlignBottom | Qt::TextWordWrap, words);
    if (card.gain_db)
        paintGain(m_layout.gainBox(box, card), *card.gain_db);
    m_painter.setOpacity(1);
}

/// In figures, and as a line from the right for what is taken away.
void ChainPainter::paintGain(const QRectF& box, double gain_db) const
{
    constexpr double most_shown_db = 20;
    m_painter.setFont(Theme::figures(Theme::small_px));
    m_painter.setPen(m_palette.ink);
    m_painter.drawText(box, Qt::AlignRight | Qt::AlignTop, translated("%1 dB").arg(signedNumber(gain_db, 1)));
    const double y = box.bottom() - 0.5;
    m_painter.setPen(QPen(m_palette.rule, 1.5));
    m_painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
    m_painter.setPen(QPen(m_palette.action, 2.5));
    const double taken = std::clamp(-gain_db / most_shown_db, 0.0, 1.0);
    if (taken > 0)
        m_painter.drawLine(QPointF(box.right() - taken * box.width(), y), QPointF(box.right(), y));
}

/// Its name, its value, and below them how far it is turned up.
void ChainPainter::paintValue(const QRectF& box, const CardValue& value) const
{
    constexpr double between = 6, above_line = 2.5;
    const Palette& p = m_palette;
    const QRectF words = box.adjusted(0, 0, 0, -above_line);
    const QString text = QString::fromStdString(processors::valueWithUnit(value.parameter, value.value));
    m_painter.setFont(Theme::figures(Theme::small_px));
    m_painter.setPen(p.ink);
    m_painter.drawText(words, Qt::AlignRight | Qt::AlignVCenter, text);
    const double left_over = words.width() - m_painter.fontMetrics().horizontalAdvance(text) - between;
    m_painter.setFont(Theme::words(Theme::small_px));
    m_painter.setPen(p.faint);
    m_painter.drawText(words, Qt::AlignLeft | Qt::AlignVCenter,
                       m_painter.fontMetrics().elidedText(QString::fromStdString(value.parameter.name),
                                                          Qt::ElideRight, int(left_over)));
    const double y = box.bottom() - 0.5;
    const double x = box.left() + box.width() * processors::trackPosition(value.parameter, value.value);
    m_painter.setPen(QPen(p.rule, 1.5));
    m_painter.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
    m_painter.setPen(QPen(p.ink, 1.5));
    m_painter.drawLine(QPointF(box.left(), y), QPointF(x, y));
}

void ChainPainter::paintPart(const QRectF& box, const ChainCard& card) const
{
    const Palette& p = m_palette;
    paintFrame(box, card, p.paper, box.height() / 2);
    m_painter.setPen(card.at_work ? p.ink : p.faint);
    m_painter.setFont(Theme::words(Theme::small_px));
    m_painter.drawText(box.adjusted(5, 0, -5, 0), Qt::AlignCenter | Qt::TextWordWrap, card.title);
}

void ChainPainter::paintEnd(const ChainLayout::End& end) const
{
    const Palette& p = m_palette;
    m_painter.setPen(QPen(p.action, 1.4));
    m_painter.setBrush(p.sheet);
    const QPointF at = m_layout.endPoint(end);
    m_painter.drawRect(QRectF(at.x() - end_radius / 2, at.y() - end_radius / 2, end_radius, end_radius));
}

void ChainPainter::paintLed(const ChainLayout::End& end, const QPointF& to) const
{
    m_painter.setPen(QPen(m_palette.action, 1.6, Qt::DashLine));
    m_painter.drawLine(m_layout.endPoint({end.path, !end.arrives}), to);
}

void ChainPainter::paintAdd(std::size_t path, bool strong) const
{
    const Palette& p = m_palette;
    const QPointF at = m_layout.addPoint(m_layout.drawing().paths[path]);
    m_painter.setPen(QPen(p.action, 1.4));
    m_painter.setBrush(strong ? p.action : p.sheet);
    m_painter.drawEllipse(at, add_radius, add_radius);
    m_painter.setPen(QPen(strong ? p.on_action : p.action, 1.6));
    m_painter.drawLine(at - QPointF(4, 0), at + QPointF(4, 0));
    m_painter.drawLine(at - QPointF(0, 4), at + QPointF(0, 4));
}

} // namespace hr::app
