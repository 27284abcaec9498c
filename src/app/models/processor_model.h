// SPDX-License-Identifier: GPL-3.0-or-later
//
// The catalogue as a table, narrowed by what is typed. All entries are held in memory; a search asks
// the catalogue's text index for ids and picks the rows.
#pragma once

#include "library/store.h"

#include <QAbstractTableModel>
#include <QSet>

namespace hr::app {

class ProcessorModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Name, Kind, Channels, Measured, columns };
    enum Role { EntryId = Qt::UserRole, Maker, Favourite, Quarantined };

    explicit ProcessorModel(library::Store& store, QObject* parent = nullptr);

    /// Reads the catalogue anew.
    void reload();
    void search(const QString& text);
    const QString& searched() const { return m_search; }

    const library::Entry* entry(const QModelIndex& index) const;
    QModelIndex indexOf(const QString& id) const;
    int total() const { return static_cast<int>(m_entries.size()); }
    int quarantined() const;

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

signals:
    void notice(const QString& text);

private:
    void filter();

    library::Store& m_store;
    std::vector<library::Entry> m_entries;
    QHash<QString, int> m_by_id; // id -> position in m_entries
    QSet<QString> m_measured;
    std::vector<int> m_rows; // positions in m_entries
    QString m_search;
};

} // namespace hr::app
