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
    std::optional<double> middle_px =
        {}; ///< where it stands; empty: evenly. What it is called stands there then
};

class LevelLadder : public QWidget {
    Q_OBJECT
public:
    explicit LevelLadder(QWidget* parent = nullptr);
    /// `remark` stands in their place where there are none. Of what leaves the chain `overload_heard` says
    /// whether it is above 0 dBTP.
    void setSteps(std::vector<LadderStep> steps, const QString& remark = {}, bool overload_heard = true);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<LadderStep> m_steps;
    QString m_remark;
    bool m_overload_heard = true;
};

} // namespace hr::app
