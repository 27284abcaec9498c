// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_draft.h"

#include "actions/undoable.h"
#include "chain/chain_json.h"

#include <algorithm>

namespace hr::app {

namespace {

constexpr auto draft_setting = "chain_draft";
constexpr int kept_after_ms = 300;

} // namespace

ChainDraft::ChainDraft(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_undo(undo), m_notices(notices),
      m_soon(kept_after_ms, [this] { keep(); })
{
    m_chain.name = tr("New chain").toStdString();
    if (auto chain = chain::fromText(store.setting(QLatin1String(draft_setting)).toStdString()))
        m_chain = std::move(*chain);
}

ChainDraft::~ChainDraft()
{
    if (m_soon.isActive())
        keep();
}

void ChainDraft::turnTo(const chain::Chain& chain)
{
    emit replaced();
    set(chain);
}

void ChainDraft::replaceBy(const chain::Chain& chain)
{
    m_undo.push(new Undoable(
        tr("the chain"), [this, chain] { turnTo(chain); }, [this, before = m_chain] { turnTo(before); }));
}

void ChainDraft::change(const chain::Chain& chain, const QString& moves)
{
    m_undo.push(new Undoable(
        tr("the chain"),
        [this, chain, kept = moves.isEmpty() ? Kept::AtOnce : Kept::Soon] { set(chain, kept); },
        [this, before = m_chain] { set(before); }, moves));
}

bool ChainDraft::edit(const std::function<chain::Edited(const chain::Chain&)>& how)
{
    const auto after = how(m_chain);
    if (!m_notices.succeeded(after))
        return false;
    if (chain::toText(*after) != chain::toText(m_chain))
        change(*after);
    return true;
}

void ChainDraft::changeNode(const std::string& node, const std::function<void(chain::Node&)>& how,
                            const QString& moves)
{
    chain::Chain after = m_chain;
    chain::Node* found = after.node(node);
    if (!found)
        return;
    how(*found);
    if (chain::toText(after) != chain::toText(m_chain))
        change(after, moves.isEmpty() ? moves : QString::fromStdString(node) + QLatin1Char(' ') + moves);
}

void ChainDraft::follow(const chain::Chain& chain)
{
    if (chain::toText(chain) != chain::toText(m_chain))
        set(chain, Kept::Soon);
}

void ChainDraft::set(const chain::Chain& chain, Kept kept)
{
    m_chain = chain;
    if (kept == Kept::AtOnce)
        keep();
    else
        m_soon.start();
    emit changed();
}

void ChainDraft::keep()
{
    m_soon.stop();
    (void)m_notices.succeeded(
        m_store.setSetting(QLatin1String(draft_setting), QString::fromStdString(chain::toText(m_chain))));
}

Result<chain::Node> ChainDraft::stageOf(const QString& processor) const
{
    auto entry = m_store.catalogue.entry(processor);
    if (!entry)
        return tl::make_unexpected(entry.error());
    chain::Node stage;
    stage.processor = processor.toStdString();
    stage.name = entry->title().toStdString();
    return stage;
}

void ChainDraft::append(const QStringList& ids)
{
    chain::Chain longer = m_chain;
    for (const QString& id : ids) {
        auto stage = stageOf(id);
        if (!stage)
            continue;
        auto edited = chain::insertBefore(longer, processors::chain_output, std::move(*stage));
        if (!m_notices.succeeded(edited)) // it says how many there can be: the rest is left out
            break;
        longer = std::move(*edited);
    }
    if (longer.nodes.size() != m_chain.nodes.size())
        change(longer);
}

} // namespace hr::app
