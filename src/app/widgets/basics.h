// SPDX-License-Identifier: GPL-3.0-or-later
//
// Small things that every page is made of.
#pragma once

#include "signal/result.h"

#include <QBoxLayout>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QStackedLayout>
#include <functional>

namespace hr::app {

/// A raised sheet of paper; lay out on it.
class Sheet : public QFrame {
    Q_OBJECT
public:
    explicit Sheet(QWidget* parent = nullptr);
};

/// A label with one of the roles of the style sheet: "title", "faint", "figure" …
QLabel* label(const QString& text, const char* role = nullptr, QWidget* parent = nullptr);
void setRole(QWidget* widget, const char* role);

/// Words over several lines, as wide as there is room. They are shaped once for each width: a label of Qt's
/// does so several times at every change of the layout around it, which was most of what a key press in Find
/// cost.
QLabel* paragraph(const QString& text = {}, const char* role = nullptr, QWidget* parent = nullptr);

/// What is said after saving: where the file is now, or why it is not there.
QString savedOrWhy(const Result<void>& written, const QString& file);

/// Pages one over the other, all as high as there is room: none is asked what height it would like.
class Stack : public QStackedLayout {
    Q_OBJECT
public:
    explicit Stack(QWidget* parent = nullptr) : QStackedLayout(parent) {}
    bool hasHeightForWidth() const override { return false; }
};

/// Return presses it, so that space stays free for playing.
class Button : public QPushButton {
    Q_OBJECT
public:
    explicit Button(const QString& text, QWidget* parent = nullptr);
    /// The one next step of a place.
    Button* main();

protected:
    void keyPressEvent(QKeyEvent* event) override;
};

/// At the end of `row`: a press does `work`, as long as `owner` lives.
Button* addButton(QBoxLayout& row, Button* button, QObject* owner, const std::function<void()>& work);

/// One that stays down, with a tool tip.
Button* toggle(const QString& text, const QString& tip = {});

/// One line cut off with an ellipsis where it does not fit, whole in the tool tip.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(const QString& text = {}, QWidget* parent = nullptr);
    void setWhole(const QString& text);
    QSize sizeHint() const override; ///< for all of it
    QSize minimumSizeHint() const override;

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    QString m_whole;
};

/// What a place is for, while nothing is in it, and the one next step.
class EmptyState : public QWidget {
    Q_OBJECT
public:
    EmptyState(const QString& title, const QString& text, const QString& step, QWidget* parent = nullptr);

    void setTexts(const QString& title, const QString& text);
    void setStep(const QString& step); ///< empty: there is none

signals:
    void stepTaken();

private:
    QLabel* m_title;
    QLabel* m_text;
    Button* m_step;
};

} // namespace hr::app
