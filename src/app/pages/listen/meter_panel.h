// SPDX-License-Identifier: GPL-3.0-or-later
//
// Meters of whoever is audible, below the line-up: loudness and peaks, the stereo picture, the spectrum of in
// and out, and what becomes of the level as time goes on.
#pragma once

#include "audio/live_tap.h"

#include <QWidget>
#include <array>

class QLabel;

namespace hr::app {

class GainPicture;
class SpectrumPicture;
class StereoPicture;

class MeterPanel : public QWidget {
    Q_OBJECT
public:
    MeterPanel(LiveTap& tap, const LineUp& line_up, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();

    LiveTap& m_tap;
    const LineUp& m_line_up;
    QLabel* m_whose = nullptr;
    std::array<QLabel*, 8> m_figures{};
    StereoPicture* m_stereo = nullptr;
    SpectrumPicture* m_spectrum = nullptr;
    GainPicture* m_gain = nullptr;
};

} // namespace hr::app
