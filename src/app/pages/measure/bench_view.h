// SPDX-License-Identifier: GPL-3.0-or-later
//
// The bench itself: of each of its references what is known, what it measured, and how far off it may be; what
// is off comes first.
#pragma once

#include "library/bench_check.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace hr::app {

class BenchView : public QWidget {
    Q_OBJECT
public:
    explicit BenchView(QWidget* parent = nullptr);

    void fill(const std::optional<library::BenchCheck>& check);

private:
    QLabel* m_words = nullptr;
    QTableWidget* m_table = nullptr;
};

} // namespace hr::app
