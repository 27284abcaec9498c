// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the chain makes of the whole source, held against a target, and written to a file.
#pragma once

#include "pages/build/build_services.h"

#include <QWidget>
#include <array>

class QComboBox;
class QLabel;
class QTableWidget;

namespace hr::app {

class Button;

class DeliveryView : public QWidget {
    Q_OBJECT
public:
    explicit DeliveryView(const BuildServices& services, QWidget* parent = nullptr);

private:
    void reload();
    void openTarget();
    void write();
    void writeSeveral();
    void putOnPage();
    void tell();
    void showChecks(const std::vector<audition::DeliveryCheck>& checks);
    void showSeveral();
    void setRow(int row, const std::array<QString, 4>& texts, bool passes);
    /// As it is chosen; empty, which is said, where it cannot be.
    std::optional<audition::DeliveryFormat> format(bool flac) const;
    QWidget* makeBelow();
    const audition::DeliveryTarget& target() const;

    const BuildServices m_services;
    DeliveryJob& m_job;
    std::vector<audition::DeliveryTarget> m_targets;
    QComboBox *m_choice, *m_bits, *m_rate;
    QLabel* m_told;
    QTableWidget* m_table;
    Button *m_check, *m_write, *m_several, *m_page;
};

} // namespace hr::app
