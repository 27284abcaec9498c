// SPDX-License-Identifier: GPL-3.0-or-later
//
// Versions of the chain on Build that the user has kept, by its name, the latest first.
#pragma once

#include "models/chain_draft.h"

namespace hr::app {

class ChainVersions : public QObject {
    Q_OBJECT
public:
    static constexpr std::size_t most_kept = 200; ///< of all chains together: then the oldest goes

    struct Version {
        QString kept_at; ///< UTC, ISO 8601
        chain::Chain chain;
    };
    ChainVersions(library::Store& store, ChainDraft& draft, Notices& notices, QObject* parent = nullptr);

    /// Of the chain as it is called now.
    std::vector<Version> list() const;
    /// As it is now; said where nothing has changed since the last one.
    void keep();

signals:
    void changed();

private:
    library::Store& m_store;
    ChainDraft& m_draft;
    Notices& m_notices;
    std::vector<Version> m_all; // the latest first
};

} // namespace hr::app
