// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/chain_picture.h"

#include "theme/theme.h"

#include <QApplication>
#include <QDropEvent>
#include <QMimeData>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

using chain::DrawnNode;
using chain::DrawnPath;

// At a zoom of 1, in pixels:
constexpr double box_width = 176, box_height = 76;
constexpr double part_width = 62, part_height = 34;
constexpr double end_width = 46;
constexpr double column_gap_px = 28;
constexpr double lane_gap_px = 12, path_height = 16;
constexpr double phases_height = 22;
constexpr double picture_side = 4;
constexpr double bend_px = 9; // from a box to where its path turns
constexpr double dry_drop = 18;
constexpr double add_radius = 8;
constexpr double least_zoom = 0.5, most_zoom = 1.6;

bool isEnd(const std::string& id)
{
    return id == processors::chain_input || id == processors::chain_output;
}

} // namespace

ChainPicture::ChainPicture(const QString& processors_format, QWidget* parent)
    : QWidget(parent), m_processors_format(processors_format)
{
    setAccessibleName(tr("stages of the chain"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAcceptDrops(true);
}

void ChainPicture::setChain(chain::Drawing drawing, std::vector<ChainCard> cards)
{
    const bool rewired = m_drawing.paths.size() != drawing.paths.size();
    m_drawing = std::move(drawing);
    m_cards = std::move(cards);
    QSet<QString> left;
    for (const ChainCard& one : m_cards)
        if (m_chosen.contains(one.id))
            left.insert(one.id);
    const bool other = left != m_chosen;
    m_chosen = left;
    if (!card(m_current))
        m_current = m_chosen.isEmpty() ? QString() : chosen().first();
    if (rewired) {
        m_hovered.reset();
        endDrag();
    }
    layOut();
    tellCurrent();
    update();
    if (other)
        emit chosenChanged();
}

const ChainCard* ChainPicture::card(const QString& id) const
{
    const auto found = std::ranges::find(m_cards, id, &ChainCard::id);
    return found == m_cards.end() ? nullptr : &*found;
}

// --- where things stand ------------------------------------------------------------------------------

void ChainPicture::layOut()
{
    m_columns.clear();
    double left = 30; // the scale of levels stands before it
    for (const DrawnNode& node : m_drawing.nodes) {
        const ChainCard* shown = card(QString::fromStdString(node.id));
        const double width = isEnd(node.id) ? end_width : shown && shown->is_stage ? box_width : part_width;
        m_columns.emplace_back(left, width);
        left += width + column_gap_px;
    }
    // A lane is as high as what stands in it: a path that passes by takes little.
    std::vector<std::pair<double, double>> needs(static_cast<std::size_t>(m_drawing.lanes), {path_height, 0});
    for (const DrawnNode& node : m_drawing.nodes) {
        const ChainCard* shown = card(QString::fromStdString(node.id));
        auto& [height, below] = needs[static_cast<std::size_t>(node.lane)];
        height = std::max(height, shown && shown->is_stage ? box_height : part_height);
        if (shown && shown->is_stage && shown->blend_percent < 100)
            below = dry_drop + 8;
    }
    m_lanes.clear();
    double top = phases_height + picture_side;
    for (const auto& [height, below] : needs) {
        m_lanes.emplace_back(top + height / 2, top + height + below);
        top += height + below + lane_gap_px;
    }
    updateGeometry();
    resize(sizeHint().expandedTo(size()));
}

QSize ChainPicture::sizeHint() const
{
    const double width = m_columns.empty() ? 100 : m_columns.back().first + m_columns.back().second + 4;
    const double height = m_lanes.empty() ? phases_height + box_height : m_lanes.back().second + lane_gap_px;
    return (QSizeF(width, height) * m_zoom).toSize();
}

double ChainPicture::laneMiddle(int lane) const
{
    return m_lanes[static_cast<std::size_t>(lane)].first;
}

QRectF ChainPicture::boxOf(const DrawnNode& node) const
{
    const auto [left, width] = m_columns[static_cast<std::size_t>(node.column)];
    const ChainCard* shown = card(QString::fromStdString(node.id));
    const double height = shown && shown->is_stage ? box_height : part_height;
    return {left, laneMiddle(node.lane) - height / 2, width, height};
}

double ChainPicture::middleOf(const std::string& id) const
{
    const auto node = std::ranges::find(m_drawing.nodes, id, &DrawnNode::id);
    if (node == m_drawing.nodes.end())
        return 0;
    const auto [left, width] = m_columns[static_cast<std::size_t>(node->column)];
    return (left + width / 2) * m_zoom;
}

QRect ChainPicture::placeOf(const QString& id) const
{
    const auto node = std::ranges::find(m_drawing.nodes, id.toStdString(), &DrawnNode::id);
    if (node == m_drawing.nodes.end())
        return {};
    const QRectF box = boxOf(*node);
    return QRectF(box.topLeft() * m_zoom, box.size() * m_zoom).toRect();
}

/// In the middle of the gap before the node that it feeds.
QPointF ChainPicture::addPoint(const DrawnPath& path) const
{
    const double right = m_columns[static_cast<std::size_t>(path.to_column)].first;
    const bool turns = path.lane != path.to_lane;
    const double x = turns ? right - column_gap_px : right - column_gap_px / 2;
    return {x, laneMiddle(path.lane)};
}

std::optional<std::size_t> ChainPicture::pathAt(const QPointF& at, double within) const
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

QString ChainPicture::nodeAt(const QPointF& at) const
{
    for (const DrawnNode& node : m_drawing.nodes)
        if (!isEnd(node.id) && boxOf(node).contains(at))
            return QString::fromStdString(node.id);
    return {};
}

std::optional<std::size_t> ChainPicture::pathBehind(const QString& node) const
{
    const std::string from = node.isEmpty() ? std::string() : node.toStdString();
    for (std::size_t i = 0; i < m_drawing.paths.size(); ++i) {
        const chain::Edge& edge = m_drawing.paths[i].edge;
        if (node.isEmpty() ? edge.to == processors::chain_output
                           : edge.from == from && !m_drawing.paths[i].isKey())
            return i;
    }
    return std::nullopt;
}

std::optional<std::size_t> ChainPicture::pathBefore(const QString& node) const
{
    for (std::size_t i = 0; i < m_drawing.paths.size(); ++i)
        if (m_drawing.paths[i].edge.to == node.toStdString() && !m_drawing.paths[i].isKey())
            return i;
    return std::nullopt;
}

void ChainPicture::zoom(double by)
{
    m_zoom = std::clamp(m_zoom * by, least_zoom, most_zoom);
    layOut();
    update();
    emit zoomed();
}

// --- what is chosen ----------------------------------------------------------------------------------

QStringList ChainPicture::chosen() const
{
    QStringList ids;
    for (const DrawnNode& node : m_drawing.nodes)
        if (const QString id = QString::fromStdString(node.id); m_chosen.contains(id))
            ids << id;
    return ids;
}

void ChainPicture::choose(const QString& id, bool among_others)
{
    if (!among_others)
        m_chosen.clear();
    if (card(id)) {
        m_current = id;
        m_chosen.insert(id);
    } else if (!among_others) {
        m_current.clear();
    }
    tellCurrent();
    update();
    emit chosenChanged();
}

void ChainPicture::chooseAll()
{
    for (const ChainCard& one : m_cards)
        m_chosen.insert(one.id);
    if (m_current.isEmpty() && !m_cards.empty())
        m_current = chosen().first();
    update();
    emit chosenChanged();
}

void ChainPicture::step(int columns, bool among_others)
{
    if (m_cards.empty())
        return;
    const auto& nodes = m_drawing.nodes;
    const auto here = std::ranges::find(nodes, m_current.toStdString(), &DrawnNode::id);
    const auto last = static_cast<int>(nodes.size()) - 2;
    const int at = here == nodes.end() ? (columns > 0 ? 0 : last + 1) : here->column;
    choose(QString::fromStdString(nodes[static_cast<std::size_t>(std::clamp(at + columns, 1, last))].id),
           among_others);
}

/// For those who listen to the screen: what the keys are on.
void ChainPicture::tellCurrent()
{
    const ChainCard* now = card(m_current);
    QStringList words;
    if (now) {
        words << now->title << now->about;
        if (!now->state.isEmpty())
            words << now->state;
        if (!now->remark.isEmpty())
            words << now->remark;
    } else {
        for (const ChainCard& one : m_cards)
            words << one.title;
    }
    setAccessibleDescription(words.join(QStringLiteral("; ")));
}

// --- drawn -------------------------------------------------------------------------------------------

void ChainPicture::paintEvent(QPaintEvent* event)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.scale(m_zoom, m_zoom);
    paintPhases(painter);
    for (const DrawnPath& path : m_drawing.paths)
        paintPath(painter, path);
    const QRectF seen(QPointF(event->rect().topLeft()) / m_zoom, QSizeF(event->rect().size()) / m_zoom);
    for (const DrawnNode& node : m_drawing.nodes) {
        const QRectF box = boxOf(node);
        if (!seen.intersects(box.adjusted(-column_gap_px, -picture_side, column_gap_px, dry_drop + 8)))
            continue;
        const ChainCard* shown = card(QString::fromStdString(node.id));
        if (!shown) {
            painter.setPen(p.faint);
            painter.setFont(Theme::words(Theme::small_px));
            painter.drawText(box, Qt::AlignVCenter | (node.column == 0 ? Qt::AlignRight : Qt::AlignLeft),
                             node.column == 0 ? tr("source") : tr("out"));
        } else if (shown->is_stage) {
            if (shown->blend_percent < 100)
                paintDryPath(painter, box, shown->blend_percent);
            paintStage(painter, box, *shown);
        } else {
            paintPart(painter, box, *shown);
        }
    }
    if (m_dragging && m_target)
        paintAdd(painter, *m_target, true);
    else if (m_hovered && *m_hovered < m_drawing.paths.size())
        paintAdd(painter, *m_hovered, false);
    else if (hasFocus())
        if (const auto path = pathBehind(m_current))
            paintAdd(painter, *path, false);
    if (m_dragging) {
        painter.setOpacity(0.6);
        if (const ChainCard* held = card(m_pressed))
            paintStage(
                painter,
                QRectF(m_dragged_to - QPointF(box_width / 2, box_height / 2), QSizeF(box_width, box_height)),
                *held);
    }
}

/// A word over the stages that follow one another in one phase.
void ChainPicture::paintPhases(QPainter& painter) const
{
    const Palette& p = Theme::palette();
    painter.setFont(Theme::words(Theme::small_px));
    for (std::size_t i = 0; i < m_drawing.nodes.size();) {
        const ChainCard* first = card(QString::fromStdString(m_drawing.nodes[i].id));
        std::size_t end = i + 1;
        if (first && !first->phase.isEmpty()) {
            while (end < m_drawing.nodes.size()) {
                const ChainCard* next = card(QString::fromStdString(m_drawing.nodes[end].id));
                if (!next || next->phase != first->phase)
                    break;
                ++end;
            }
            const double left = m_columns[i].first;
            const double right = m_columns[end - 1].first + m_columns[end - 1].second;
            painter.setPen(p.faint);
            painter.drawText(QRectF(left, 0, right - left, phases_height - 6), Qt::AlignLeft | Qt::AlignVCenter,
                             painter.fontMetrics().elidedText(first->phase, Qt::ElideRight, int(right - left)));
            painter.setPen(QPen(p.rule, 1));
            painter.drawLine(QPointF(left, phases_height - 4), QPointF(right, phases_height - 4));
        }
        i = end;
    }
}

void ChainPicture::paintPath(QPainter& painter, const DrawnPath& path) const
{
    const Palette& p = Theme::palette();
    const auto [from_left, from_width] = m_columns[static_cast<std::size_t>(path.from_column)];
    const double left = from_left + from_width + (path.from_column == 0 ? 4 : 0);
    const double right = m_columns[static_cast<std::size_t>(path.to_column)].first -
                         (path.to_column + 1 == static_cast<int>(m_columns.size()) ? 4 : 0);
    QPolygonF line;
    line << QPointF(left, laneMiddle(path.from_lane));
    if (path.lane != path.from_lane)
        line << QPointF(left + bend_px, laneMiddle(path.from_lane))
             << QPointF(left + bend_px, laneMiddle(path.lane));
    if (path.lane != path.to_lane)
        line << QPointF(right - bend_px, laneMiddle(path.lane))
             << QPointF(right - bend_px, laneMiddle(path.to_lane));
    line << QPointF(right, laneMiddle(path.to_lane));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(p.faint, 1.3, path.isKey() ? Qt::DotLine : Qt::SolidLine));
    painter.drawPolyline(line);
    painter.setFont(Theme::words(Theme::small_px));
    const QString named =
        path.isKey() ? tr("key")
        : path.edge.output.empty()
            ? QString()
            : QString::fromStdString(path.edge.output).replace(QLatin1Char('_'), QLatin1Char(' '));
    if (!named.isEmpty())
        painter.drawText(QPointF(left + bend_px + 3, laneMiddle(path.lane) - 4), named);
}

void ChainPicture::paintDryPath(QPainter& painter, const QRectF& box, double blend_percent) const
{
    const Palette& p = Theme::palette();
    const double left = box.left() - bend_px;
    const double right = box.right() + bend_px;
    const double below = box.bottom() + dry_drop;
    painter.setPen(QPen(p.faint, 1.2, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(
        QPolygonF{{left, box.center().y()}, {left, below}, {right, below}, {right, box.center().y()}});
    painter.setFont(Theme::words(Theme::small_px));
    const QString words = tr("dry %1 %").arg(number(100 - blend_percent, 0));
    const double width = painter.fontMetrics().horizontalAdvance(words) + 12;
    const QRectF place(box.center().x() - width / 2, below - 8, width, 16);
    painter.fillRect(place, p.sheet);
    painter.setPen(p.faint);
    painter.drawText(place, Qt::AlignCenter, words);
}

void ChainPicture::paintStage(QPainter& painter, const QRectF& box, const ChainCard& card) const
{
    const Palette& p = Theme::palette();
    const bool is_chosen = m_chosen.contains(card.id);
    painter.setBrush(is_chosen ? p.wash : p.sheet);
    painter.setPen(
        QPen(is_chosen ? p.action : p.rule, is_chosen ? 2 : 1.2, card.at_work ? Qt::SolidLine : Qt::DashLine));
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
    if (hasFocus() && card.id == m_current) { // beside what is chosen: where the keys are
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(p.action, 1, Qt::DotLine));
        painter.drawRoundedRect(box.adjusted(-2.5, -2.5, 2.5, 2.5), 7, 7);
    }
    const QRectF inside = box.adjusted(9, 6, -9, -7);
    const bool remarked = !card.remark.isEmpty();
    painter.setPen(card.at_work ? p.ink : p.faint);
    painter.setFont(Theme::words(Theme::text_px, QFont::DemiBold));
    const double title_width = inside.width() - (remarked ? 14 : 0);
    painter.drawText(QRectF(inside.left(), inside.top(), title_width, 17), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(card.title, Qt::ElideRight, int(title_width)));
    if (remarked) {
        painter.setPen(p.caution);
        painter.drawText(QRectF(inside.right() - 12, inside.top(), 12, 17), Qt::AlignCenter,
                         QStringLiteral("?"));
    }
    painter.setPen(p.faint);
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(QRectF(inside.left(), inside.top() + 17, inside.width(), 15),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(card.about, Qt::ElideRight, int(inside.width())));
    const QRectF picture(inside.left(), inside.bottom() - 25, 80, 25);
    if (!card.at_work)
        painter.setOpacity(painter.opacity() * 0.5);
    paintPicture(painter, picture, card.picture, card.heights);
    painter.setOpacity(m_dragging && card.id == m_pressed ? 0.6 : 1);
    const QString words = !card.state.isEmpty() ? card.state : card.may_move ? tr("may move") : QString();
    painter.setPen(card.at_work ? p.faint : p.caution);
    painter.drawText(QRectF(picture.right() + 4, picture.top(), inside.right() - picture.right() - 4, 25),
                     Qt::AlignRight | Qt::AlignBottom | Qt::TextWordWrap, words);
}

void ChainPicture::paintPart(QPainter& painter, const QRectF& box, const ChainCard& card) const
{
    const Palette& p = Theme::palette();
    const bool is_chosen = m_chosen.contains(card.id);
    painter.setBrush(is_chosen ? p.wash : p.paper);
    painter.setPen(
        QPen(is_chosen ? p.action : p.rule, is_chosen ? 2 : 1.2, card.at_work ? Qt::SolidLine : Qt::DashLine));
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), part_height / 2, part_height / 2);
    painter.setPen(card.at_work ? p.ink : p.faint);
    painter.setFont(Theme::words(Theme::small_px));
    painter.drawText(box.adjusted(5, 0, -5, 0), Qt::AlignCenter | Qt::TextWordWrap, card.title);
}

void ChainPicture::paintAdd(QPainter& painter, std::size_t path, bool strong) const
{
    const Palette& p = Theme::palette();
    const QPointF at = addPoint(m_drawing.paths[path]);
    painter.setPen(QPen(p.action, 1.4));
    painter.setBrush(strong ? p.action : p.sheet);
    painter.drawEllipse(at, add_radius, add_radius);
    painter.setPen(QPen(strong ? p.on_action : p.action, 1.6));
    painter.drawLine(at - QPointF(4, 0), at + QPointF(4, 0));
    painter.drawLine(at - QPointF(0, 4), at + QPointF(0, 4));
}

// --- by hand -----------------------------------------------------------------------------------------

void ChainPicture::mousePressEvent(QMouseEvent* event)
{
    const QPointF at = onPaper(event->position());
    if (event->button() != Qt::LeftButton)
        return;
    if (const auto path = pathAt(at, add_radius))
        return emit addAsked(*path, mapToGlobal((addPoint(m_drawing.paths[*path]) * m_zoom).toPoint()));
    m_pressed = nodeAt(at);
    m_pressed_at = at;
    m_was_chosen = m_chosen.contains(m_pressed);
    const bool among_others = (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) != 0;
    if (!m_was_chosen || !among_others)
        if (!m_was_chosen || m_pressed.isEmpty())
            choose(m_pressed, among_others && !m_pressed.isEmpty());
}

void ChainPicture::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF at = onPaper(event->position());
    if ((event->buttons() & Qt::LeftButton) == 0) {
        const auto hovered = pathAt(at, add_radius * 1.5);
        if (hovered != m_hovered) {
            m_hovered = hovered;
            update();
        }
        setCursor(hovered ? Qt::PointingHandCursor : Qt::ArrowCursor);
        return;
    }
    if (m_pressed.isEmpty())
        return;
    const QPointF away = at - m_pressed_at;
    if (!m_dragging && away.manhattanLength() * m_zoom < QApplication::startDragDistance())
        return;
    m_dragging = true;
    m_copies = (event->modifiers() & Qt::ControlModifier) != 0;
    m_dragged_to = at;
    m_target = pathAt(at, box_width);
    setCursor(m_copies ? Qt::DragCopyCursor : Qt::ClosedHandCursor);
    update();
}

void ChainPicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton)
        return;
    const bool dragged = m_dragging;
    const auto target = m_target;
    const bool copies = (event->modifiers() & Qt::ControlModifier) != 0;
    const QString pressed = m_pressed;
    endDrag();
    if (dragged) {
        if (target)
            emit moveAsked(chosen(), *target, copies);
        return;
    }
    if (pressed.isEmpty() || !m_was_chosen)
        return;
    if (copies && m_chosen.size() > 1) { // Ctrl and a click on one of several
        m_chosen.remove(pressed);
        m_current = chosen().first();
        update();
        emit chosenChanged();
    } else if (!copies) {
        choose(pressed);
    }
}

void ChainPicture::endDrag()
{
    m_dragging = false;
    m_pressed.clear();
    m_target.reset();
    unsetCursor();
    update();
}

void ChainPicture::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (const QString id = nodeAt(onPaper(event->position())); !id.isEmpty())
        emit opened(id);
}

void ChainPicture::keyPressEvent(QKeyEvent* event)
{
    const bool among_others = (event->modifiers() & Qt::ShiftModifier) != 0;
    const bool plain = (event->modifiers() & ~Qt::ShiftModifier & ~Qt::KeypadModifier) == 0;
    if (event->key() == Qt::Key_Escape && m_dragging)
        return endDrag();
    if (!plain)
        return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Left:
        return step(-1, among_others);
    case Qt::Key_Right:
        return step(1, among_others);
    case Qt::Key_Home:
        return step(-static_cast<int>(m_drawing.nodes.size()), among_others);
    case Qt::Key_End:
        return step(static_cast<int>(m_drawing.nodes.size()), among_others);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (!m_current.isEmpty())
            return emit opened(m_current);
        break;
    default:
        break;
    }
    QWidget::keyPressEvent(event);
}

void ChainPicture::wheelEvent(QWheelEvent* event)
{
    constexpr double notch = 120, zoom_a_notch = 1.1;
    if ((event->modifiers() & Qt::ControlModifier) == 0)
        return QWidget::wheelEvent(event);
    zoom(std::pow(zoom_a_notch, event->angleDelta().y() / notch));
    event->accept();
}

void ChainPicture::contextMenuEvent(QContextMenuEvent* event)
{
    const bool by_mouse = event->reason() == QContextMenuEvent::Mouse;
    if (by_mouse)
        if (const QString id = nodeAt(onPaper(event->pos())); !id.isEmpty() && !m_chosen.contains(id))
            choose(id);
    emit menuAsked(by_mouse ? event->globalPos() : mapToGlobal(placeOf(m_current).center()));
}

void ChainPicture::leaveEvent(QEvent*)
{
    m_hovered.reset();
    update();
}

void ChainPicture::focusInEvent(QFocusEvent* event)
{
    if (m_current.isEmpty() && event->reason() != Qt::MouseFocusReason)
        step(1);
    QWidget::focusInEvent(event);
}

bool ChainPicture::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip)
        return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const QPointF at = onPaper(help->pos());
    const ChainCard* shown = card(nodeAt(at));
    QString words;
    if (pathAt(at, add_radius))
        words = tr("put a stage here");
    else if (shown)
        words = QStringList{shown->title, shown->about, shown->remark}.join(QLatin1Char('\n')).trimmed();
    QToolTip::showText(help->globalPos(), words, this);
    return true;
}

// --- dragged here from elsewhere -----------------------------------------------------------------------

void ChainPicture::dragEnterEvent(QDragEnterEvent* event)
{
    if (event->mimeData()->hasFormat(m_processors_format))
        event->acceptProposedAction();
}

void ChainPicture::dragMoveEvent(QDragMoveEvent* event)
{
    m_hovered = pathAt(onPaper(event->position()), width() + height());
    update();
    event->acceptProposedAction();
}

void ChainPicture::dragLeaveEvent(QDragLeaveEvent*)
{
    m_hovered.reset();
    update();
}

void ChainPicture::dropEvent(QDropEvent* event)
{
    const QByteArray ids = event->mimeData()->data(m_processors_format);
    const auto path = pathAt(onPaper(event->position()), width() + height());
    m_hovered.reset();
    event->acceptProposedAction();
    if (path)
        emit processorsDropped(QString::fromUtf8(ids).split(QLatin1Char('\n'), Qt::SkipEmptyParts), *path);
}

} // namespace hr::app
