// SPDX-License-Identifier: GPL-3.0-or-later
//
// The guided hunt for the processor that only breaks things in company: what it does, how far it is, who it
// was.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QGridLayout;
class QLabel;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace hr::app {

class HuntSheet : public QWidget {
    Q_OBJECT
public:
    explicit HuntSheet(Desk& desk, QWidget* parent = nullptr);

    /// Those to be hunted through, once it is begun, and how many of the list were left out since they fail
    /// alone.
    void setSuspects(const QStringList& ids, int left_out);

signals:
    void done();
    void show(const QString& id);

private:
    QString titleOf(const QString& id) const;
    void begin();
    void tell(const library::Hunt::Verdict& verdict);

    Desk& m_desk;
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
