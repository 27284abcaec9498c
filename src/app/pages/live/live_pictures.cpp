// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_pictures.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double lowest_dbfs = -96;
constexpr double grasp_px = 6;                     // an edge is taken hold of within so much
constexpr double correlation_px = 18;              // from the bottom
constexpr double deepest_db = -18, highest_db = 6; // of the gain, unless it goes further

/// What lies beside it is shaded.
void drawBand(QPainter& painter, const LiveAxes& axes, const SpectrumPicture::Band& band_hz)
{
    QColor shade = Theme::palette().rule;
    shade.setAlpha(120);
    const QRectF& area = axes.area();
    const double from = axes.x(band_hz.first);
    const double to = axes.x(band_hz.second);
    painter.fillRect(QRectF(area.left(), area.top(), from - area.left(), area.height()), shade);
    painter.fillRect(QRectF(to, area.top(), area.right() - to, area.height()), shade);
    painter.setPen(QPen(Theme::palette().action, 2));
    for (const double x : {from, to})
        painter.drawLine(QPointF(x, area.top()), QPointF(x, area.bottom()));
}

void drawCurve(QPainter& painter, const LiveAxes& axes, const std::vector<double>& xs,
               const std::vector<double>& ys)
{
    QPolygonF line;
    for (std::size_t i = 0; i < std::min(xs.size(), ys.size()); ++i)
        line << QPointF(axes.x(xs[i]), axes.y(std::max(ys[i], lowest_dbfs)));
    painter.drawPolyline(line);
}

} // namespace

// --- spectrum -----------------------------------------------------------------------------------------

SpectrumPicture::SpectrumPicture(QWidget* parent) : LivePicture(parent)
{
    setAccessibleName(tr("spectrum of what goes in and what comes out"));
}

void SpectrumPicture::show(const audition::LiveSpectrum* in, const audition::LiveSpectrum* out, int mark)
{
    m_in_dbfs = in ? in->levelsDbfs() : std::vector<double>();
    m_out_dbfs = out ? out->levelsDbfs() : std::vector<double>();
    m_peaks_dbfs = out ? out->peaksDbfs() : std::vector<double>();
    if (out && m_frequencies_hz.size() != out->frequenciesHz().size())
        m_frequencies_hz = out->frequenciesHz();
    m_mark = mark;
    update();
}

void SpectrumPicture::setBand(std::optional<Band> band_hz)
{
    m_band_hz = band_hz;
    setMouseTracking(band_hz.has_value());
    update();
}

std::optional<bool> SpectrumPicture::edgeAt(double x) const
{
    if (!m_band_hz)
        return std::nullopt;
    const double to_lower = std::abs(x - axes().spanX().xOf(m_band_hz->first));
    const double to_upper = std::abs(x - axes().spanX().xOf(m_band_hz->second));
    if (std::min(to_lower, to_upper) > grasp_px)
        return std::nullopt;
    return to_lower == to_upper ? x > axes().spanX().xOf(m_band_hz->first) : to_upper < to_lower;
}

void SpectrumPicture::mousePressEvent(QMouseEvent* event)
{
    m_dragged = event->button() == Qt::LeftButton ? edgeAt(event->position().x()) : std::nullopt;
}

void SpectrumPicture::mouseMoveEvent(QMouseEvent* event)
{
    const double x = event->position().x();
    if (m_dragged)
        emit edgeDragged(*m_dragged, axes().spanX().valueAt(x));
    else
        setCursor(edgeAt(x) ? Qt::SplitHCursor : Qt::ArrowCursor);
}

void SpectrumPicture::mouseReleaseEvent(QMouseEvent*)
{
    m_dragged.reset();
}

LiveAxes SpectrumPicture::axes() const
{
    return {rect(), {20, 20000, true}, {lowest_dbfs, 0, false}};
}

void SpectrumPicture::drawGround(QPainter& painter) const
{
    axes().title(painter, tr("Spectrum · in: ink, out: matched, as it is heard"));
    axes().ruleX(painter, {{20, QStringLiteral("20")},
                           {50, QStringLiteral("50")},
                           {100, QStringLiteral("100")},
                           {200, QStringLiteral("200")},
                           {500, QStringLiteral("500")},
                           {1000, QStringLiteral("1k")},
                           {2000, QStringLiteral("2k")},
                           {5000, QStringLiteral("5k")},
                           {10000, QStringLiteral("10k")},
                           {20000, tr("Hz")}});
    axes().ruleY(painter, {-90, -60, -30, 0}, tr("dBFS"));
}

void SpectrumPicture::drawLive(QPainter& painter)
{
    const LiveAxes axes = this->axes();
    if (m_band_hz)
        drawBand(painter, axes, *m_band_hz);
    QColor faint = markColour(m_mark);
    faint.setAlpha(110);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(faint, 1));
    drawCurve(painter, axes, m_frequencies_hz, m_peaks_dbfs);
    painter.setPen(QPen(Theme::palette().ink, 1));
    drawCurve(painter, axes, m_frequencies_hz, m_in_dbfs);
    painter.setPen(QPen(markColour(m_mark), 2));
    drawCurve(painter, axes, m_frequencies_hz, m_out_dbfs);
}

// --- gain over time -----------------------------------------------------------------------------------

GainPicture::GainPicture(QWidget* parent)
    : LivePicture(parent), m_lowest_db(deepest_db), m_highest_db(highest_db)
{
    setAccessibleName(tr("gain over time: out against in"));
}

void GainPicture::show(const audition::GainHistory* history, int mark)
{
    m_gains_db.clear();
    if (history) {
        for (const auto& step : history->steps())
            m_gains_db.push_back(step.gain_db);
        if (history->most() != std::exchange(m_most, history->most()))
            groundChanged();
    }
    m_mark = mark;
    double lowest = deepest_db;
    double highest = highest_db;
    for (const auto& gain : m_gains_db)
        if (gain) {
            lowest = std::min(lowest, 6 * std::floor(*gain / 6));
            highest = std::max(highest, 6 * std::ceil(*gain / 6));
        }
    if (lowest != m_lowest_db || highest != m_highest_db)
        groundChanged();
    m_lowest_db = lowest;
    m_highest_db = highest;
    update();
}

LiveAxes GainPicture::axes() const
{
    return {rect(),
            {-static_cast<double>(m_most) * audition::GainHistory::step_s, 0, false},
            {m_lowest_db, m_highest_db, false}};
}

void GainPicture::drawGround(QPainter& painter) const
{
    const LiveAxes axes = this->axes();
    axes.title(painter, tr("Gain over time · out against in, before matching"));
    std::vector<std::pair<double, QString>> times;
    for (double s = -static_cast<double>(m_most) * audition::GainHistory::step_s; s < 0; s += 2)
        times.emplace_back(s, number(s, 0));
    times.emplace_back(0, tr("s"));
    axes.ruleX(painter, times);
    std::vector<double> levels;
    const double step = m_highest_db - m_lowest_db > 36 ? 12 : 6;
    for (double db = m_lowest_db; db <= m_highest_db; db += step)
        levels.push_back(db);
    axes.ruleY(painter, levels, tr("dB"));
    painter.setPen(QPen(Theme::palette().ink, 1));
    painter.drawLine(QPointF(axes.area().left(), axes.y(0)), QPointF(axes.area().right(), axes.y(0)));
}

void GainPicture::drawLive(QPainter& painter)
{
    const LiveAxes axes = this->axes();
    painter.setPen(QPen(markColour(m_mark), 1.6));
    QPolygonF line;
    for (std::size_t i = 0; i < m_gains_db.size(); ++i) {
        if (m_gains_db[i]) {
            const double ago_s = -static_cast<double>(m_gains_db.size() - i) * audition::GainHistory::step_s;
            line << QPointF(axes.x(ago_s), axes.y(*m_gains_db[i]));
            continue;
        }
        painter.drawPolyline(line); // broken off where nothing goes in
        line.clear();
    }
    painter.drawPolyline(line);
}

// --- stereo -------------------------------------------------------------------------------------------

StereoPicture::StereoPicture(QWidget* parent) : LivePicture(parent)
{
    setAccessibleName(tr("stereo picture and correlation"));
    setFixedWidth(130);
}

void StereoPicture::show(const audition::LiveLevels* levels, int mark)
{
    m_points.clear();
    m_correlation.reset();
    if (levels) {
        m_points.assign(levels->picture().begin(), levels->picture().end());
        m_correlation = levels->read().correlation;
    }
    m_mark = mark;
    update();
}

QPointF StereoPicture::centre() const
{
    return {width() / 2.0, (height() + 4) / 2.0};
}

double StereoPicture::radius() const
{
    return std::min(width() / 2.0 - 6, (height() - 44) / 2.0);
}

void StereoPicture::drawGround(QPainter& painter) const
{
    const Palette& p = Theme::palette();
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(p.faint);
    painter.drawText(QRectF(0, 2, width(), 16), Qt::AlignHCenter, tr("Left · middle · right"));
    painter.setPen(p.rule);
    painter.drawEllipse(centre(), radius(), radius());
    for (const double angle : {-0.25, 0.0, 0.25}) {
        const QPointF end(radius() * std::sin(angle * M_PI), radius() * std::cos(angle * M_PI));
        painter.drawLine(centre() - end, centre() + end);
    }
    const double y = height() - correlation_px;
    painter.setPen(QPen(p.rule, 2));
    painter.drawLine(QPointF(8, y), QPointF(width() - 8.0, y));
    painter.setFont(Theme::figures(9));
    painter.setPen(p.faint);
    painter.drawText(QRectF(0, y + 3, 24, 14), Qt::AlignCenter, number(-1, 0));
    painter.drawText(QRectF(width() / 2.0 - 12, y + 3, 24, 14), Qt::AlignCenter, number(0, 0));
    painter.drawText(QRectF(width() - 24.0, y + 3, 24, 14), Qt::AlignCenter, QStringLiteral("+1"));
}

void StereoPicture::drawLive(QPainter& painter)
{
    float loudest = 1e-4F;
    for (const auto& [left, right] : m_points)
        loudest = std::max({loudest, std::abs(left), std::abs(right)});
    const double scale = radius() / (1.5 * static_cast<double>(loudest));
    std::vector<QPointF> points;
    for (const auto& [left, right] : m_points)
        points.push_back(centre() + QPointF(scale * static_cast<double>(right - left) * M_SQRT1_2,
                                            -scale * static_cast<double>(right + left) * M_SQRT1_2));
    QColor colour = markColour(m_mark);
    colour.setAlpha(150);
    drawDots(painter, rect(), points, colour, 1);
    if (m_correlation) {
        painter.setPen(QPen(Theme::palette().ink, 3));
        const double x = 8 + (width() - 16.0) * (*m_correlation + 1) / 2;
        const double y = height() - correlation_px;
        painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5));
    }
}

} // namespace hr::app
