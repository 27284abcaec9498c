// SPDX-License-Identifier: GPL-3.0-or-later
//
// What belongs to a processor, or is like it: other builds of it, proposed or joined, and what behaves alike.
#pragma once

#include "pages/find/find_services.h"

#include <QWidget>

class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace hr::app {

class SimilarList : public QWidget {
    Q_OBJECT
public:
    explicit SimilarList(const FindServices& services, QWidget* parent = nullptr);

    void show(const QString& id);

signals:
    void chosen(const QString& id);

private:
    void fillBuilds();
    void fillAlike();
    void addText(const QString& text, const char* role = nullptr);
    void addButton(const QString& text, const std::function<void()>& work);
    void compare();
    void tell(const QString& of, const QString& id, const SimilarJob::Outcome& outcome);

    const FindServices m_services;
    QString m_id;
    QVBoxLayout* m_builds = nullptr;
    QLabel* m_alike_state = nullptr;
    QListWidget* m_alike = nullptr;
    QPushButton* m_compare = nullptr;
};

} // namespace hr::app
