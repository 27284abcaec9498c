// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: stages in order. They come from Find, are moved, switched, given a purpose, heard as a candidate, and
// written to a file.
#pragma once

#include "models/chain_study.h"
#include "models/delivery_job.h"
#include "services/keeping.h"
#include "services/page_routes.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QListWidget;
class QStackedLayout;

namespace hr::app {

class LevelLadder;

class BuildPage : public QWidget {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        ChainDraft& draft;
        ChainStudy& study;
        DeliveryJob& delivery;
        Keeping& keeping;
        PageRoutes& routes;
        Navigation& navigation;
        Notices& notices;
    };
    explicit BuildPage(const Services& services, QWidget* parent = nullptr);

    void saveTo(const QString& file);

private:
    QWidget* makeTop();
    QWidget* makeLine(const chain::Node& shown, int place);
    QString nameOf(const chain::Node& node) const;
    QLabel* kindOf(const chain::Node& node) const;
    void reload();
    QWidget* makeBelow();
    void showLevels();
    /// A part of the chain beside the other candidates on Listen.
    void hear(const chain::Edited& part, const QString& called);

    const Services m_services;
    QLineEdit* m_name = nullptr;
    QLabel* m_wiring = nullptr;
    QStackedLayout* m_stack = nullptr;
    QListWidget* m_list = nullptr;
    LevelLadder* m_ladder = nullptr;
    QWidget* m_below = nullptr;

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;
};

} // namespace hr::app
