// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/facet_list.h"

#include "processors/kinds.h"
#include "theme/theme.h"
#include "widgets/shaped_texts.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QToolTip>
#include <algorithm>

namespace hr::app {

using library::Facet;
using library::FacetChoice;

namespace {

constexpr int line_px = 22;
constexpr std::size_t few = 5;
constexpr std::size_t few_kinds = 9; // they stand on a tree
constexpr int indent_px = 12;

bool isBelow(const QString& kind)
{
    return !processors::kindAbove(kind.toStdString()).empty();
}

} // namespace

FacetList::FacetList(QWidget* parent) : QAbstractScrollArea(parent)
{
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("narrow by"));
    viewport()->setAutoFillBackground(false);
}

void FacetList::show(const library::Finder::Found& found, const std::vector<FacetChoice>& choices)
{
    m_counts = found.counts;
    m_choices = choices;
    rebuild();
}

void FacetList::rebuild()
{
    m_lines.clear();
    for (std::size_t f = 0; f < library::facet_count; ++f)
        addFacet(static_cast<Facet>(f), m_counts[f]);
    m_current = std::min(m_current, static_cast<int>(m_lines.size()) - 1);
    const int height = static_cast<int>(m_lines.size()) * line_px;
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setSingleStep(line_px);
    verticalScrollBar()->setRange(0, std::max(0, height - viewport()->height()));
    viewport()->update();
}

void FacetList::addFacet(Facet facet, std::vector<library::FacetCount> counts)
{
    const auto isChosen = [&](const library::FacetCount& c) {
        return std::ranges::any_of(
            m_choices, [&](const FacetChoice& o) { return o.facet == facet && o.value == c.value; });
    };
    const bool any_chosen = std::ranges::any_of(counts, isChosen);
    std::erase_if(counts, [&](const auto& c) { return c.count == 0 && !isChosen(c); });
    if (counts.size() < 2 && !any_chosen && facet != Facet::Tag && facet != Facet::Collection)
        return; // says nothing about those that are there
    if (counts.empty())
        return;
    if (facet != Facet::Kind) // whose order is a tree
        std::stable_partition(counts.begin(), counts.end(), isChosen);
    m_lines.push_back({Kind::Heading, facet, word(facet)});
    const std::size_t most = facet == Facet::Kind ? few_kinds : few;
    const std::size_t shown = m_open.contains(facet) ? counts.size() : std::min(most, counts.size());
    for (std::size_t i = 0; i < shown; ++i)
        m_lines.push_back({Kind::Value, facet, counts[i].value, counts[i].count});
    if (counts.size() > most)
        m_lines.push_back({Kind::More, facet,
                           m_open.contains(facet) ? tr("fewer") : tr("%1 more").arg(counts.size() - shown)});
}

const FacetChoice* FacetList::choiceOf(const Line& line) const
{
    const auto found = std::ranges::find_if(
        m_choices, [&](const FacetChoice& c) { return c.facet == line.facet && c.value == line.value; });
    return line.kind != Kind::Value || found == m_choices.end() ? nullptr : &*found;
}

void FacetList::toggle(Facet facet, const QString& value, bool negated)
{
    const FacetChoice choice{facet, value, negated};
    const bool was = std::ranges::find(m_choices, choice) != m_choices.end();
    std::erase_if(m_choices, [&](const FacetChoice& c) { return c.facet == facet && c.value == value; });
    if (!was)
        m_choices.push_back(choice);
    emit chosen(m_choices);
}

void FacetList::act(int line, bool negated)
{
    if (line < 0 || line >= static_cast<int>(m_lines.size()))
        return;
    const Line at = m_lines[static_cast<std::size_t>(line)];
    m_current = line;
    if (at.kind == Kind::Value)
        return toggle(at.facet, at.value, negated);
    if (at.kind == Kind::More && !m_open.erase(at.facet))
        m_open.insert(at.facet);
    rebuild();
}

int FacetList::lineAt(double y) const
{
    return static_cast<int>(y + verticalScrollBar()->value()) / line_px;
}

void FacetList::mousePressEvent(QMouseEvent* event)
{
    act(lineAt(event->position().y()),
        event->modifiers() & Qt::AltModifier || event->button() == Qt::RightButton);
}

void FacetList::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down: {
        const int step = event->key() == Qt::Key_Up ? -1 : 1;
        int next = m_current;
        do
            next += step;
        while (next >= 0 && next < static_cast<int>(m_lines.size()) &&
               m_lines[static_cast<std::size_t>(next)].kind == Kind::Heading);
        if (next >= 0 && next < static_cast<int>(m_lines.size()))
            m_current = next;
        const int top = m_current * line_px;
        verticalScrollBar()->setValue(
            std::clamp(verticalScrollBar()->value(), top + line_px - viewport()->height(), std::max(top, 0)));
        viewport()->update();
        return;
    }
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return act(m_current, false);
    case Qt::Key_Minus:
        return act(m_current, true);
    default:
        QAbstractScrollArea::keyPressEvent(event);
    }
}

void FacetList::resizeEvent(QResizeEvent*)
{
    rebuild();
}

bool FacetList::viewportEvent(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const int line = lineAt(help->pos().y());
        if (line >= 0 && line < static_cast<int>(m_lines.size()) &&
            m_lines[static_cast<std::size_t>(line)].kind == Kind::Value)
            QToolTip::showText(help->globalPos(), tr("%1\nclick: only these · Alt and click: not these")
                                                      .arg(m_lines[static_cast<std::size_t>(line)].value));
        return true;
    }
    return QAbstractScrollArea::viewportEvent(event);
}

void FacetList::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(viewport());
    for (std::size_t i = 0; i < m_lines.size(); ++i) {
        const QRect box(0, static_cast<int>(i) * line_px - verticalScrollBar()->value(),
                        viewport()->width() - 4, line_px);
        if (box.bottom() < 0 || box.top() > viewport()->height())
            continue;
        const Line& line = m_lines[i];
        if (hasFocus() && static_cast<int>(i) == m_current)
            painter.fillRect(QRect(box.left(), box.top() + 3, 2, box.height() - 6), p.action);
        if (line.kind == Kind::Value) {
            paintValue(painter, line, box);
            continue;
        }
        painter.setFont(
            Theme::words(Theme::small_px, line.kind == Kind::Heading ? QFont::DemiBold : QFont::Normal));
        painter.setPen(line.kind == Kind::Heading ? p.faint : p.action);
        drawShaped(painter, line.kind == Kind::Heading ? box.adjusted(2, 3, 0, 0) : box.adjusted(10, 0, 0, 0),
                   line.value);
    }
}

void FacetList::paintValue(QPainter& painter, const Line& line, const QRect& box) const
{
    const Palette& p = Theme::palette();
    const FacetChoice* choice = choiceOf(line);
    if (choice)
        painter.fillRect(box.adjusted(4, 1, 0, -1), choice->negated ? p.paper : p.wash);
    const QString count = QString::number(line.count);
    painter.setFont(Theme::figures(Theme::small_px));
    const int count_width = painter.fontMetrics().horizontalAdvance(count);
    painter.setPen(p.faint);
    painter.drawText(box.adjusted(0, 0, -4, 0), Qt::AlignVCenter | Qt::AlignRight, count);
    QFont words =
        Theme::words(Theme::text_px - 1, choice && !choice->negated ? QFont::DemiBold : QFont::Normal);
    words.setStrikeOut(choice && choice->negated);
    painter.setFont(words);
    painter.setPen(line.count == 0 || (choice && choice->negated) ? p.faint : p.ink);
    const int indent = line.facet == Facet::Kind && isBelow(line.value) ? indent_px : 0;
    const int room = box.width() - 18 - indent - count_width;
    const QString text = choice && choice->negated ? tr("not %1").arg(line.value) : line.value;
    drawShaped(painter, QRect(box.left() + 10 + indent, box.top(), room, box.height()), text);
}

} // namespace hr::app
