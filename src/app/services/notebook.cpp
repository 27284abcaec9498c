// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/notebook.h"

#include "actions/undoable.h"

namespace hr::app {

namespace {

constexpr auto recent_setting = "recently_used";
constexpr qsizetype most_recent = 40;

QStringList recentOf(const library::Store& store)
{
    return store.setting(QLatin1String(recent_setting)).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
}

} // namespace

Notebook::Notebook(library::Store& store, ProcessorModel& processors, QUndoStack& undo, Notices& notices,
                   QObject* parent)
    : QObject(parent), m_store(store), m_processors(processors), m_undo(undo), m_notices(notices)
{
    m_processors.setRecent(recentOf(m_store));
}

void Notebook::write(const QStringList& ids, const QString& what,
                     const std::function<void(library::Written&)>& change)
{
    Words before;
    Words after;
    for (const QString& id : ids) {
        auto entry = m_store.catalogue.entry(id);
        if (!entry)
            continue;
        before.emplace_back(id, *entry);
        library::Written changed = *entry;
        change(changed);
        after.emplace_back(id, changed);
    }
    if (before != after)
        m_undo.push(new Undoable(
            what, [this, after] { put(after); }, [this, before] { put(before); }));
}

void Notebook::put(const Words& words)
{
    (void)m_notices.succeeded(m_store.catalogue.write(words));
}

void Notebook::decideBuilds(const QString& what, const std::function<Result<void>()>& decide)
{
    auto before = m_store.builds.decided();
    if (!m_notices.succeeded(before))
        return;
    const auto take = [this](const Result<void>& decided) {
        if (m_notices.succeeded(decided))
            m_processors.reload();
    };
    m_undo.push(new Undoable(
        what, [take, decide] { take(decide()); },
        [this, take, before = *before] { take(m_store.builds.decide(before)); }));
}

void Notebook::joinBuilds(const QStringList& ids)
{
    decideBuilds(tr("join builds"), [this, ids] { return m_store.builds.join(ids); });
}

void Notebook::splitBuilds(const QStringList& ids)
{
    decideBuilds(tr("split builds"), [this, ids] { return m_store.builds.keepApart(ids); });
}

qint64 Notebook::putSet(const library::WorkingSet& set)
{
    auto put = m_store.working_sets.put(set);
    (void)m_notices.succeeded(put);
    m_processors.refreshRules();
    return put.value_or(0);
}

void Notebook::removeSet(const library::WorkingSet& set)
{
    const auto kept = std::make_shared<library::WorkingSet>(set);
    const bool in_use = m_processors.rules().in_use == set.row_id;
    const auto remove = [this, kept] {
        (void)m_notices.succeeded(m_store.working_sets.remove(kept->row_id));
        m_processors.refreshRules();
    };
    const auto back = [this, kept, in_use] {
        if (putSet(*kept) && in_use)
            useSet(kept->row_id);
    };
    m_undo.push(new Undoable(tr("remove the working set “%1”").arg(set.name), remove, back));
}

void Notebook::useSet(qint64 set)
{
    (void)m_notices.succeeded(m_store.working_sets.use(set));
    m_processors.refreshRules();
}

void Notebook::remember(const QString& id)
{
    QStringList recent = recentOf(m_store);
    recent.removeAll(id);
    recent.prepend(id);
    recent = recent.mid(0, most_recent);
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(recent_setting), recent.join(QLatin1Char('\n'))));
    m_processors.setRecent(recent);
}

} // namespace hr::app
