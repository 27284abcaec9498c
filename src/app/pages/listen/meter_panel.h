// SPDX-License-Identifier: GPL-3.0-or-later
//
// Meters of whoever is audible, below the line-up: loudness and peaks, the stereo picture, the spectrum of in
// and out, and what becomes of the level as time goes on.
#pragma once

#include "models/line_up.h"
#include "pages/live/live_viewer.h"
#include <array>

class QLabel;

namespace hr::app {

class ElidedLabel;
class GainPicture;
class SpectrumPicture;
class StereoPicture;

class MeterPanel : public LiveViewer {
    Q_OBJECT
public:
    MeterPanel(LiveTap& tap, const LineUp& line_up, QWidget* parent = nullptr);

    SpectrumPicture& spectrum() const { return *m_spectrum; }

private:
    void refresh() override;

    const LineUp& m_line_up;
    ElidedLabel* m_whose = nullptr;
    std::array<QLabel*, 8> m_figures{};
    StereoPicture* m_stereo = nullptr;
    SpectrumPicture* m_spectrum = nullptr;
    GainPicture* m_gain = nullptr;
};

} // namespace hr::app
