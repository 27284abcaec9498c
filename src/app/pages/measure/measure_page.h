// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measure: what the candidates do, side by side: curves over each other with one cursor, figures in a
// table, each with its unit and conditions.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace hr::app {

class Plot;

class MeasurePage : public QWidget {
    Q_OBJECT
public:
    explicit MeasurePage(Desk& desk, QWidget* parent = nullptr);

    Plot* responsePlot() const { return m_response; }
    void setThemeColours();

private:
    struct Benched {
        int lane;
        QString title;
        std::vector<library::StoredReading> readings;
        const bench::Reading* reading(const QString& test) const;
        bool stale = false; ///< measured at other settings than it has now
    };

    QWidget* makeTop();
    QWidget* makeBench();
    QWidget* makePlots();
    void reload();
    void showProgress();
    void fillPlots();
    void fillTable();
    void addFigure(const QString& name, const QString& test, const char* key, const QString& unit, int digits,
                   const QString& definition);

    Desk& m_desk;
    std::vector<Benched> m_benched;
    QLabel* m_conditions = nullptr;
    QPushButton* m_measure = nullptr;
    QPushButton* m_cancel = nullptr;
    QVBoxLayout* m_bench_list = nullptr;
    QWidget* m_content = nullptr;
    QWidget* m_empty = nullptr;
    Plot* m_response = nullptr;
    Plot* m_in_out = nullptr;
    Plot* m_harmonics = nullptr;
    Plot* m_over_level = nullptr;
    QTableWidget* m_table = nullptr;
};

} // namespace hr::app
