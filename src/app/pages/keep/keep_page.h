// SPDX-License-Identifier: GPL-3.0-or-later
//
// Keep: what earned its place, in collections made by hand, exported and imported as JSON files.
#pragma once

#include "frame/desk.h"

#include <QWidget>

class QLineEdit;
class QListWidget;
class QStackedLayout;

namespace hr::app {

class KeepPage : public QWidget {
    Q_OBJECT
public:
    explicit KeepPage(Desk& desk, QWidget* parent = nullptr);

    void exportTo(const QString& file);
    void importFrom(const QString& file);

private:
    Result<std::vector<library::CollectionItem>> itemsOf(qint64 collection) const;
    QWidget* makeCollections();
    QWidget* makeItems();
    void reload();
    void fillItems();
    qint64 current() const;
    void create();
    void removeCurrent();
    void removeItem(const library::CollectionItem& item, int position);
    void rename();

    Desk& m_desk;
    QListWidget* m_collections = nullptr;
    QListWidget* m_items = nullptr;
    QLineEdit* m_name = nullptr;
    QStackedLayout* m_stack = nullptr;
};

} // namespace hr::app
