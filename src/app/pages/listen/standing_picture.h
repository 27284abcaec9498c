// SPDX-License-Identifier: GPL-3.0-or-later
//
// How several stand that were tried: a line each, on it every answer, the middle of them, and how far they
// spread.
#pragma once

#include <QWidget>
#include <vector>

namespace hr::app {

struct Standing {
    int mark = -1; ///< as of paintMark(); -1: an anchor, which has none
    QString name;
    std::vector<double> answers;
    double middle = 0, low = 0, high = 0; ///< low and high: the ends of the thick line
};

class StandingPicture : public QWidget {
    Q_OBJECT
public:
    explicit StandingPicture(QWidget* parent = nullptr);

    /// From `first`, on the left, to `last`, with a word for what that axis is; the best on top.
    void show(std::vector<Standing> standings, double first, double last, const QString& axis);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<Standing> m_standings;
    double m_first = 0, m_last = 100;
    QString m_axis;
};

} // namespace hr::app
