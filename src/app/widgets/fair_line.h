// SPDX-License-Identifier: GPL-3.0-or-later
//
// One mark a candidate: its loudness before matching (hollow) and after (filled), so that
// fairness is something one sees.
#pragma once

#include <QWidget>
#include <optional>
#include <vector>

namespace hr::app {

struct FairMark {
    int mark = 0;                    ///< 0: the untreated source; 1 to 8: A to H
    std::optional<double> before_lu; ///< before, relative to the reference's loudness; empty: not measured yet
    double after_lu = 0;             ///< after, relative to the reference
    bool audible = false;
};

class FairLine : public QWidget {
    Q_OBJECT
public:
    explicit FairLine(QWidget* parent = nullptr);
    void setMarks(std::vector<FairMark> marks);
    /// Shows nothing: what is heard would be seen on it.
    void setCovered(bool covered);

signals:
    void wheeled(int places); ///< downwards is positive; not while it is covered

protected:
    void wheelEvent(QWheelEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<FairMark> m_marks;
    bool m_covered = false;
};

} // namespace hr::app
