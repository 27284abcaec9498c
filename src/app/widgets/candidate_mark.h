// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a candidate is recognised everywhere: a letter, a shape and a colour, always together.
#pragma once

#include <QWidget>

namespace hr::app {

/// 0 is the source (S, ink); 1 to 8 the candidates A to H.
QString markLetter(int mark);
QColor markColour(int mark);
/// Filled shape with its letter, centred in `box`.
void paintMark(QPainter& painter, const QRectF& box, int mark);

class CandidateMark : public QWidget {
    Q_OBJECT
public:
    explicit CandidateMark(int mark, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {30, 30}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    int m_mark;
};

} // namespace hr::app
