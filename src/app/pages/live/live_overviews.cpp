// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/live/live_overviews.h"

#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <algorithm>
#include <array>
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

DifferencePicture::DifferencePicture(QWidget* parent) : LivePicture(parent)
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

LiveAxes DifferencePicture::axes() const
{
    return {rect(), {20, 20000, true}, {-largest_difference_db, largest_difference_db, false}};
}

void DifferencePicture::drawGround(QPainter& painter) const
{
    axes().title(painter, tr("Difference · out, matched, against in"));
    axes().ruleX(painter, decades());
    axes().ruleY(painter, {-24, -12, 0, 12, 24}, tr("dB"));
}

void DifferencePicture::drawLive(QPainter& painter)
{
    const LiveAxes axes = this->axes();
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

SpectrogramPicture::SpectrogramPicture(QWidget* parent) : LivePicture(parent)
{
    setAccessibleName(tr("spectrum over time of what comes out"));
}

namespace {

/// From no ink to all of it, premultiplied.
std::array<QRgb, 256> inks(const QColor& ink)
{
    std::array<QRgb, 256> all{};
    for (int i = 0; i < 256; ++i)
        all[static_cast<std::size_t>(i)] = qPremultiply(qRgba(ink.red(), ink.green(), ink.blue(), i));
    return all;
}

} // namespace

void SpectrogramPicture::show(const audition::LiveHistory* history)
{
    m_image = {};
    if (history && !history->spectra().empty() && !history->spectra().back().empty()) {
        const auto& spectra = history->spectra();
        const auto bands = static_cast<int>(spectra.back().size());
        constexpr auto columns = static_cast<int>(audition::LiveHistory::most);
        m_image = QImage(columns, bands, QImage::Format_ARGB32_Premultiplied);
        m_image.fill(Qt::transparent);
        const auto shades = inks(Theme::palette().ink);
        std::vector<QRgb*> lines;
        for (int band = 0; band < bands; ++band)
            lines.push_back(reinterpret_cast<QRgb*>(m_image.scanLine(bands - 1 - band)));
        std::size_t column = static_cast<std::size_t>(columns) - spectra.size();
        for (const auto& levels_dbfs : spectra) {
            for (std::size_t band = 0; band < std::min(levels_dbfs.size(), lines.size()); ++band) {
                const double part = (levels_dbfs[band] - inkless_dbfs) / (inked_dbfs - inkless_dbfs);
                const double inked = part > 0 ? std::min(part, 1.0) : 0; // none, too, for what is no number
                lines[band][column] = shades[static_cast<std::size_t>(255 * inked)];
            }
            ++column;
        }
    }
    update();
}

LiveAxes SpectrogramPicture::axes() const
{
    return {rect(), {-history_s, 0, false}, {std::log10(20.0), std::log10(20000.0), false}};
}

void SpectrogramPicture::drawGround(QPainter& painter) const
{
    const LiveAxes axes = this->axes();
    axes.title(painter,
               tr("Spectrogram · out, from %1 to %2 dBFS").arg(number(inkless_dbfs, 0), number(inked_dbfs, 0)));
    axes.ruleX(painter, lastSeconds(history_s));
    painter.setFont(Theme::figures(9));
    painter.setPen(Theme::palette().faint);
    for (const auto& [hz, text] : decades())
        painter.drawText(QRectF(0, axes.y(std::log10(hz)) - 7, axes.area().left() - 4, 14),
                         Qt::AlignRight | Qt::AlignVCenter, text);
}

void SpectrogramPicture::drawLive(QPainter& painter)
{
    if (!m_image.isNull())
        painter.drawImage(axes().area(), m_image);
}

// --- in and out along the section ---------------------------------------------------------------------

WavePicture::WavePicture(QWidget* parent) : LivePicture(parent)
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

LiveAxes WavePicture::axes() const
{
    return {rect(), {0, 1, false}, {-1, 1, false}}; // of the loudest
}

void WavePicture::drawGround(QPainter& painter) const
{
    axes().title(painter, tr("Section · out above, in below"));
    axes().ruleY(painter, {0}, {});
}

void WavePicture::drawLive(QPainter& painter)
{
    float loudest = 0.01F;
    for (const auto* side : {&m_in, &m_out})
        for (const float peak : *side)
            loudest = std::max(loudest, peak);
    const LiveAxes axes = this->axes();
    painter.setRenderHint(QPainter::Antialiasing, false);
    const auto width = static_cast<std::size_t>(std::max(1.0, axes.area().width()));
    const auto draw = [&](const std::vector<float>& peaks, double sign, const QColor& colour) {
        for (std::size_t x = 0; x < width && !peaks.empty(); ++x) { // the highest of those in a column
            const auto first = peaks.begin() + static_cast<std::ptrdiff_t>(x * peaks.size() / width);
            const auto last = peaks.begin() + static_cast<std::ptrdiff_t>((x + 1) * peaks.size() / width);
            const float highest = *std::max_element(first, std::max(last, first + 1));
            const double end = axes.y(sign * static_cast<double>(highest / loudest));
            painter.fillRect(QRectF(axes.area().left() + static_cast<double>(x), std::min(end, axes.y(0)), 1,
                                    std::abs(end - axes.y(0))),
                             colour);
        }
    };
    draw(m_out, 1, markColour(m_mark));
    draw(m_in, -1, Theme::palette().ink);
}

// --- level out over level in --------------------------------------------------------------------------

LevelDotsPicture::LevelDotsPicture(QWidget* parent) : LivePicture(parent)
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

LiveAxes LevelDotsPicture::axes() const
{
    return {rect(), {dots_lowest_dbfs, 0, false}, {dots_lowest_dbfs, 0, false}};
}

void LevelDotsPicture::drawGround(QPainter& painter) const
{
    const LiveAxes axes = this->axes();
    axes.title(painter, tr("Levels, dBFS · out over in, each 10 ms"));
    axes.ruleX(painter,
               {{-60, number(-60, 0)}, {-40, number(-40, 0)}, {-20, number(-20, 0)}, {0, number(0, 0)}});
    axes.ruleY(painter, {-60, -40, -20, 0}, {});
    painter.setPen(QPen(Theme::palette().ink, 1));
    painter.drawLine(QPointF(axes.x(dots_lowest_dbfs), axes.y(dots_lowest_dbfs)),
                     QPointF(axes.x(0), axes.y(0)));
}

void LevelDotsPicture::drawLive(QPainter& painter)
{
    const LiveAxes axes = this->axes();
    QColor colour = markColour(m_mark);
    colour.setAlpha(120);
    std::vector<QPointF> dots;
    for (const auto& [in, out] : m_levels_dbfs)
        dots.emplace_back(axes.x(in), axes.y(out));
    drawDots(painter, rect(), dots, colour, 2);
}

// --- loudness over time -------------------------------------------------------------------------------

LoudnessPicture::LoudnessPicture(QWidget* parent) : LivePicture(parent)
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

LiveAxes LoudnessPicture::axes() const
{
    return {rect(), {-history_s, 0, false}, {loudness_lowest_lufs, 0, false}};
}

void LoudnessPicture::drawGround(QPainter& painter) const
{
    axes().title(painter, tr("Loudness · thin: momentary, thick: short-term"));
    axes().ruleX(painter, lastSeconds(history_s));
    axes().ruleY(painter, {-48, -36, -24, -12, 0}, tr("LUFS"));
}

void LoudnessPicture::drawLive(QPainter& painter)
{
    const LiveAxes axes = this->axes();
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
