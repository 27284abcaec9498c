// SPDX-License-Identifier: GPL-3.0-or-later
//
// The response after each stage of the chain and of all of it, and what ratios and latencies come to.
#pragma once

#include "pages/build/build_services.h"

#include <QWidget>

class QLabel;

namespace hr::app {

class Button;
class Plot;

class PathView : public QWidget {
    Q_OBJECT
public:
    explicit PathView(const BuildServices& services, QWidget* parent = nullptr);

private:
    void reload();
    /// "2.0 × 1.5 = 3.0 : 1 at −12 dBFS".
    QString ratios(const audition::AlongPath& path) const;

    const BuildServices m_services;
    QLabel* m_told;
    Plot* m_plot;
    Button* m_measure;
};

} // namespace hr::app
