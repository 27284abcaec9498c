// SPDX-License-Identifier: GPL-3.0-or-later
//
// The chain that is being put together on Build; kept from one start to the next.
#pragma once

#include "actions/notices.h"
#include "chain/edit.h"
#include "library/store.h"

#include <QUndoStack>

namespace hr::app {

class ChainDraft : public QObject {
    Q_OBJECT
public:
    ChainDraft(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent = nullptr);

    const chain::Chain& chain() const { return m_chain; }
    /// In its place, in one step that can be taken back; kept at once.
    void change(const chain::Chain& chain);
    /// The same with what an edit makes of it (chain/edit.h); why it cannot be done is said.
    void edit(const std::function<chain::Edited(const chain::Chain&)>& how);
    /// The same of one of its nodes, where it is still there and `how` changes it.
    void changeNode(const std::string& node, const std::function<void(chain::Node&)>& how);
    /// At the end, at their defaults; where there is no room for all, that is said.
    void append(const QStringList& ids);

signals:
    void changed();

private:
    void set(const chain::Chain& chain);

    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
    chain::Chain m_chain;
};

} // namespace hr::app
