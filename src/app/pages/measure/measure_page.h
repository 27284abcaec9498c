// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measure: what the candidates do, side by side: curves over each other with one cursor, figures in a
// table, each with its unit and conditions.
#pragma once

#include "models/bench_queue.h"
#include "models/line_up.h"
#include "services/navigation.h"

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
    struct Services {
        library::Store& store;
        LineUp& line_up;
        BenchQueue& bench;
        Jobs& jobs;
        Navigation& navigation;
    };
    explicit MeasurePage(const Services& services, QWidget* parent = nullptr);

    Plot* responsePlot() const { return m_response; }
    void setThemeColours();

protected:
    void showEvent(QShowEvent* event) override;

private:
    /// A candidate and what is known of exactly the set-up it has now.
    struct Benched {
        int mark;
        QString title;
        QString set_up; ///< SetUp::key()
        std::vector<library::StoredReading> readings;
        bool measured_otherwise = false; ///< this processor, at other settings or of another build
        const bench::Reading* reading(const char* test) const;
    };

    QWidget* makeTop();
    QWidget* makeBench();
    QWidget* makePlots();
    void changed();
    void reload();
    void showProgress();
    void fillPlots();
    void fillTable();
    void addFigure(const char* test, const char* key);

    const Services m_services;
    bool m_outdated = true; // something has changed while this was hidden
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
