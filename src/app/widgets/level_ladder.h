// SPDX-License-Identifier: GPL-3.0-or-later
//
// Loudness and true peak from point to point of a chain, with the line that no peak should cross.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

namespace hr::app {

struct LadderStep {
    QString name; ///< "source", "2 Leveller"
    std::optional<double> loudness_lufs, true_peak_dbtp;
};

class LevelLadder : public QWidget {
    Q_OBJECT
public:
    explicit LevelLadder(QWidget* parent = nullptr);
    /// `remark` stands in their place where there are none.
    void setSteps(std::vector<LadderStep> steps, const QString& remark = {});

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<LadderStep> m_steps;
    QString m_remark;
};

} // namespace hr::app
