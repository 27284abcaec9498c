// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a candidate is recognised everywhere: a letter, a shape and a colour, always together.
#pragma once

#include <QWidget>

class QWheelEvent;

namespace hr::app {

/// 0 is the source (S, ink); 1 to 8 the candidates A to H.
QString markLetter(int mark);
QColor markColour(int mark);
/// The filled shape, centred in `box`.
void paintShape(QPainter& painter, const QRectF& box, int mark);
/// The same with its letter.
int placesOf(QWheelEvent& event); ///< how many to go on; a wheel turned downwards goes down the list
void paintMark(QPainter& painter, const QRectF& box, int mark);

class CandidateMark : public QWidget {
    Q_OBJECT
public:
    explicit CandidateMark(int mark, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {30, 30}; }

signals:
    void wheeled(int places); ///< downwards is positive

protected:
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    int m_mark;
};

} // namespace hr::app
