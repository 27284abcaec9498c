// SPDX-License-Identifier: GPL-3.0-or-later
//
// A column of words, figures and buttons that is filled anew whenever it is about something else.
#pragma once

#include <QScrollArea>

class QVBoxLayout;

namespace hr::app {

class FilledColumn : public QScrollArea {
    Q_OBJECT
public:
    explicit FilledColumn(QWidget* parent = nullptr);

    /// Begins with an empty one.
    void clear();
    void addText(const QString& text, const char* role = nullptr);
    /// On one line: the name cut off where there is no room.
    void addFigure(const QString& name, const QString& value, const char* role = "figure");
    /// As wide as it is; it belongs to the column.
    void addButton(QWidget* button);
    void add(QWidget* widget);
    void addSpace(int px);
    /// Whatever room is left stays below.
    void end();

private:
    QVBoxLayout* m_column;
};

} // namespace hr::app
