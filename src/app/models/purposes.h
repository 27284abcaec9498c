// SPDX-License-Identifier: GPL-3.0-or-later
//
// What stages were put in for, in words of the user's own, and which stage with which settings that was: to be
// offered again, and found.
#pragma once

#include "models/chain_draft.h"

namespace hr::app {

class Purposes : public QObject {
    Q_OBJECT
public:
    /// Follows the draft: what has a purpose in it is remembered once a hand rests.
    Purposes(ChainDraft& draft, library::Store& store, Notices& notices, QObject* parent = nullptr);

    /// The latest first, each purpose once.
    QStringList words() const;
    /// Those whose purpose holds every word of `text`, the latest first.
    std::vector<chain::Node> find(const QString& text) const;

private:
    void remember();

    ChainDraft& m_draft;
    library::Store& m_store;
    Notices& m_notices;
    std::vector<chain::Node> m_stages; // the latest first; one without a processor is a purpose alone
    Soon m_soon;
};

} // namespace hr::app
