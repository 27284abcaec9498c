// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/keeping.h"

#include "actions/undoable.h"
#include "exchange/collection_file.h"
#include "library/find/rule.h"

#include <QFile>

namespace hr::app {

namespace {

std::filesystem::path pathOf(const QString& file)
{
    return QFile::encodeName(file).toStdString();
}

} // namespace

Keeping::Keeping(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_undo(undo), m_notices(notices)
{
}

std::vector<library::Collection> Keeping::byHand() const
{
    auto all = m_store.collections.all();
    if (!m_notices.succeeded(all))
        return {};
    std::erase_if(*all, [](const library::Collection& c) { return c.byRule(); });
    return *all;
}

void Keeping::keep(const library::CollectionItem& item, qint64 collection)
{
    if (collection == 0) {
        const auto choices = byHand();
        auto chosen = choices.empty() ? m_store.collections.create(tr("Favourites"))
                                      : Result<qint64>(choices.front().row_id);
        if (!m_notices.succeeded(chosen))
            return;
        collection = *chosen;
    }
    const auto entry = m_store.catalogue.entry(item.reference);
    const auto kept = std::make_shared<library::CollectionItem>(item);
    const auto put = [this, kept, collection] {
        if (auto added = m_store.collections.add(collection, *kept); m_notices.succeeded(added))
            kept->row_id = *added;
    };
    const auto back = [this, kept] { (void)m_notices.succeeded(m_store.collections.removeItem(kept->row_id)); };
    m_undo.push(new Undoable(tr("keep %1").arg(entry ? entry->title() : item.reference), put, back));
}

void Keeping::keep(const std::vector<library::CollectionItem>& items, qint64 collection)
{
    m_undo.beginMacro(tr("keep"));
    for (const library::CollectionItem& item : items)
        keep(item, collection);
    m_undo.endMacro();
}

void Keeping::take(const library::CollectionItem& item, qint64 collection, int position)
{
    const auto kept = std::make_shared<library::CollectionItem>(item);
    const auto remove = [this, kept] {
        (void)m_notices.succeeded(m_store.collections.removeItem(kept->row_id));
    };
    const auto back = [this, kept, collection, position] {
        if (auto added = m_store.collections.add(collection, *kept, position); m_notices.succeeded(added))
            kept->row_id = *added;
    };
    m_undo.push(new Undoable(tr("remove from the collection"), remove, back));
}

qint64 Keeping::create()
{
    auto made = m_store.collections.insert(tr("New collection"), {});
    (void)m_notices.succeeded(made);
    return made.value_or(0);
}

void Keeping::rename(qint64 collection, const QString& name)
{
    (void)m_notices.succeeded(m_store.collections.rename(collection, name));
}

/// The whole collection goes, and comes back whole.
void Keeping::remove(const library::Collection& collection)
{
    struct Kept {
        library::Collection collection;
        std::vector<library::CollectionItem> items;
    };
    const auto kept = std::make_shared<Kept>(Kept{collection, {}});
    const auto remove = [this, kept] {
        if (auto items = m_store.collections.items(kept->collection.row_id); m_notices.succeeded(items)) {
            kept->items = std::move(*items);
            (void)m_notices.succeeded(m_store.collections.remove(kept->collection.row_id));
        }
    };
    const auto back = [this, kept] {
        (void)m_notices.succeeded(m_store.collections.restore(kept->collection, kept->items));
    };
    m_undo.push(new Undoable(tr("remove “%1”").arg(collection.name), remove, back));
}

void Keeping::keepSearch(const library::Query& asked, const QString& name)
{
    if (!m_notices.succeeded(m_store.collections.create(name, library::ruleText(asked))))
        return;
    m_notices.say(tr("“%1” keeps itself up to date; it is on Keep.").arg(name));
}

qint64 Keeping::importFrom(const QString& file)
{
    auto made = exchange::importCollection(m_store, pathOf(file));
    if (!m_notices.succeeded(made))
        return 0;
    return *made;
}

void Keeping::exportTo(const library::Collection& collection, const QString& file)
{
    if (m_notices.succeeded(exchange::exportCollection(m_store, collection.row_id, pathOf(file))))
        m_notices.say(tr("“%1” is written to %2.").arg(collection.name, file));
}

} // namespace hr::app
