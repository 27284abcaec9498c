// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the views of all blind trials share, in the place of the line-up: a title, how to leave, the question or
// the result in the middle, and beside it what is the same for all that can be heard.
#pragma once

#include "models/blind_trial.h"

#include <QStackedLayout>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>

class QLabel;
class QPushButton;

namespace hr::app {

class ElidedLabel;

class TrialFrame : public QWidget {
    Q_OBJECT
public:
    TrialFrame(BlindTrial& trial, LineUp& line_up, Notices& notices, QWidget* parent = nullptr);

protected:
    /// Once, in the constructor: the two that change places in the middle.
    void setMiddle(QWidget* question, QWidget* result);
    /// A column with the verdict above, `picture`, and the steps below: `again` and a file of it.
    QWidget* makeResult(QWidget* picture, const QString& again, const std::function<void()>& begin_again);
    /// Below what is the same for all.
    QVBoxLayout& side() { return *m_side; }
    /// After every change of the trial.
    void showFrame(const QString& subtitle);
    void showVerdict(const QString& verdict, const QString& explanation);
    /// Trials of the same ones, at the end of the side.
    void addEarlier(const QString& heading);
    void showEarlier();

    static void clear(QLayout& layout);

private:
    void save();
    void pool();

    BlindTrial& m_trial;
    LineUp& m_line_up;
    Notices& m_notices;
    ElidedLabel* m_subtitle = nullptr;
    QPushButton* m_stop = nullptr;
    QStackedLayout* m_middle = nullptr;
    QLabel* m_verdict = nullptr;
    QLabel* m_explanation = nullptr;
    QWidget* m_picture = nullptr;
    QPushButton* m_save = nullptr;
    QVBoxLayout* m_side = nullptr;
    QVBoxLayout* m_earlier = nullptr;
    QPushButton* m_pool = nullptr;
    QLabel* m_pooled = nullptr;
    QLabel* m_loudness = nullptr;
    QLabel* m_apart = nullptr;
};

} // namespace hr::app
