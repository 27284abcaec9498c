// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is audible, as it plays: spectra, spectrogram, section, levels, loudness, stereo, pitch.
#pragma once

#include "audio/live_tap.h"

#include <QWidget>

class QComboBox;
class QLabel;

namespace hr::app {

class DifferencePicture;
class LevelDotsPicture;
class LoudnessPicture;
class SpectrogramPicture;
class SpectrumPicture;
class StereoPicture;
class WavePicture;

class LiveView : public QWidget {
    Q_OBJECT
public:
    LiveView(LiveTap& tap, const LineUp& line_up, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();
    QString pitchText() const;

    LiveTap& m_tap;
    const LineUp& m_line_up;
    QLabel* m_whose = nullptr;
    QLabel* m_pitch = nullptr;
    QComboBox* m_averaging = nullptr;
    SpectrumPicture* m_spectrum = nullptr;
    StereoPicture* m_stereo = nullptr;
    DifferencePicture* m_difference = nullptr;
    SpectrogramPicture* m_spectrogram = nullptr;
    WavePicture* m_wave = nullptr;
    LevelDotsPicture* m_levels = nullptr;
    LoudnessPicture* m_loudness = nullptr;
};

} // namespace hr::app
