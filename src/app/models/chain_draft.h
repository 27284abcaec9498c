// SPDX-License-Identifier: GPL-3.0-or-later
//
// The chain that is being put together on Build; kept from one start to the next.
#pragma once

#include "chain/chain.h"
#include "library/store.h"
#include "services/notices.h"

#include <QUndoStack>

namespace hr::app {

class ChainDraft : public QObject {
    Q_OBJECT
public:
    ChainDraft(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent = nullptr);

    const chain::Chain& chain() const { return m_chain; }
    /// In its place, in one step that can be taken back; kept at once.
    void change(const chain::Chain& chain);
    /// The same with what `how` makes of it.
    void change(const std::function<void(chain::Chain&)>& how);
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
