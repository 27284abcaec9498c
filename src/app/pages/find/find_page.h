// SPDX-License-Identifier: GPL-3.0-or-later
//
// Find: get from everything installed to a handful. One search field, the list, and particulars of
// what is selected with the ways on.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedLayout;
class QTableView;

namespace hr::app {

class Particulars;

class FindPage : public QWidget {
    Q_OBJECT
public:
    explicit FindPage(Desk& desk, QWidget* parent = nullptr);

    void focusSearch();
    QString searchText() const;
    void setSearchText(const QString& text);
    QString selectedId() const;
    void select(const QString& id);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    QWidget* makeTop();
    QWidget* makeList();
    void listChanged();
    void selectionChanged();

    Desk& m_desk;
    QLineEdit* m_search = nullptr;
    QLabel* m_count = nullptr;
    QLabel* m_scanning = nullptr;
    QPushButton* m_scan = nullptr;
    QTableView* m_list = nullptr;
    QStackedLayout* m_stack = nullptr;
    Particulars* m_particulars = nullptr;
};

} // namespace hr::app
