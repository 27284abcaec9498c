// SPDX-License-Identifier: GPL-3.0-or-later
//
// Pictures of what passes by while it plays: spectrum of in and out, gain over time, left against right.
#pragma once

#include "audition/live/gain_history.h"
#include "audition/live/live_levels.h"
#include "audition/live/live_spectrum.h"
#include "pages/live/live_axes.h"
#include "pages/live/live_picture.h"

namespace hr::app {

/// In: ink; out: the candidate's colour; the highest so far: a thin line of it.
class SpectrumPicture : public LivePicture {
    Q_OBJECT
public:
    explicit SpectrumPicture(QWidget* parent = nullptr);
    /// Null: nothing is heard.
    void show(const audition::LiveSpectrum* in, const audition::LiveSpectrum* out, int mark);

    using Band = std::pair<double, double>; ///< from and to, Hz
    /// Its edges are drawn, and can be dragged; empty: there is none.
    void setBand(std::optional<Band> band_hz);

signals:
    void edgeDragged(bool upper, double frequency_hz);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    LiveAxes axes() const;
    std::optional<bool> edgeAt(double x) const; ///< whether it is the upper one; empty: none is near

    std::optional<Band> m_band_hz;
    std::optional<bool> m_dragged; // which edge is held
    std::vector<double> m_frequencies_hz, m_in_dbfs, m_out_dbfs, m_peaks_dbfs;
    int m_mark = 0;
};

/// The last seconds, now on the right.
class GainPicture : public LivePicture {
    Q_OBJECT
public:
    explicit GainPicture(QWidget* parent = nullptr);
    void show(const audition::GainHistory* history, int mark);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    double m_lowest_db, m_highest_db;              // that are in sight
    std::vector<std::optional<double>> m_gains_db; // the oldest first
    std::size_t m_most = 1;
    int m_mark = 0;
};

/// Middle upwards, sides to the left and right; below it the correlation.
class StereoPicture : public LivePicture {
    Q_OBJECT
public:
    explicit StereoPicture(QWidget* parent = nullptr);
    void show(const audition::LiveLevels* levels, int mark);
    QSize sizeHint() const override { return {130, 130}; }

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    QPointF centre() const;
    double radius() const;

    std::vector<std::pair<float, float>> m_points;
    std::optional<double> m_correlation;
    int m_mark = 0;
};

} // namespace hr::app
