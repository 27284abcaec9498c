// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is audible, as it plays: spectra, spectrogram, section, levels, loudness, stereo, pitch.
#pragma once

#include "models/line_up.h"
#include "pages/live/live_viewer.h"

class QComboBox;
class QLabel;

namespace hr::app {

class ElidedLabel;
class DifferencePicture;
class LevelDotsPicture;
class LoudnessPicture;
class SpectrogramPicture;
class SpectrumPicture;
class StereoPicture;
class WavePicture;

class LiveView : public LiveViewer {
    Q_OBJECT
public:
    LiveView(LiveTap& tap, const LineUp& line_up, QWidget* parent = nullptr);

private:
    void refresh() override;
    QString pitchText() const;

    const LineUp& m_line_up;
    ElidedLabel* m_whose = nullptr;
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
