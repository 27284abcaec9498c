// SPDX-License-Identifier: GPL-3.0-or-later
//
// A sheet with a search field and what is found below it: arrow keys move in the list while one types, Return
// or a click takes. What is in the list is its maker's; rows without flags are headings, which are passed over.
#pragma once

#include <QWidget>

class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace hr::app {

class SearchPopup : public QWidget {
    Q_OBJECT
public:
    /// `what` is asked for, `name` says the same to those who listen to the screen.
    SearchPopup(const QString& what, const QString& name, const QSize& size, QWidget* over);

    /// Deletes itself once it is closed. `at`: its upper left corner, on the screen.
    void openAt(const QPoint& at);
    QLineEdit& edit() { return *m_edit; }
    QListWidget& list() { return *m_list; }
    /// The first row that can be taken becomes the current one.
    void beginAtTop();

signals:
    void typed(const QString& text);
    void taken(QListWidgetItem* item);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void step(int rows);
    void takeCurrent();

    QLineEdit* m_edit;
    QListWidget* m_list;
};

} // namespace hr::app
