// SPDX-License-Identifier: GPL-3.0-or-later
//
// Ctrl+K: type part of a name, go there. Pages, processors (to listen to them) and collections.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLineEdit;
class QListWidget;

namespace hr::app {

class GoAnywhere : public QWidget {
    Q_OBJECT
public:
    static void open(Desk& desk, QWidget* over);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    GoAnywhere(Desk& desk, QWidget* over);
    void fill(const QString& text);
    void go();

    Desk& m_desk;
    QLineEdit* m_edit;
    QListWidget* m_list;
};

} // namespace hr::app
