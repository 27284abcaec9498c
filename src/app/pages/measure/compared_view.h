// SPDX-License-Identifier: GPL-3.0-or-later
//
// The candidates compared with one of them: what is left once both are lined up and matched, how far their
// responses are apart, and whether they are the same.
#pragma once

#include "models/compare_job.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace hr::app {

class ComparedView : public QWidget {
    Q_OBJECT
public:
    ComparedView(LineUp& line_up, CompareJob& job, QWidget* parent = nullptr);

    /// Those that there are now.
    void fillCandidates();

private:
    void refresh();
    ContenderId with() const;

    LineUp& m_line_up;
    CompareJob& m_job;
    QComboBox* m_with = nullptr;
    QPushButton* m_start = nullptr;
    QLabel* m_words = nullptr;
    QTableWidget* m_table = nullptr;
};

} // namespace hr::app
