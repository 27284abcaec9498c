// SPDX-License-Identifier: GPL-3.0-or-later
//
// From where to where the band reaches that everything is matched in, or that is heard alone, on the spectrum
// of what plays: its edges are dragged, or typed. Seen only while there is such a band.
#pragma once

#include "pages/listen/listen_services.h"
#include "pages/live/live_viewer.h"

class QBoxLayout;

namespace hr::app {

class ParameterRow;
class SpectrumPicture;

class BandEdges : public LiveViewer {
    Q_OBJECT
public:
    explicit BandEdges(const ListenServices& services, QWidget* parent = nullptr);

    /// There its edges are dragged as well.
    void alsoOn(SpectrumPicture& picture);
    /// Not where another one shows the same.
    void showSpectrum(bool on);

private:
    void refresh() override;
    void setBand(double audition::Band::*moved, double hz);
    void showRule();

    const ListenServices m_services;
    ParameterRow* m_low = nullptr;
    ParameterRow* m_high = nullptr;
    QBoxLayout* m_typed = nullptr;
    SpectrumPicture* m_spectrum = nullptr; // its own
    std::vector<SpectrumPicture*> m_spectra;
};

} // namespace hr::app
