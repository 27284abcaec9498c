// SPDX-License-Identifier: GPL-3.0-or-later
//
// The response after each stage of the chain and of all of it, and what ratios and latencies come to.
#pragma once

#include "pages/build/build_services.h"
#include "widgets/plot.h"

#include <QWidget>

namespace hr::app {

class Button;
class ElidedLabel;

class PathView : public QWidget {
    Q_OBJECT
public:
    explicit PathView(const BuildServices& services, QWidget* parent = nullptr);

private:
    void reload();
    std::vector<Curve> curvesOf(const audition::AlongPath& path, bool in_out) const;
    QString nameOf(const std::string& node) const;
    /// "2nd −48 dB from 3 Ember, 4 dB more by 4 Shelf".
    QString harmonics(const audition::AlongPath& path) const;
    /// "2.0 × 1.5 = 3.0 : 1 at −12 dBFS".
    QString ratios(const audition::AlongPath& path) const;

    const BuildServices m_services;
    ElidedLabel* m_told;
    ElidedLabel* m_harmonics;
    Plot* m_response;
    Plot* m_in_out;
    Button* m_measure;
};

} // namespace hr::app
