// SPDX-License-Identifier: GPL-3.0-or-later
//
// the guided search for the processor that only breaks things in company: what it does, how far it is, who it
// was.
#pragma once

#include "pages/find/find_services.h"

#include <QWidget>

class QGridLayout;
class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace hr::app {

class FaultSearchSheet : public QWidget {
    Q_OBJECT
public:
    explicit FaultSearchSheet(const FindServices& services, QWidget* parent = nullptr);

    /// Those to be searched, once it is begun, and how many of the list were left out since they fail
    /// alone.
    void setSuspects(const QStringList& ids, int left_out);

signals:
    void done();
    void show(const QString& id);

private:
    QString titleOf(const QString& id) const;
    void begin();
    void tell(const library::FaultSearch::Verdict& verdict);

    const FindServices m_services;
    QStringList m_suspects;
    int m_steps = 0; // at the beginning
    QLabel* m_about = nullptr;
    QLabel* m_state = nullptr;
    QProgressBar* m_progress = nullptr;
    QListWidget* m_log = nullptr;
    QGridLayout* m_ways = nullptr; // on from the verdict: a row a culprit
    QPushButton* m_begin = nullptr;
};

} // namespace hr::app
