// SPDX-License-Identifier: GPL-3.0-or-later
//
// A picture on a sheet that is drawn 30 times a second: what stands still in it (rules, numbers, words) is
// drawn once and kept.
#pragma once

#include "theme/theme.h"

#include <QPainter>
#include <QPixmap>
#include <QWidget>

namespace hr::app {

class LivePicture : public QWidget {
    Q_OBJECT
public:
    explicit LivePicture(QWidget* parent = nullptr);

protected:
    virtual void drawGround(QPainter& painter) const = 0;
    virtual void drawLive(QPainter& painter) = 0;
    /// What stands still is another from now on.
    void groundChanged() { m_ground = {}; }
    void paintEvent(QPaintEvent* event) override;

private:
    QPixmap m_ground;
    ThemeName m_theme = ThemeName::Paper; // in which it is drawn
};

/// Thousands of dots at these places: square and on whole pixels, since smooth ones cost as much as all the
/// rest of a picture. The colour's transparency adds up where they meet.
void drawDots(QPainter& painter, const QRect& area, const std::vector<QPointF>& places, const QColor& colour,
              double size_px);

} // namespace hr::app
