// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parts in step, returns and their sum: who is heard, how loud and where; and the one that is worked on, alone,
// among the others, or only the others.
#pragma once

#include "pages/build/build_services.h"

#include <QWidget>

class QLabel;
class QTableWidget;
class QTableWidgetItem;

namespace hr::app {

class Button;
class Segments;

class PartsView : public QWidget {
    Q_OBJECT
public:
    explicit PartsView(const BuildServices& services, QWidget* parent = nullptr);

    void saveTo(const QString& file);

private:
    QWidget* makeButtons();
    void reload();
    void fillRow(int row, const std::string& id, const chain::Standing* standing);
    void edited(QTableWidgetItem* item);
    void openMenu(const QPoint& at);
    std::string idAt(int row) const;
    std::string current() const;
    void addReturn();

    const BuildServices m_services;
    QLabel* m_told;
    Segments* m_heard;
    QTableWidget* m_table;
    bool m_filling = false;
};

} // namespace hr::app
