// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/map_view.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>
#include <map>

namespace hr::app {

namespace {

constexpr qsizetype most_kinds = 7;
constexpr double dot_px = 4;
constexpr double near_px = 10;
constexpr double most_zoom = 40;
constexpr std::size_t most_names = 160;
constexpr int legend_px = 22;

/// Told apart by shape as well as by colour; others are small rings.
void drawDot(QPainter& painter, const QPointF& at, qsizetype kind, double size)
{
    const auto polygon = [&](int corners, double turned) {
        QPolygonF shape;
        for (int i = 0; i < corners; ++i) {
            const double angle = 2 * M_PI * i / corners + turned;
            shape << at + size * 1.25 * QPointF(std::sin(angle), -std::cos(angle));
        }
        painter.drawPolygon(shape);
    };
    switch (kind) {
    case 0:
        return painter.drawEllipse(at, size, size);
    case 1:
        return polygon(4, M_PI / 4);
    case 2:
        return polygon(4, 0);
    case 3:
        return polygon(3, 0);
    case 4:
        return polygon(3, M_PI);
    case 5:
        return polygon(6, 0);
    case 6:
        return polygon(5, 0);
    default:
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(at, size * 0.8, size * 0.8);
    }
}

QColor colourOf(qsizetype kind)
{
    return kind >= 0 && kind < most_kinds ? markColour(static_cast<int>(kind) + 1) : Theme::palette().faint;
}

} // namespace

MapView::MapView(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("map of what behaves alike"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(false);
}

void MapView::setPoints(std::vector<Point> points)
{
    m_points = std::move(points);
    std::map<QString, int> counts;
    for (const Point& point : m_points)
        if (!point.kind.isEmpty())
            ++counts[point.kind];
    std::vector<std::pair<int, QString>> commonest;
    for (const auto& [kind, count] : counts)
        commonest.emplace_back(-count, kind);
    std::ranges::sort(commonest);
    m_kinds.clear();
    for (const auto& [count, kind] : commonest)
        if (m_kinds.size() < most_kinds)
            m_kinds << kind;
    changed();
}

void MapView::setSelected(const QStringList& ids)
{
    m_selected = ids;
    update();
}

void MapView::setThemeColours()
{
    changed();
}

void MapView::changed()
{
    m_drawn = {};
    update();
}

QPointF MapView::onScreen(const bench::MapPlace& place) const
{
    const double side_x = width() * m_zoom;
    const double side_y = (height() - legend_px) * m_zoom;
    return {width() / 2.0 + (place.x - m_middle.x()) * side_x,
            legend_px + (height() - legend_px) / 2.0 + (place.y - m_middle.y()) * side_y};
}

QPointF MapView::whereIs(const QString& id) const
{
    const auto found = std::ranges::find(m_points, id, &Point::id);
    return found == m_points.end() ? QPointF(-1, -1) : onScreen(found->place);
}

const MapView::Point* MapView::nearestTo(const QPointF& at, double within_px) const
{
    const Point* nearest = nullptr;
    double least = within_px;
    for (const Point& point : m_points) {
        const QPointF away = onScreen(point.place) - at;
        if (const double distance = std::hypot(away.x(), away.y()); point.found && distance <= least) {
            least = distance;
            nearest = &point;
        }
    }
    return nearest;
}

// --- painting -----------------------------------------------------------------------------------------

void MapView::paintEvent(QPaintEvent*)
{
    if (m_drawn.isNull()) {
        m_drawn = QPixmap(size() * devicePixelRatioF());
        m_drawn.setDevicePixelRatio(devicePixelRatioF());
        m_drawn.fill(Theme::palette().sheet);
        QPainter painter(&m_drawn);
        paintAll(painter);
    }
    QPainter painter(this);
    painter.drawPixmap(0, 0, m_drawn);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(Theme::palette().action, 2));
    painter.setBrush(Qt::NoBrush);
    painter.setFont(Theme::words(Theme::small_px));
    for (const Point& point : m_points)
        if (m_selected.contains(point.id)) {
            const QPointF at = onScreen(point.place);
            if (m_selected.size() != 1) {
                painter.drawEllipse(at, dot_px + 4, dot_px + 4);
                continue;
            }
            // Over the name that may be there already, and over what lies under it.
            QRectF name(at.x() + dot_px, at.y() - 9, painter.fontMetrics().horizontalAdvance(point.name) + 14,
                        18);
            if (name.right() > width())
                name.moveRight(at.x() - dot_px);
            painter.fillRect(name, Theme::palette().sheet);
            painter.drawText(name, Qt::AlignCenter, point.name);
            drawKind(painter, point, true);
            painter.setPen(QPen(Theme::palette().action, 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, dot_px + 4, dot_px + 4);
        }
    if (m_lasso.size() > 1) {
        QColor inside = Theme::palette().action;
        inside.setAlpha(30);
        painter.setBrush(inside);
        painter.setPen(QPen(Theme::palette().action, 1.4, Qt::DashLine));
        painter.drawPolygon(m_lasso);
    }
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(Theme::palette().action, 1));
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void MapView::drawKind(QPainter& painter, const Point& point, bool clear) const
{
    const qsizetype kind = m_kinds.indexOf(point.kind);
    QColor colour = colourOf(kind);
    colour.setAlpha(clear ? 230 : 45);
    painter.setPen(kind < 0 ? QPen(colour, 1.4) : QPen(Qt::NoPen));
    painter.setBrush(colour);
    drawDot(painter, onScreen(point.place), kind, dot_px);
}

void MapView::paintAll(QPainter& painter)
{
    painter.setRenderHint(QPainter::Antialiasing);
    for (const bool found : {false, true})
        for (const Point& point : m_points) {
            if (point.found == found)
                drawKind(painter, point, found);
        }
    paintNames(painter);
    paintLegend(painter);
}

/// As many as do not lie over one another.
void MapView::paintNames(QPainter& painter) const
{
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(Theme::palette().ink);
    const QFontMetricsF metrics = painter.fontMetrics();
    std::vector<QRectF> taken;
    for (const Point& point : m_points) {
        const QPointF at = onScreen(point.place);
        if (!point.found || taken.size() >= most_names || !rect().contains(at.toPoint()) || at.y() < legend_px)
            continue;
        const double wide = metrics.horizontalAdvance(point.name);
        QRectF box(at.x() + dot_px + 3, at.y() - metrics.height() / 2, wide, metrics.height());
        if (box.right() > width())
            box.moveRight(at.x() - dot_px - 3);
        if (box.left() < 0 ||
            std::ranges::any_of(taken, [&](const QRectF& other) { return other.intersects(box); }))
            continue;
        taken.push_back(box);
        painter.drawText(box, Qt::AlignCenter, point.name);
    }
}

void MapView::paintLegend(QPainter& painter) const
{
    painter.fillRect(QRectF(0, 0, width(), legend_px), Theme::palette().sheet);
    painter.setFont(Theme::words(Theme::small_px));
    double x = 8;
    for (qsizetype kind = 0; kind <= m_kinds.size(); ++kind) {
        const bool others = kind == m_kinds.size();
        const QString words = others ? tr("others") : m_kinds[kind];
        const double wide = painter.fontMetrics().horizontalAdvance(words) + 26;
        if (x + wide > width())
            break;
        painter.setPen(others ? QPen(Theme::palette().faint, 1.4) : QPen(Qt::NoPen));
        painter.setBrush(colourOf(others ? -1 : kind));
        drawDot(painter, {x + 5, legend_px / 2.0}, others ? -1 : kind, dot_px);
        painter.setPen(Theme::palette().ink);
        painter.drawText(QRectF(x + 13, 0, wide, legend_px), Qt::AlignLeft | Qt::AlignVCenter, words);
        x += wide;
    }
}

void MapView::resizeEvent(QResizeEvent*)
{
    m_drawn = {};
}

// --- by hand ------------------------------------------------------------------------------------------

void MapView::mousePressEvent(QMouseEvent* event)
{
    if (event->button() == Qt::LeftButton)
        m_lasso = QPolygonF({event->position()});
}

void MapView::mouseMoveEvent(QMouseEvent* event)
{
    if (m_lasso.isEmpty())
        return;
    m_lasso << event->position();
    update();
}

void MapView::mouseReleaseEvent(QMouseEvent* event)
{
    if (m_lasso.isEmpty() || event->button() != Qt::LeftButton)
        return;
    const QPolygonF lasso = std::exchange(m_lasso, {});
    const QRectF around = lasso.boundingRect();
    QStringList ids;
    if (std::max(around.width(), around.height()) < near_px) {
        if (const Point* nearest = nearestTo(event->position(), near_px))
            ids << nearest->id;
    } else {
        for (const Point& point : m_points)
            if (point.found && lasso.containsPoint(onScreen(point.place), Qt::OddEvenFill))
                ids << point.id;
    }
    update();
    if (!ids.isEmpty())
        emit chosen(ids);
}

void MapView::wheelEvent(QWheelEvent* event)
{
    zoom(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
}

void MapView::zoom(double factor, const QPointF& about)
{
    const double before = m_zoom;
    m_zoom = std::clamp(m_zoom * factor, 1.0, most_zoom);
    if (m_zoom == before)
        return;
    // What is under the pointer stays there.
    const QPointF from_middle((about.x() - width() / 2.0) / width(),
                              (about.y() - legend_px - (height() - legend_px) / 2.0) / (height() - legend_px));
    m_middle += from_middle * (1 / before - 1 / m_zoom);
    if (m_zoom == 1.0)
        m_middle = {0.5, 0.5};
    changed();
}

/// To the nearest that lies more in this direction than across it.
void MapView::step(const QPointF& direction)
{
    const auto from =
        std::ranges::find_if(m_points, [this](const Point& point) { return m_selected.contains(point.id); });
    if (from == m_points.end()) {
        if (const Point* nearest = nearestTo(rect().center(), width()))
            emit chosen({nearest->id});
        return;
    }
    const QPointF here = onScreen(from->place);
    const Point* next = nullptr;
    double least = 1e9;
    for (const Point& point : m_points) {
        const QPointF away = onScreen(point.place) - here;
        const double along = QPointF::dotProduct(away, direction);
        const double across = std::abs(away.x() * direction.y() - away.y() * direction.x());
        if (!point.found || along <= 0 || across > along || along + across >= least)
            continue;
        least = along + across;
        next = &point;
    }
    if (next)
        emit chosen({next->id});
}

void MapView::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Left:
        return step({-1, 0});
    case Qt::Key_Right:
        return step({1, 0});
    case Qt::Key_Up:
        return step({0, -1});
    case Qt::Key_Down:
        return step({0, 1});
    case Qt::Key_Plus:
        return zoom(1.4, rect().center());
    case Qt::Key_Minus:
        return zoom(1 / 1.4, rect().center());
    case Qt::Key_Home:
        return zoom(1 / most_zoom, rect().center());
    default:
        QWidget::keyPressEvent(event);
    }
}

bool MapView::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(event);
        const Point* nearest = nearestTo(help->pos(), near_px);
        nearest ? QToolTip::showText(help->globalPos(),
                                     tr("%1 · %2").arg(nearest->name, nearest->kind).toHtmlEscaped())
                : QToolTip::hideText();
        return true;
    }
    // Home is the transport's elsewhere.
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Home) {
        event->accept();
        return true;
    }
    return QWidget::event(event);
}

} // namespace hr::app
