// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/chain_picture.h"

#include "processors/value_text.h"
#include "widgets/chain_painter.h"

#include <QApplication>
#include <QDropEvent>
#include <QMimeData>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double least_zoom = 0.5, most_zoom = 1.6;
constexpr double within_reach = 180; // of a drag, to a path

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
    const bool rewired = !std::ranges::equal(m_layout.drawing().paths, drawing.paths, {},
                                             &chain::DrawnPath::edge, &chain::DrawnPath::edge);
    m_layout = ChainLayout(std::move(drawing), std::move(cards));
    QSet<QString> left;
    for (const ChainCard& one : m_layout.cards())
        if (m_chosen.contains(one.id))
            left.insert(one.id);
    const bool other = left != m_chosen;
    m_chosen = left;
    if (!m_layout.card(m_current))
        m_current = m_chosen.isEmpty() ? QString() : chosen().first();
    if (rewired) {
        m_hovered.reset();
        m_hovered_end.reset();
        endDrag();
    }
    fitSize();
    tellCurrent();
    update();
    if (other)
        emit chosenChanged();
}

// --- where things stand ------------------------------------------------------------------------------

void ChainPicture::fitSize()
{
    updateGeometry();
    resize(sizeHint().expandedTo(size()));
}

QSize ChainPicture::sizeHint() const
{
    return (m_layout.size() * m_zoom).toSize();
}

double ChainPicture::middleOf(const std::string& id) const
{
    const chain::DrawnNode* node = m_layout.node(QString::fromStdString(id));
    return node ? m_layout.boxOf(*node).center().x() * m_zoom : 0;
}

QRect ChainPicture::placeOf(const QString& id) const
{
    const chain::DrawnNode* node = m_layout.node(id);
    if (!node)
        return {};
    const QRectF box = m_layout.boxOf(*node);
    return QRectF(box.topLeft() * m_zoom, box.size() * m_zoom).toRect();
}

void ChainPicture::zoom(double by)
{
    m_zoom = std::clamp(m_zoom * by, least_zoom, most_zoom);
    fitSize();
    update();
    emit zoomed();
}

// --- what is chosen ----------------------------------------------------------------------------------

/// Only what is to be seen of it is painted again.
void ChainPicture::setGains(const std::map<QString, double>& gains_db)
{
    for (const chain::DrawnNode& node : m_layout.drawing().nodes) {
        const ChainCard* card = m_layout.cardOf(node);
        if (!card || !card->is_stage)
            continue;
        const auto gain = gains_db.find(card->id);
        if (!m_layout.setGain(card->id, gain == gains_db.end() ? std::nullopt : std::optional(gain->second)))
            continue;
        const QRectF box = m_layout.gainBox(m_layout.boxOf(node), *card);
        update(QRectF(box.topLeft() * m_zoom, box.size() * m_zoom).toAlignedRect().adjusted(-2, -2, 2, 2));
    }
}

QStringList ChainPicture::chosen() const
{
    QStringList ids;
    for (const chain::DrawnNode& node : m_layout.drawing().nodes)
        if (const QString id = QString::fromStdString(node.id); m_chosen.contains(id))
            ids << id;
    return ids;
}

void ChainPicture::choose(const QString& id, bool among_others)
{
    if (!among_others)
        m_chosen.clear();
    if (m_layout.card(id)) {
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
    for (const ChainCard& one : m_layout.cards())
        m_chosen.insert(one.id);
    if (m_current.isEmpty() && !m_layout.cards().empty())
        m_current = chosen().first();
    update();
    emit chosenChanged();
}

void ChainPicture::step(int columns, bool among_others)
{
    if (m_layout.cards().empty())
        return;
    const auto& nodes = m_layout.drawing().nodes;
    const auto here = std::ranges::find(nodes, m_current.toStdString(), &chain::DrawnNode::id);
    const auto last = static_cast<int>(nodes.size()) - 2;
    const int at = here == nodes.end() ? (columns > 0 ? 0 : last + 1) : here->column;
    choose(QString::fromStdString(nodes[static_cast<std::size_t>(std::clamp(at + columns, 1, last))].id),
           among_others);
}

/// For those who listen to the screen: what the keys are on.
void ChainPicture::tellCurrent()
{
    const ChainCard* now = m_layout.card(m_current);
    QStringList words;
    if (now) {
        words << now->title << now->about;
        if (!now->state.isEmpty())
            words << now->state;
        if (!now->remark.isEmpty())
            words << now->remark;
    } else {
        for (const ChainCard& one : m_layout.cards())
            words << one.title;
    }
    setAccessibleDescription(words.join(QStringLiteral("; ")));
}

// --- drawn -------------------------------------------------------------------------------------------

void ChainPicture::paintEvent(QPaintEvent* event)
{
    QPainter painter(this);
    painter.scale(m_zoom, m_zoom);
    const ChainPainter chain(painter, m_layout, m_chosen, hasFocus() ? m_current : QString());
    chain.paint({QPointF(event->rect().topLeft()) / m_zoom, QSizeF(event->rect().size()) / m_zoom});
    const auto shown = m_dragging                  ? m_target
                       : m_hovered                 ? m_hovered
                       : hasFocus() && !m_held_end ? m_layout.pathBehind(m_current)
                                                   : std::nullopt;
    if (shown)
        chain.paintAdd(*shown, m_dragging);
    if (m_held_end)
        chain.paintLed(*m_held_end, m_dragged_to);
    else if (m_hovered_end && !m_dragging)
        chain.paintEnd(*m_hovered_end);
    if (const ChainCard* held = m_dragging ? m_layout.card(m_pressed) : nullptr)
        chain.paintDragged(*held, m_dragged_to);
}

// --- by hand -----------------------------------------------------------------------------------------

void ChainPicture::mousePressEvent(QMouseEvent* event)
{
    const QPointF at = onPaper(event->position());
    if (event->button() != Qt::LeftButton)
        return;
    const bool among_others = (event->modifiers() & (Qt::ControlModifier | Qt::ShiftModifier)) != 0;
    if (!among_others && takeHold(at))
        return;
    if (const auto path = m_layout.pathAt(at, ChainPainter::add_radius))
        return emit addRequested(
            *path, mapToGlobal((m_layout.addPoint(m_layout.drawing().paths[*path]) * m_zoom).toPoint()));
    m_pressed = m_layout.nodeAt(at);
    m_pressed_at = at;
    m_was_chosen = m_chosen.contains(m_pressed);
    if (!m_was_chosen || !among_others)
        if (!m_was_chosen || m_pressed.isEmpty())
            choose(m_pressed, among_others && !m_pressed.isEmpty());
}

/// Of the end of a path, or of a value that stands on a stage.
bool ChainPicture::takeHold(const QPointF& at)
{
    m_pressed_at = m_dragged_to = at;
    if (const auto value = m_layout.valueAt(at)) {
        choose(value->id);
        const CardValue& now = m_layout.card(value->id)->values[value->value];
        m_held_value = value;
        m_held_position = processors::trackPosition(now.parameter, now.value);
        return true;
    }
    const auto end = m_layout.endAt(at, ChainPainter::end_radius);
    if (end)
        m_held_end = end;
    return end.has_value();
}

void ChainPicture::turnValue(const QPointF& at, bool finely)
{
    constexpr double fine = 0.1;
    const ChainCard* shown = m_layout.card(m_held_value->id);
    if (!shown || m_held_value->value >= shown->values.size())
        return m_held_value.reset();
    const CardValue& held = shown->values[m_held_value->value];
    const double width = m_layout.valueBox(m_layout.boxOf(*m_layout.node(shown->id)), *shown, 0).width();
    m_held_position += (at.x() - m_dragged_to.x()) / width * (finely ? fine : 1);
    m_dragged_to = at;
    const double value = processors::valueAt(held.parameter, std::clamp(m_held_position, 0.0, 1.0));
    const QString id = shown->id; // what hears of it may lay out the chain anew
    if (value != held.value)
        emit valueMoved(id, QString::fromStdString(held.parameter.key), value);
}

void ChainPicture::mouseMoveEvent(QMouseEvent* event)
{
    const QPointF at = onPaper(event->position());
    if ((event->buttons() & Qt::LeftButton) == 0) {
        const auto end = m_layout.endAt(at, ChainPainter::end_radius);
        const auto hovered = end ? std::nullopt : m_layout.pathAt(at, ChainPainter::add_radius * 1.5);
        if (hovered != m_hovered || end != m_hovered_end) {
            m_hovered = hovered;
            m_hovered_end = end;
            update();
        }
        setCursor(m_layout.valueAt(at) ? Qt::SizeHorCursor
                  : end                ? Qt::OpenHandCursor
                  : hovered            ? Qt::PointingHandCursor
                                       : Qt::ArrowCursor);
        return;
    }
    if (m_held_value)
        return turnValue(at, (event->modifiers() & Qt::ShiftModifier) != 0);
    if (m_held_end) {
        m_dragged_to = at;
        update();
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
    m_target = m_layout.pathAt(at, within_reach);
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
    const auto end = m_held_end;
    endDrag();
    if (end) {
        const QString node = m_layout.placeAt(onPaper(event->position()));
        if (!node.isEmpty() && node != m_layout.placeAt(m_pressed_at))
            emit leadRequested(end->path, end->arrives, node);
        return;
    }
    if (dragged) {
        if (target)
            emit moveRequested(chosen(), *target, copies);
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
    m_held_end.reset();
    m_held_value.reset();
    unsetCursor();
    update();
}

void ChainPicture::mouseDoubleClickEvent(QMouseEvent* event)
{
    const QPointF at = onPaper(event->position());
    if (const auto value = m_layout.valueAt(at)) {
        const auto& [parameter, now] = m_layout.card(value->id)->values[value->value];
        emit valueRequested(value->id, QString::fromStdString(parameter.key),
                            event->globalPosition().toPoint());
    } else if (const QString id = m_layout.nodeAt(at); !id.isEmpty()) {
        emit opened(id);
    }
}

void ChainPicture::keyPressEvent(QKeyEvent* event)
{
    const bool among_others = (event->modifiers() & Qt::ShiftModifier) != 0;
    const bool plain = (event->modifiers() & ~Qt::ShiftModifier & ~Qt::KeypadModifier) == 0;
    if (event->key() == Qt::Key_Escape && (m_dragging || m_held_end))
        return endDrag();
    if (!plain)
        return QWidget::keyPressEvent(event);
    switch (event->key()) {
    case Qt::Key_Left:
        return step(-1, among_others);
    case Qt::Key_Right:
        return step(1, among_others);
    case Qt::Key_Home:
        return step(-static_cast<int>(m_layout.drawing().nodes.size()), among_others);
    case Qt::Key_End:
        return step(static_cast<int>(m_layout.drawing().nodes.size()), among_others);
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
        if (const QString id = m_layout.nodeAt(onPaper(event->pos())); !id.isEmpty() && !m_chosen.contains(id))
            choose(id);
    emit menuRequested(by_mouse ? event->globalPos() : mapToGlobal(placeOf(m_current).center()));
}

void ChainPicture::leaveEvent(QEvent*)
{
    m_hovered.reset();
    m_hovered_end.reset();
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
    const ChainCard* shown = m_layout.card(m_layout.nodeAt(at));
    QString words;
    if (const auto value = m_layout.valueAt(at))
        words = tr("%1: drag it, or click twice to type")
                    .arg(QString::fromStdString(m_layout.card(value->id)->values[value->value].parameter.name));
    else if (m_layout.endAt(at, ChainPainter::end_radius))
        words = tr("drag it to where the path is to lead");
    else if (m_layout.pathAt(at, ChainPainter::add_radius))
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
    m_hovered = m_layout.pathAt(onPaper(event->position()), width() + height());
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
    const auto path = m_layout.pathAt(onPaper(event->position()), width() + height());
    m_hovered.reset();
    event->acceptProposedAction();
    if (path)
        emit processorsDropped(QString::fromUtf8(ids).split(QLatin1Char('\n'), Qt::SkipEmptyParts), *path);
}

} // namespace hr::app
