// SPDX-License-Identifier: GPL-3.0-or-later
//
// Versions of the chain that were kept, with what has changed since in words; one is heard beside the others,
// or taken.
#pragma once

#include "pages/build/build_services.h"

#include <QWidget>

class QLabel;
class QListWidget;

namespace hr::app {

class Button;

class VersionsView : public QWidget {
    Q_OBJECT
public:
    explicit VersionsView(const BuildServices& services, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void reload();
    void showChanges();
    const chain::Chain* chosen() const;

    const BuildServices m_services;
    std::vector<ChainVersions::Version> m_versions;
    QListWidget* m_list;
    QLabel* m_told;
    Button *m_hear, *m_take;
};

} // namespace hr::app
