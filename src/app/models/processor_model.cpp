// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/processor_model.h"

#include <algorithm>
#include <numeric>

namespace hr::app {

ProcessorModel::ProcessorModel(library::Store& store, QObject* parent)
    : QAbstractTableModel(parent), m_store(store)
{
    reload();
}

void ProcessorModel::reload()
{
    auto entries = m_store.catalogue.entries();
    auto measured = m_store.readings.measured();
    if (!entries || !measured) {
        emit notice(QString::fromStdString(entries ? measured.error().text : entries.error().text));
        return;
    }
    beginResetModel();
    m_entries = std::move(*entries);
    m_measured = QSet<QString>(measured->begin(), measured->end());
    m_by_id.clear();
    for (std::size_t i = 0; i < m_entries.size(); ++i)
        m_by_id.insert(m_entries[i].id, static_cast<int>(i));
    filter();
    endResetModel();
}

void ProcessorModel::search(const QString& text)
{
    beginResetModel();
    m_search = text;
    filter();
    endResetModel();
}

void ProcessorModel::filter()
{
    m_rows.clear();
    if (m_search.trimmed().isEmpty()) {
        m_rows.resize(m_entries.size());
        std::iota(m_rows.begin(), m_rows.end(), 0);
        return;
    }
    auto found = m_store.catalogue.search(m_search);
    if (!found) {
        emit notice(QString::fromStdString(found.error().text));
        return;
    }
    for (const QString& id : *found)
        if (const auto at = m_by_id.constFind(id); at != m_by_id.cend())
            m_rows.push_back(*at);
}

const library::Entry* ProcessorModel::entry(const QModelIndex& index) const
{
    return index.isValid() ? &m_entries[static_cast<std::size_t>(m_rows[static_cast<std::size_t>(index.row())])]
                           : nullptr;
}

QModelIndex ProcessorModel::indexOf(const QString& id) const
{
    const auto at = m_by_id.constFind(id);
    if (at == m_by_id.cend())
        return {};
    const auto row = std::ranges::find(m_rows, *at);
    return row == m_rows.end() ? QModelIndex() : index(static_cast<int>(row - m_rows.begin()), 0);
}

int ProcessorModel::quarantined() const
{
    return static_cast<int>(std::ranges::count(m_entries, library::State::Quarantined,
                                               [](const library::Entry& e) { return e.state; }));
}

int ProcessorModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}

int ProcessorModel::columnCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(columns);
}

QVariant ProcessorModel::data(const QModelIndex& index, int role) const
{
    const library::Entry* e = entry(index);
    if (!e)
        return {};
    switch (role) {
    case EntryId:
        return e->id;
    case Maker:
        return e->maker;
    case Favourite:
        return e->favourite;
    case Quarantined:
        return e->state == library::State::Quarantined;
    case Qt::AccessibleTextRole:
        if (index.column() == Name)
            return tr("%1 by %2").arg(e->title(), e->maker);
        [[fallthrough]];
    case Qt::DisplayRole:
        switch (index.column()) {
        case Name:
            return e->title();
        case Kind:
            return e->kind;
        case Channels:
            return tr("%1 → %2").arg(e->audio_in).arg(e->audio_out) +
                   (e->key_in > 0 ? tr(" + key") : QString());
        case Measured:
            return e->state == library::State::Quarantined ? tr("quarantine")
                   : m_measured.contains(e->id)            ? tr("measured")
                                                           : QString();
        default:
            return {};
        }
    default:
        return {};
    }
}

QVariant ProcessorModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    const QString names[] = {tr("name"), tr("kind"), tr("channels"), tr("state")};
    return section < columns ? names[section] : QVariant();
}

} // namespace hr::app
