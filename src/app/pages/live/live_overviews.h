// SPDX-License-Identifier: GPL-3.0-or-later
//
// Larger pictures of what plays: what it does to the spectrum, the spectrum over time, in and out along the
// section, level out against level in, loudness over time.
#pragma once

#include "audition/live/gain_history.h"
#include "audition/live/live_history.h"
#include "audition/live/loop_wave.h"
#include "pages/live/live_axes.h"
#include "pages/live/live_picture.h"

#include <QImage>

namespace hr::app {

/// What comes out against what goes in, band by band.
class DifferencePicture : public LivePicture {
    Q_OBJECT
public:
    explicit DifferencePicture(QWidget* parent = nullptr);
    /// Null: nothing is heard.
    void show(const audition::LiveSpectrum* in, const audition::LiveSpectrum* out, int mark);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    std::vector<double> m_frequencies_hz;
    std::vector<std::optional<double>> m_differences_db;
    int m_mark = 0;
};

/// Frequency upwards, now on the right; the more ink, the louder.
class SpectrogramPicture : public LivePicture {
    Q_OBJECT
public:
    explicit SpectrogramPicture(QWidget* parent = nullptr);
    void show(const audition::LiveHistory* history);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    QImage m_image; // a column a reading, a row a band
};

/// In: ink, downwards; out: the candidate's colour, upwards.
class WavePicture : public LivePicture {
    Q_OBJECT
public:
    explicit WavePicture(QWidget* parent = nullptr);
    void show(const audition::LoopWave* wave, int mark);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    std::vector<float> m_in, m_out;
    int m_mark = 0;
};

/// Each 10 ms a dot: level out over level in, with the line on which both are equal.
class LevelDotsPicture : public LivePicture {
    Q_OBJECT
public:
    explicit LevelDotsPicture(QWidget* parent = nullptr);
    void show(const audition::GainHistory* history, int mark);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    std::vector<std::pair<double, double>> m_levels_dbfs;
    int m_mark = 0;
};

/// Momentary: thin; short-term: thick.
class LoudnessPicture : public LivePicture {
    Q_OBJECT
public:
    explicit LoudnessPicture(QWidget* parent = nullptr);
    void show(const audition::LiveHistory* history, int mark);

protected:
    void drawGround(QPainter& painter) const override;
    void drawLive(QPainter& painter) override;

private:
    LiveAxes axes() const;

    std::vector<audition::LiveHistory::Loudness> m_loudness;
    int m_mark = 0;
};

} // namespace hr::app
