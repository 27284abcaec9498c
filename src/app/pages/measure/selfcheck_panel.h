// SPDX-License-Identifier: GPL-3.0-or-later
//
// Known answers first: the bench measures its own references on request and says how far off it was.
#pragma once

#include "bench/selfcheck.h"

#include <QThreadPool>
#include <QWidget>

class QLabel;
class QPushButton;

namespace hr::app {

class SelfcheckPanel : public QWidget {
    Q_OBJECT
public:
    explicit SelfcheckPanel(QWidget* parent = nullptr);
    ~SelfcheckPanel() override;

private:
    void start();
    void show(const std::vector<bench::Check>& checks);

    QLabel* m_result;
    QPushButton* m_button;
    QThreadPool m_pool;
};

} // namespace hr::app
