// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the axes of plots have their lines, and what stands at them.
#pragma once

#include "theme/theme.h"

#include <algorithm>
#include <cmath>
#include <qcustomplot.h>

namespace hr::app {

/// 20, 50, 100, 200 … with k for thousands.
class OneTwoFiveTicker : public QCPAxisTicker {
public:
    static constexpr int least_tick_px = 24; ///< a frequency and the air around it

    explicit OneTwoFiveTicker(const QCPAxis& axis) : m_axis(axis) {}

protected:
    QVector<double> createTickVector(double, const QCPRange& range) override
    {
        QVector<double> ticks;
        const double decades = std::log10(range.upper / range.lower);
        const bool crowded = m_axis.axisRect()->width() < 3 * decades * least_tick_px;
        for (double decade = std::pow(10, std::floor(std::log10(range.lower))); decade <= range.upper;
             decade *= 10)
            for (const double step : {1, 2, 5})
                if (step == 1 || !crowded)
                    ticks << decade * step;
        return ticks;
    }
    QVector<double> createSubTickVector(int, const QVector<double>&) override { return {}; }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override
    {
        return tick >= 1000 ? QStringLiteral("%1k").arg(tick / 1000) : QString::number(tick);
    }

private:
    const QCPAxis& m_axis;
};

/// Steps of 1, 2, 3, 6, 10, 20 or 30 dB, and on by 1, 2 and 5 (of milliseconds there are thousands), with a
/// real minus; as many as there is room for.
class LevelTicker : public QCPAxisTicker {
public:
    explicit LevelTicker(const QCPAxis& axis) : m_axis(axis) {}

protected:
    double getTickStep(const QCPRange& range) override
    {
        // Of the plot, since the rectangle of the axes is laid out after its ticks.
        constexpr double most = 8, least_above_px = 12, below_px = 50;
        // Along a line of text; "10000" takes more of it than "10".
        const double largest = std::max(10.0, std::max(std::abs(range.lower), std::abs(range.upper)));
        const double least_apart_px = 12 + 7 * std::ceil(std::log10(largest));
        const double room = m_axis.orientation() == Qt::Horizontal
                                ? m_axis.axisRect()->width() / least_apart_px
                                : (m_axis.parentPlot()->height() - below_px) / least_above_px;
        const double lines = std::clamp(room, 2.0, most);
        for (const double step : {0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 3.0, 6.0, 10.0, 20.0, 30.0, 50.0})
            if (range.size() / step <= lines)
                return step;
        const double least = range.size() / lines;
        const double decade = std::pow(10, std::floor(std::log10(least)));
        for (const double part : {1.0, 2.0, 5.0})
            if (part * decade >= least)
                return part * decade;
        return 10 * decade;
    }
    QVector<double> createSubTickVector(int, const QVector<double>&) override { return {}; }
    QString getTickLabel(double tick, const QLocale&, QChar, int) override
    {
        const int digits = std::abs(tick - std::round(tick)) < 1e-9             ? 0
                           : std::abs(tick * 10 - std::round(tick * 10)) < 1e-9 ? 1
                                                                                : 2;
        return number(tick, digits);
    }

private:
    const QCPAxis& m_axis;
};

} // namespace hr::app
