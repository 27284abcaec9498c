// SPDX-License-Identifier: GPL-3.0-or-later
//
// How often chance has each score, as bars, with the score that was reached: what a count of right answers is
// worth at a glance.
#pragma once

#include <QWidget>
#include <vector>

namespace hr::app {

class ChancePicture : public QWidget {
    Q_OBJECT
public:
    explicit ChancePicture(QWidget* parent = nullptr);

    /// `chances` of 0, 1, … right (audition::chanceOfEach()); `least`: from where on it counts as heard, -1
    /// never.
    void show(std::vector<double> chances, int correct, int least);
    QSize sizeHint() const override { return {420, 230}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<double> m_chances;
    int m_correct = 0;
    int m_least = -1;
};

} // namespace hr::app
