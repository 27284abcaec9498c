// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sheet of paper in the middle of a window, gone with the next click beside it. Fill sheet(), then open().
#pragma once

#include <QWidget>

namespace hr::app {

class SheetPopup : public QWidget {
public:
    /// `name` for those who listen to the screen.
    SheetPopup(const QString& name, QWidget* over);

    /// What it shows goes on here, within sheetMargins().
    QWidget& sheet() { return *m_sheet; }
    static QMargins sheetMargins() { return {22, 16, 22, 16}; }

    /// Deletes itself once it is closed.
    void open();

private:
    QWidget* m_over;
    QWidget* m_sheet;
};

} // namespace hr::app
