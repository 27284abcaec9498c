// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/live/live_pictures.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/live/live_axes.h"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double lowest_dbfs = -96;
constexpr double grasp_px = 6;                     // an edge is taken hold of within so much
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

SpectrumPicture::SpectrumPicture(QWidget* parent) : QWidget(parent)
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
    const double to_lower = std::abs(x - m_span.xOf(m_band_hz->first));
    const double to_upper = std::abs(x - m_span.xOf(m_band_hz->second));
    if (std::min(to_lower, to_upper) > grasp_px)
        return std::nullopt;
    return to_lower == to_upper ? x > m_span.xOf(m_band_hz->first) : to_upper < to_lower;
}

void SpectrumPicture::mousePressEvent(QMouseEvent* event)
{
    m_dragged = event->button() == Qt::LeftButton ? edgeAt(event->position().x()) : std::nullopt;
}

void SpectrumPicture::mouseMoveEvent(QMouseEvent* event)
{
    const double x = event->position().x();
    if (m_dragged)
        emit edgeDragged(*m_dragged, m_span.valueAt(x));
    else
        setCursor(edgeAt(x) ? Qt::SplitHCursor : Qt::ArrowCursor);
}

void SpectrumPicture::mouseReleaseEvent(QMouseEvent*)
{
    m_dragged.reset();
}

void SpectrumPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    LiveAxes axes(painter, rect(), tr("Spectrum · in: ink, out: matched, as it is heard"), {20, 20000, true},
                  {lowest_dbfs, 0, false});
    axes.ruleX({{20, QStringLiteral("20")},
                {50, QStringLiteral("50")},
                {100, QStringLiteral("100")},
                {200, QStringLiteral("200")},
                {500, QStringLiteral("500")},
                {1000, QStringLiteral("1k")},
                {2000, QStringLiteral("2k")},
                {5000, QStringLiteral("5k")},
                {10000, QStringLiteral("10k")},
                {20000, tr("Hz")}});
    axes.ruleY({-90, -60, -30, 0}, tr("dBFS"));
    m_span = axes.spanX();
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

GainPicture::GainPicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("gain over time: out against in"));
}

void GainPicture::show(const audition::GainHistory* history, int mark)
{
    m_gains_db.clear();
    if (history) {
        for (const auto& step : history->steps())
            m_gains_db.push_back(step.gain_db);
        m_most = history->most();
    }
    m_mark = mark;
    update();
}

void GainPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    double lowest = deepest_db;
    double highest = highest_db;
    for (const auto& gain : m_gains_db)
        if (gain) {
            lowest = std::min(lowest, 6 * std::floor(*gain / 6));
            highest = std::max(highest, 6 * std::ceil(*gain / 6));
        }
    const double seconds = static_cast<double>(m_most) * audition::GainHistory::step_s;
    LiveAxes axes(painter, rect(), tr("Gain over time · out against in, before matching"), {-seconds, 0, false},
                  {lowest, highest, false});
    std::vector<std::pair<double, QString>> times;
    for (double s = -seconds; s < 0; s += 2)
        times.emplace_back(s, number(s, 0));
    times.emplace_back(0, tr("s"));
    axes.ruleX(times);
    std::vector<double> levels;
    const double step = highest - lowest > 36 ? 12 : 6;
    for (double db = lowest; db <= highest; db += step)
        levels.push_back(db);
    axes.ruleY(levels, tr("dB"));
    painter.setPen(QPen(Theme::palette().ink, 1));
    painter.drawLine(QPointF(axes.area().left(), axes.y(0)), QPointF(axes.area().right(), axes.y(0)));
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

StereoPicture::StereoPicture(QWidget* parent) : QWidget(parent)
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

void StereoPicture::paintEvent(QPaintEvent*)
{
    const Palette& p = Theme::palette();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(Theme::words(Theme::small_px));
    painter.setPen(p.faint);
    painter.drawText(QRectF(0, 2, width(), 16), Qt::AlignHCenter, tr("Left · middle · right"));
    const QPointF centre(width() / 2.0, (height() + 4) / 2.0);
    const double radius = std::min(width() / 2.0 - 6, (height() - 44) / 2.0);
    painter.setPen(p.rule);
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(centre, radius, radius);
    for (const double angle : {-0.25, 0.0, 0.25}) {
        const QPointF end(radius * std::sin(angle * M_PI), radius * std::cos(angle * M_PI));
        painter.drawLine(centre - end, centre + end);
    }
    float loudest = 1e-4F;
    for (const auto& [left, right] : m_points)
        loudest = std::max({loudest, std::abs(left), std::abs(right)});
    const double scale = radius / (1.5 * static_cast<double>(loudest));
    QColor colour = markColour(m_mark);
    colour.setAlpha(150);
    painter.setPen(QPen(colour, 1.4));
    QPolygonF points;
    for (const auto& [left, right] : m_points)
        points << centre + QPointF(scale * static_cast<double>(right - left) * M_SQRT1_2,
                                   -scale * static_cast<double>(right + left) * M_SQRT1_2);
    painter.drawPoints(points);
    const double y = height() - 18.0;
    painter.setPen(QPen(p.rule, 2));
    painter.drawLine(QPointF(8, y), QPointF(width() - 8.0, y));
    painter.setFont(Theme::figures(9));
    painter.setPen(p.faint);
    painter.drawText(QRectF(0, y + 3, 24, 14), Qt::AlignCenter, number(-1, 0));
    painter.drawText(QRectF(width() / 2.0 - 12, y + 3, 24, 14), Qt::AlignCenter, number(0, 0));
    painter.drawText(QRectF(width() - 24.0, y + 3, 24, 14), Qt::AlignCenter, QStringLiteral("+1"));
    if (m_correlation) {
        painter.setPen(QPen(p.ink, 3));
        const double x = 8 + (width() - 16.0) * (*m_correlation + 1) / 2;
        painter.drawLine(QPointF(x, y - 5), QPointF(x, y + 5));
    }
}

} // namespace hr::app
