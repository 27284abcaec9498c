// SPDX-License-Identifier: GPL-3.0-or-later
//
// All figures of all candidates side by side: sorted by any column, found by a word, only what differs, saved
// as a file.
#pragma once

#include "pages/measure/figures_table.h"
#include "signal/result.h"

#include <filesystem>

class QCheckBox;
class QLabel;
class QLineEdit;

namespace hr::app {

class FiguresView : public QWidget {
    Q_OBJECT
public:
    explicit FiguresView(QWidget* parent = nullptr);

    void fill(const std::vector<MeasuredCandidate>& candidates);
    /// What is in sight, as CSV (exchange/figures_csv.h).
    Result<void> saveAs(const std::filesystem::path& file) const;

signals:
    void told(const QString& text); ///< where it was saved, or why it was not

private:
    void filter();
    void askWhere();

    std::vector<MeasuredCandidate> m_candidates;
    QLineEdit* m_words = nullptr;
    QCheckBox* m_differing = nullptr;
    QLabel* m_count = nullptr;
    FiguresTable* m_table = nullptr;
};

} // namespace hr::app
