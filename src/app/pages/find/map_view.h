// SPDX-License-Identifier: GPL-3.0-or-later
//
// Processors on a sheet, what behaves alike together: a click takes the nearest, a line drawn around several
// takes those. The wheel or + and - zoom, Home shows all, arrow keys go to the nearest in their direction.
#pragma once

#include "bench/likeness_map.h"

#include <QPixmap>
#include <QPolygonF>
#include <QWidget>

namespace hr::app {

class MapView : public QWidget {
    Q_OBJECT
public:
    struct Point {
        QString id, name, kind;
        bench::MapPlace place;
        bool found = true; ///< by what is asked for in Find: the others are faint
    };

    explicit MapView(QWidget* parent = nullptr);

    void setPoints(std::vector<Point> points);
    void setSelected(const QStringList& ids);
    void setThemeColours();
    /// Kinds that have a colour and a shape of their own, the commonest first.
    const QStringList& kinds() const { return m_kinds; }
    /// Where a point is drawn.
    QPointF whereIs(const QString& id) const;

signals:
    void chosen(const QStringList& ids);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    QPointF onScreen(const bench::MapPlace& place) const;
    const Point* nearestTo(const QPointF& at, double within_px) const;
    void zoom(double factor, const QPointF& about);
    void step(const QPointF& direction);
    void drawKind(QPainter& painter, const Point& point, bool clear) const;
    void paintAll(QPainter& painter);
    void paintNames(QPainter& painter) const;
    void paintLegend(QPainter& painter) const;
    void changed();

    std::vector<Point> m_points;
    QStringList m_kinds;
    QStringList m_selected;
    QPixmap m_drawn; // all but what is selected; null: to be drawn
    QPolygonF m_lasso;
    double m_zoom = 1;
    QPointF m_middle{0.5, 0.5}; // of the sheet, in the middle of the view
};

} // namespace hr::app
