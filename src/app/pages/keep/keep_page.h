// SPDX-License-Identifier: GPL-3.0-or-later
//
// Keep: what earned its place, in collections made by hand, exported and imported as JSON files.
#pragma once

#include "models/processor_model.h"
#include "services/keeping.h"
#include "services/page_routes.h"

#include <QWidget>

class QLineEdit;
class QListWidget;
class QStackedLayout;

namespace hr::app {

class KeepPage : public QWidget {
    Q_OBJECT
public:
    struct Services {
        library::Store& store;
        ProcessorModel& processors;
        Keeping& keeping;
        PageRoutes& routes;
        Notices& notices;
    };
    explicit KeepPage(const Services& services, QWidget* parent = nullptr);

    void importFrom(const QString& file);

protected:
    void showEvent(QShowEvent* event) override;

private:
    Result<std::vector<library::CollectionItem>> itemsOf(const library::Collection& collection) const;
    QWidget* makeCollections();
    QWidget* makeItems();
    void changed();
    void reload();
    void fillItems();
    library::Collection current() const; ///< its row id is 0 where there is none
    void makeCurrent(qint64 collection);
    void create();
    void rename();

    const Services m_services;
    std::vector<library::Collection> m_all;
    bool m_outdated = true; // something has changed while this was hidden
    QListWidget* m_collections = nullptr;
    QListWidget* m_items = nullptr;
    QLineEdit* m_name = nullptr;
    QStackedLayout* m_stack = nullptr;
};

} // namespace hr::app
