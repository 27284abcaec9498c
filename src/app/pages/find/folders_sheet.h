// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where a scan looks: a line a folder, to be switched off, and the user's own to be taken away.
#pragma once

#include "pages/find/find_services.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace hr::app {

class FoldersSheet : public QWidget {
    Q_OBJECT
public:
    explicit FoldersSheet(const FindServices& services, QWidget* parent = nullptr);

    void reload();

signals:
    void done();

private:
    QWidget* makeLine(const library::Folder& folder, int holds);
    void add(const QString& path);
    void change(const Result<void>& changed);

    const FindServices m_services;
    QVBoxLayout* m_lines = nullptr;
    QLineEdit* m_path = nullptr;
    QLabel* m_result = nullptr;
};

} // namespace hr::app
