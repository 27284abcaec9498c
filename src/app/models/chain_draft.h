// SPDX-License-Identifier: GPL-3.0-or-later
//
// The chain that is being put together on Build; kept from one start to the next.
#pragma once

#include "actions/notices.h"
#include "chain/edit.h"
#include "jobs/soon.h"
#include "library/store.h"

#include <QUndoStack>

namespace hr::app {

class ChainDraft : public QObject {
    Q_OBJECT
public:
    ChainDraft(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent = nullptr);
    ~ChainDraft() override; ///< keeps what is not kept yet

    const chain::Chain& chain() const { return m_chain; }
    /// Whether a hand moves something of it, which is kept once that rests.
    bool isMoved() const { return m_soon.isActive(); }
    const chain::Node* node(const std::string& id) const { return m_chain.node(id); }

    /// Another chain in its place, in one step that can be taken back; kept at once.
    void replaceBy(const chain::Chain& chain);
    /// The same as a part of another step.
    void turnTo(const chain::Chain& chain);
    /// The same chain in another form. While a hand moves one thing it is kept once that rests.
    void change(const chain::Chain& chain, const QString& moves = {});
    /// The same with what an edit makes of it (chain/edit.h); why it cannot be done is said, and false.
    bool edit(const std::function<chain::Edited(const chain::Chain&)>& how);
    /// The same of one of its nodes, where it is still there and `how` changes it. Steps in a row that move one
    /// thing (Undoable) become one.
    void changeNode(const std::string& node, const std::function<void(chain::Node&)>& how,
                    const QString& moves = {});
    /// At the end, at their defaults; where there is no room for all, that is said.
    void append(const QStringList& ids);

    /// It was changed elsewhere, where that can be taken back: no step of its own.
    void follow(const chain::Chain& chain);

    /// A stage of this processor at its defaults; an Error for an unknown id.
    Result<chain::Node> stageOf(const QString& processor) const;

signals:
    void changed();
    void replaced(); ///< by another chain; changed() follows

private:
    enum class Kept { AtOnce, Soon };
    void set(const chain::Chain& chain, Kept kept = Kept::AtOnce);
    void keep();

    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
    chain::Chain m_chain;
    Soon m_soon;
};

} // namespace hr::app
