// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_draft.h"

#include "chain/chain_json.h"
#include "services/undoable.h"

namespace hr::app {

namespace {

constexpr auto draft_setting = "chain_draft";

} // namespace

ChainDraft::ChainDraft(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_undo(undo), m_notices(notices)
{
    m_chain.name = tr("New chain").toStdString();
    if (auto chain = chain::fromText(store.setting(QLatin1String(draft_setting)).toStdString()))
        m_chain = std::move(*chain);
}

void ChainDraft::change(const chain::Chain& chain)
{
    m_undo.push(new Undoable(
        tr("the chain"), [this, chain] { set(chain); }, [this, before = m_chain] { set(before); }));
}

void ChainDraft::change(const std::function<void(chain::Chain&)>& how)
{
    chain::Chain after = m_chain;
    how(after);
    change(after);
}

void ChainDraft::set(const chain::Chain& chain)
{
    m_chain = chain;
    (void)m_notices.said(
        m_store.setSetting(QLatin1String(draft_setting), QString::fromStdString(chain::toText(m_chain))));
    emit changed();
}

void ChainDraft::append(const QStringList& ids)
{
    chain::Chain longer = m_chain;
    for (const QString& id : ids) {
        auto entry = m_store.catalogue.entry(id);
        if (!entry)
            continue;
        if (longer.nodes.size() == chain::most_stages) {
            m_notices.say(tr("A chain has at most %1 stages: the rest was left out.").arg(chain::most_stages));
            break;
        }
        chain::addStage(longer, id.toStdString()).name = entry->title().toStdString();
    }
    change(longer);
}

} // namespace hr::app
