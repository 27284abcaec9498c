// SPDX-License-Identifier: GPL-3.0-or-later
//
// The chain that is being put together on Build; kept from one start to the next.
#pragma once

#include "chain/chain.h"
#include "library/store.h"

#include <QObject>

namespace hr::app {

class ChainDraft : public QObject {
    Q_OBJECT
public:
    explicit ChainDraft(library::Store& store, QObject* parent = nullptr);

    const chain::Chain& chain() const { return m_chain; }
    /// In its place; kept at once.
    void set(const chain::Chain& chain);
    /// At the end, as new; those that do not fit any more are said by notice().
    void append(const QStringList& ids);

signals:
    void changed();
    void notice(const QString& text);

private:
    library::Store& m_store;
    chain::Chain m_chain;
};

} // namespace hr::app
