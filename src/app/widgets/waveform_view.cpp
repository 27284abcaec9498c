// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/waveform_view.h"

#include "theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QTimer>
#include <cmath>

namespace hr::app {

namespace {

constexpr double edge_px = 5;
constexpr double least_drag_px = 4;
constexpr int overview_again_ms = 300; // while a long file is still being looked through

} // namespace

WaveformView::WaveformView(QWidget* parent) : QWidget(parent)
{
    setMinimumSize(200, 56);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("waveform and repeated section"));
}

void WaveformView::setSource(std::shared_ptr<const audition::Source> source)
{
    m_source = std::move(source);
    m_loop = m_source ? m_source->whole() : audition::Section{};
    m_position = 0;
    reduce();
    update();
}

void WaveformView::setLoop(audition::Section loop)
{
    m_loop = loop;
    update();
}

void WaveformView::setPosition(std::size_t frame)
{
    if (std::lround(xOf(frame)) != std::lround(xOf(m_position)))
        update();
    m_position = frame;
}

void WaveformView::reduce()
{
    // One peak a pixel, from the overview that the source keeps: an hour costs no more than a second.
    m_peaks.assign(static_cast<std::size_t>(std::max(width(), 0)), 0.0F);
    if (!m_source || m_peaks.empty())
        return;
    const bool whole = m_source->overviewIsWhole();
    const auto& overview = m_source->overview();
    for (std::size_t x = 0; x < m_peaks.size(); ++x) {
        const std::size_t first = x * overview.size() / m_peaks.size();
        const std::size_t end = std::max(first + 1, (x + 1) * overview.size() / m_peaks.size());
        for (std::size_t i = first; i < end; ++i)
            m_peaks[x] = std::max(m_peaks[x], overview[i].load(std::memory_order_relaxed));
    }
    if (!whole)
        QTimer::singleShot(overview_again_ms, this, [this, looked_at = m_source] {
            if (looked_at != m_source)
                return;
            reduce();
            update();
        });
    // The shape matters here, not the level: the loudest fills the height.
    const float loudest = *std::ranges::max_element(m_peaks);
    if (loudest > 0)
        for (float& peak : m_peaks)
            peak /= loudest;
}

double WaveformView::xOf(std::size_t frame) const
{
    return m_source ? static_cast<double>(frame) * width() / static_cast<double>(m_source->frames()) : 0;
}

std::size_t WaveformView::frameAt(double x) const
{
    const double part = std::clamp(x / std::max(1, width()), 0.0, 1.0);
    return static_cast<std::size_t>(part * static_cast<double>(m_source->frames()));
}

audition::Section WaveformView::dragged() const
{
    const std::size_t first = frameAt(std::min(m_from_x, m_to_x));
    return {first, frameAt(std::max(m_from_x, m_to_x)) - first};
}

void WaveformView::setHeard(bool heard)
{
    m_heard = heard;
    update();
}

void WaveformView::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    const double middle = height() / 2.0;
    if (!m_source) {
        painter.setPen(p.faint);
        painter.drawText(rect(), Qt::AlignCenter, tr("no source"));
        return;
    }
    const bool section = m_dragging && std::abs(m_to_x - m_from_x) >= least_drag_px;
    const audition::Section loop = section ? dragged() : m_loop;
    const double first = xOf(loop.first);
    const double last = xOf(loop.first + loop.frames);
    if (m_heard)
        painter.fillRect(QRectF(first, 0, last - first, height()), p.wash);
    for (std::size_t x = 0; x < m_peaks.size(); ++x) {
        const auto at = static_cast<double>(x);
        painter.setPen(!m_heard ? p.rule : at >= first && at <= last ? p.ink : p.faint);
        const double half = std::max(0.5, static_cast<double>(m_peaks[x]) * (middle - 2));
        painter.drawLine(QPointF(at, middle - half), QPointF(at, middle + half));
    }
    if (!m_heard)
        return;
    painter.setPen(QPen(p.action, 2));
    painter.drawLine(QPointF(first + 1, 0), QPointF(first + 1, height()));
    painter.drawLine(QPointF(last - 1, 0), QPointF(last - 1, height()));
    painter.setPen(QPen(p.fault, 1.5));
    const double at = xOf(m_position);
    painter.drawLine(QPointF(at, 0), QPointF(at, height()));
    if (hasFocus()) {
        painter.setPen(QPen(p.action, 1, Qt::DashLine));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void WaveformView::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    reduce();
}

void WaveformView::mousePressEvent(QMouseEvent* event)
{
    if (!m_source)
        return;
    const double x = event->position().x();
    const double first = xOf(m_loop.first);
    const double last = xOf(m_loop.first + m_loop.frames);
    m_dragging = true;
    m_to_x = x;
    // At an edge one takes hold of it: the other edge stays.
    m_from_x = std::abs(x - first) <= edge_px ? last : std::abs(x - last) <= edge_px ? first : x;
}

void WaveformView::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_source)
        return;
    const double x = event->position().x();
    const bool edge = std::abs(x - xOf(m_loop.first)) <= edge_px ||
                      std::abs(x - xOf(m_loop.first + m_loop.frames)) <= edge_px;
    setCursor(edge ? Qt::SplitHCursor : Qt::ArrowCursor);
    if (m_dragging) {
        m_to_x = std::clamp(x, 0.0, static_cast<double>(width()));
        update();
    }
}

void WaveformView::mouseReleaseEvent(QMouseEvent* event)
{
    if (!m_dragging)
        return;
    m_dragging = false;
    if (std::abs(m_to_x - m_from_x) >= least_drag_px)
        emit loopChosen(dragged());
    else
        emit positionChosen(frameAt(event->position().x()));
    update();
}

void WaveformView::mouseDoubleClickEvent(QMouseEvent*)
{
    m_dragging = false;
    if (m_source)
        emit loopChosen(m_source->whole());
}

void WaveformView::keyPressEvent(QKeyEvent* event)
{
    if (!m_source ||
        (event->key() != Qt::Key_Left && event->key() != Qt::Key_Right && event->key() != Qt::Key_Home))
        return QWidget::keyPressEvent(event);
    const auto step = static_cast<std::size_t>(m_source->rateHz() / 2);
    if (event->key() == Qt::Key_Home)
        emit positionChosen(m_loop.first);
    else if (event->key() == Qt::Key_Right)
        emit positionChosen(std::min(m_position + step, m_source->frames() - 1));
    else
        emit positionChosen(m_position > step ? m_position - step : 0);
}

} // namespace hr::app
