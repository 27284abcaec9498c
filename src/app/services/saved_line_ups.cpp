// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/saved_line_ups.h"

#include "actions/undoable.h"
#include "exchange/document.h"
#include "models/line_up_document.h"

#include <QFile>
#include <QFileInfo>

namespace hr::app {

SavedLineUps::SavedLineUps(LineUp& line_up, Transport& transport, library::Store& store, QUndoStack& undo,
                           Notices& notices, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_transport(transport), m_store(store), m_undo(undo),
      m_notices(notices)
{
}

SavedLineUps::State SavedLineUps::state() const
{
    return {m_row_id, m_name, m_saved, toDocument(m_line_up, m_transport)};
}

void SavedLineUps::become(const State& state)
{
    m_row_id = state.row_id;
    m_name = state.name;
    m_saved = state.saved;
    fromDocument(state.now, m_line_up, m_transport);
    emit changed();
}

bool SavedLineUps::hasChanged() const
{
    return m_row_id != 0 && !isSame(toDocument(m_line_up, m_transport), m_saved);
}

std::vector<library::SavedLineUp> SavedLineUps::all() const
{
    auto found = m_store.line_ups.all();
    return m_notices.succeeded(found) ? std::move(*found) : std::vector<library::SavedLineUp>();
}

void SavedLineUps::save()
{
    auto document = toDocument(m_line_up, m_transport);
    if (m_row_id == 0 || !m_notices.succeeded(m_store.line_ups.replace(m_row_id, document)))
        return;
    m_saved = std::move(document);
    emit changed();
}

void SavedLineUps::saveAs(const QString& name)
{
    auto document = toDocument(m_line_up, m_transport);
    const auto row_id = m_store.line_ups.save(name, document);
    if (!m_notices.succeeded(row_id))
        return;
    m_row_id = *row_id;
    m_name = name;
    m_saved = std::move(document);
    emit changed();
}

void SavedLineUps::rename(const QString& name)
{
    if (m_row_id == 0 || !m_notices.succeeded(m_store.line_ups.rename(m_row_id, name)))
        return;
    m_name = name;
    emit changed();
}

void SavedLineUps::open(qint64 row_id)
{
    const auto found = m_store.line_ups.one(row_id);
    if (m_line_up.isTried() || !m_notices.succeeded(found))
        return;
    const State before = state();
    const State after{found->row_id, found->name, found->document, found->document};
    m_undo.push(new Undoable(
        tr("open the line-up “%1”").arg(found->name), [this, after] { become(after); },
        [this, before] { become(before); }));
    const QString source = sourceOf(found->document).file;
    if (!source.isEmpty() && !isSourceThere(source))
        m_notices.say(tr("The source of “%1”, %2, is not there any more: the one that plays is kept.")
                          .arg(found->name, source));
}

void SavedLineUps::remove(qint64 row_id)
{
    const auto found = m_store.line_ups.one(row_id);
    if (!m_notices.succeeded(found))
        return;
    const auto take = [this, row_id] {
        (void)m_notices.succeeded(m_store.line_ups.remove(row_id));
        if (m_row_id == row_id) {
            m_row_id = 0;
            m_name.clear();
        }
        emit changed();
    };
    const auto back = [this, line_up = *found, was_current = m_row_id == row_id] {
        if (m_notices.succeeded(m_store.line_ups.restore(line_up)) && was_current)
            restore(line_up.row_id);
        emit changed();
    };
    m_undo.push(new Undoable(tr("remove the line-up “%1”").arg(found->name), take, back));
}

void SavedLineUps::exportTo(const QString& file)
{
    auto document = toDocument(m_line_up, m_transport);
    document["name"] = m_name.toStdString();
    if (m_notices.succeeded(exchange::writeDocument(QFile::encodeName(file).toStdString(), document)))
        m_notices.say(tr("The line-up is written to %1.").arg(file));
}

void SavedLineUps::import(const QString& file)
{
    const auto read = exchange::readDocument(QFile::encodeName(file).toStdString());
    if (m_line_up.isTried() || !m_notices.succeeded(read))
        return;
    openDocument(*read, tr("in %1").arg(QFileInfo(file).fileName()));
}

void SavedLineUps::openDocument(const nlohmann::ordered_json& document, const QString& where)
{
    if (m_line_up.isTried())
        return;
    if (!document.is_object() || document.value("format", nlohmann::ordered_json()) != line_up_format)
        return m_notices.say(tr("There is no line-up %1.").arg(where));
    if (document.value("version", nlohmann::ordered_json()) != line_up_version)
        return m_notices.say(tr("The line-up %1 is of a version that is not known here.").arg(where));
    const State before = state();
    const State after{0, {}, {}, document};
    m_undo.push(new Undoable(
        tr("open the line-up %1").arg(where), [this, after] { become(after); },
        [this, before] { become(before); }));
}

void SavedLineUps::restore(qint64 row_id)
{
    const auto found = row_id == 0 ? wrongRequest("none") : m_store.line_ups.one(row_id);
    if (!found)
        return;
    m_row_id = found->row_id;
    m_name = found->name;
    m_saved = found->document;
    emit changed();
}

} // namespace hr::app
