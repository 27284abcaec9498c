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

/// Steps of 1, 2, 3, 6, 10 or 20 dB, with a real minus; as many as there is room for.
class LevelTicker : public QCPAxisTicker {
public:
    explicit LevelTicker(const QCPAxis& axis) : m_axis(axis) {}

protected:
    double getTickStep(const QCPRange& range) override
    {
        constexpr double most = 8;
        constexpr double least_apart_px = 26; // along a line of text
        const double room =
            m_axis.orientation() == Qt::Horizontal ? m_axis.axisRect()->width() / least_apart_px : most;
        for (const double step : {0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 3.0, 6.0, 10.0, 20.0, 50.0})
            if (range.size() / step <= std::clamp(room, 2.0, most))
                return step;
        return 100;
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
