// SPDX-License-Identifier: GPL-3.0-or-later
//
// A few choices side by side, of which one is taken.
#pragma once

#include <QButtonGroup>
#include <QStringList>
#include <QWidget>

namespace hr::app {

class Segments : public QWidget {
    Q_OBJECT
public:
    Segments(const QString& accessible_name, const QStringList& choices, QWidget* parent = nullptr);

    int current() const { return m_group.checkedId(); }
    void setCurrent(int choice); ///< chosen() is not emitted

signals:
    void chosen(int choice);

private:
    QButtonGroup m_group;
};

} // namespace hr::app
