// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: stages in order. They come from Find, are moved, switched, given a purpose, heard as a candidate, and
// written to a file.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLineEdit;
class QListWidget;
class QStackedLayout;

namespace hr::app {

class BuildPage : public QWidget {
    Q_OBJECT
public:
    explicit BuildPage(Desk& desk, QWidget* parent = nullptr);

    void saveTo(const QString& file);

private:
    QWidget* makeTop();
    QWidget* makeLine(std::size_t stage);
    void reload();
    void change(const std::function<void(chain::Chain&)>& how);
    void move(std::size_t stage, int by);

    Desk& m_desk;
    QLineEdit* m_name = nullptr;
    QStackedLayout* m_stack = nullptr;
    QListWidget* m_list = nullptr;
};

} // namespace hr::app
