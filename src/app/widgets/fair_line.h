// SPDX-License-Identifier: GPL-3.0-or-later
//
// One mark a candidate: where its loudness was (hollow) and where it was brought to (filled), so that
// fairness is something one sees.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

namespace hr::app {

struct FairMark {
    int lane = 0;
    std::optional<double> was_lu; ///< before, relative to the common level; empty: not measured yet
    bool heard = false;
};

class FairLine : public QWidget {
    Q_OBJECT
public:
    explicit FairLine(QWidget* parent = nullptr);
    void setMarks(std::vector<FairMark> marks);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<FairMark> m_marks;
};

} // namespace hr::app
