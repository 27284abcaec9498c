// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/live/live_overviews.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"
#include "widgets/live/live_axes.h"

#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

constexpr double readings_a_second = 30;
constexpr double dots_lowest_dbfs = -72;
constexpr double loudness_lowest_lufs = -54;
constexpr double inkless_dbfs = -90; // of a spectrogram: no ink
constexpr double inked_dbfs = -18;   // all of it
constexpr double largest_difference_db = 24;

const std::vector<std::pair<double, QString>>& decades()
{
    static const std::vector<std::pair<double, QString>> all{
        {20, QStringLiteral("20")},   {100, QStringLiteral("100")},   {500, QStringLiteral("500")},
        {2000, QStringLiteral("2k")}, {10000, QStringLiteral("10k")}, {20000, QObject::tr("Hz")}};
    return all;
}

std::vector<std::pair<double, QString>> lastSeconds(double seconds)
{
    std::vector<std::pair<double, QString>> times;
    for (double s = -seconds; s < 0; s += 2)
        times.emplace_back(s, number(s, 0));
    times.emplace_back(0, QObject::tr("s"));
    return times;
}

constexpr double history_s = static_cast<double>(audition::LiveHistory::most) / readings_a_second;

/// When a reading was taken, the last of `count` just now.
double agoS(std::size_t reading, std::size_t count)
{
    return -static_cast<double>(count - 1 - reading) / readings_a_second;
}

} // namespace

// --- difference of spectra ----------------------------------------------------------------------------

DifferencePicture::DifferencePicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("what it does to the spectrum: out against in"));
}

void DifferencePicture::show(const audition::LiveSpectrum* in, const audition::LiveSpectrum* out, int mark)
{
    m_differences_db.clear();
    if (in && out) {
        m_differences_db = audition::differenceDb(*in, *out);
        m_frequencies_hz = out->frequenciesHz();
    }
    m_mark = mark;
    update();
}

void DifferencePicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    LiveAxes axes(painter, rect(), tr("Difference · out, matched, against in"), {20, 20000, true},
                  {-largest_difference_db, largest_difference_db, false});
    axes.ruleX(decades());
    axes.ruleY({-24, -12, 0, 12, 24}, tr("dB"));
    painter.setPen(QPen(markColour(m_mark), 2));
    QPolygonF line;
    for (std::size_t i = 0; i < m_differences_db.size(); ++i) {
        if (m_differences_db[i]) {
            line << QPointF(axes.x(m_frequencies_hz[i]), axes.y(*m_differences_db[i]));
            continue;
        }
        painter.drawPolyline(line); // broken off where there is nothing to compare
        line.clear();
    }
    painter.drawPolyline(line);
}

// --- spectrogram --------------------------------------------------------------------------------------

SpectrogramPicture::SpectrogramPicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("spectrum over time of what comes out"));
}

void SpectrogramPicture::show(const audition::LiveHistory* history)
{
    m_image = {};
    if (history && !history->spectra().empty() && !history->spectra().back().empty()) {
        const auto& spectra = history->spectra();
        const auto bands = static_cast<int>(spectra.back().size());
        constexpr auto columns = static_cast<int>(audition::LiveHistory::most);
        m_image = QImage(columns, bands, QImage::Format_ARGB32_Premultiplied);
        m_image.fill(Qt::transparent);
        QColor ink = Theme::palette().ink;
        const int first = columns - static_cast<int>(spectra.size());
        for (std::size_t i = 0; i < spectra.size(); ++i)
            for (std::size_t band = 0; band < spectra[i].size(); ++band) {
                const double part = (spectra[i][band] - inkless_dbfs) / (inked_dbfs - inkless_dbfs);
                ink.setAlphaF(static_cast<float>(std::clamp(part, 0.0, 1.0)));
                m_image.setPixelColor(first + static_cast<int>(i), bands - 1 - static_cast<int>(band), ink);
            }
    }
    update();
}

void SpectrogramPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    LiveAxes axes(
        painter, rect(),
        tr("Spectrogram · out, from %1 to %2 dBFS").arg(number(inkless_dbfs, 0), number(inked_dbfs, 0)),
        {-history_s, 0, false}, {std::log10(20.0), std::log10(20000.0), false});
    if (!m_image.isNull())
        painter.drawImage(axes.area(), m_image);
    axes.ruleX(lastSeconds(history_s));
    painter.setFont(Theme::figures(9));
    painter.setPen(Theme::palette().faint);
    for (const auto& [hz, text] : decades())
        painter.drawText(QRectF(0, axes.y(std::log10(hz)) - 7, axes.area().left() - 4, 14),
                         Qt::AlignRight | Qt::AlignVCenter, text);
}

// --- in and out along the section ---------------------------------------------------------------------

WavePicture::WavePicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("in and out along the section"));
}

void WavePicture::show(const audition::LoopWave* wave, int mark)
{
    m_in = wave ? wave->in() : std::vector<float>();
    m_out = wave ? wave->out() : std::vector<float>();
    m_mark = mark;
    update();
}

void WavePicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    float loudest = 0.01F;
    for (const auto* side : {&m_in, &m_out})
        for (const float peak : *side)
            loudest = std::max(loudest, peak);
    LiveAxes axes(painter, rect(), tr("Section · out above, in below"), {0, 1, false},
                  {-static_cast<double>(loudest), static_cast<double>(loudest), false});
    axes.ruleY({0}, {});
    const auto draw = [&](const std::vector<float>& peaks, double sign, const QColor& colour) {
        painter.setPen(QPen(colour, 1));
        for (std::size_t i = 0; i < peaks.size(); ++i) {
            const double x = axes.x((static_cast<double>(i) + 0.5) / static_cast<double>(peaks.size()));
            painter.drawLine(QPointF(x, axes.y(0)), QPointF(x, axes.y(sign * static_cast<double>(peaks[i]))));
        }
    };
    draw(m_out, 1, markColour(m_mark));
    draw(m_in, -1, Theme::palette().ink);
}

// --- level out over level in --------------------------------------------------------------------------

LevelDotsPicture::LevelDotsPicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("level out over level in"));
}

void LevelDotsPicture::show(const audition::GainHistory* history, int mark)
{
    m_levels_dbfs.clear();
    if (history)
        for (const auto& step : history->steps())
            if (step.in_dbfs > dots_lowest_dbfs && step.out_dbfs > dots_lowest_dbfs)
                m_levels_dbfs.emplace_back(step.in_dbfs, step.out_dbfs);
    m_mark = mark;
    update();
}

void LevelDotsPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    LiveAxes axes(painter, rect(), tr("Levels, dBFS · out over in, each 10 ms"), {dots_lowest_dbfs, 0, false},
                  {dots_lowest_dbfs, 0, false});
    axes.ruleX({{-60, number(-60, 0)}, {-40, number(-40, 0)}, {-20, number(-20, 0)}, {0, number(0, 0)}});
    axes.ruleY({-60, -40, -20, 0}, {});
    painter.setPen(QPen(Theme::palette().ink, 1));
    painter.drawLine(QPointF(axes.x(dots_lowest_dbfs), axes.y(dots_lowest_dbfs)),
                     QPointF(axes.x(0), axes.y(0)));
    QColor colour = markColour(m_mark);
    colour.setAlpha(120);
    painter.setPen(QPen(colour, 2.4, Qt::SolidLine, Qt::RoundCap));
    QPolygonF dots;
    for (const auto& [in, out] : m_levels_dbfs)
        dots << QPointF(axes.x(in), axes.y(out));
    painter.drawPoints(dots);
}

// --- loudness over time -------------------------------------------------------------------------------

LoudnessPicture::LoudnessPicture(QWidget* parent) : QWidget(parent)
{
    setAccessibleName(tr("loudness over time"));
}

void LoudnessPicture::show(const audition::LiveHistory* history, int mark)
{
    m_loudness.clear();
    if (history)
        m_loudness.assign(history->loudness().begin(), history->loudness().end());
    m_mark = mark;
    update();
}

void LoudnessPicture::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    LiveAxes axes(painter, rect(), tr("Loudness · thin: momentary, thick: short-term"), {-history_s, 0, false},
                  {loudness_lowest_lufs, 0, false});
    axes.ruleX(lastSeconds(history_s));
    axes.ruleY({-48, -36, -24, -12, 0}, tr("LUFS"));
    const auto draw = [&](std::optional<double> audition::LiveHistory::Loudness::*which, double width) {
        painter.setPen(QPen(markColour(m_mark), width));
        QPolygonF line;
        for (std::size_t i = 0; i < m_loudness.size(); ++i)
            if (const auto& value = m_loudness[i].*which)
                line << QPointF(axes.x(agoS(i, m_loudness.size())), axes.y(*value));
        painter.drawPolyline(line);
    };
    draw(&audition::LiveHistory::Loudness::momentary_lufs, 1);
    draw(&audition::LiveHistory::Loudness::short_term_lufs, 2.4);
}

} // namespace hr::app
