// SPDX-License-Identifier: GPL-3.0-or-later
//
// The map of what is measured, in the place of the list; it is made in the background.
#pragma once

#include "bench/likeness_map.h"
#include "pages/find/find_services.h"

#include <QSet>
#include <QWidget>

namespace hr::app {

class ElidedLabel;
class MapView;

class MapSheet : public QWidget {
    Q_OBJECT
public:
    explicit MapSheet(const FindServices& services, QWidget* parent = nullptr);

    /// As the catalogue is now.
    void reload();
    /// What is found is clear, the others are faint.
    void follow();
    void setSelected(const QStringList& ids);
    MapView* view() const { return m_view; }

signals:
    void done();
    void chosen(const QStringList& ids);

private:
    QSet<QString> foundIds() const;
    QSet<QString> listableIds() const;
    void put();

    const FindServices m_services;
    MapView* m_view = nullptr;
    ElidedLabel* m_words = nullptr;
    QStringList m_ids; // of the map
    bench::LikenessMap m_map;
};

} // namespace hr::app
