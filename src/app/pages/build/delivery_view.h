// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the chain makes of the whole source, held against a target, and written to a file.
#pragma once

#include "actions/notices.h"
#include "models/delivery_job.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QTableWidget;

namespace hr::app {

class Button;

class DeliveryView : public QWidget {
    Q_OBJECT
public:
    DeliveryView(DeliveryJob& job, Notices& notices, QWidget* parent = nullptr);

private:
    void reload();
    void openTarget();
    void write();
    const audition::DeliveryTarget& target() const;

    DeliveryJob& m_job;
    Notices& m_notices;
    std::vector<audition::DeliveryTarget> m_targets;
    QComboBox *m_choice, *m_bits;
    QLabel* m_told;
    QTableWidget* m_table;
    Button *m_check, *m_write;
};

} // namespace hr::app
