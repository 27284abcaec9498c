// SPDX-License-Identifier: GPL-3.0-or-later
//
// The chain on Build among the candidates. What is changed there is heard as soon as it is ready, and what is
// turned of it on Listen is in the chain. A part of it (up to a stage, without one) is heard as a candidate of
// its own, which the next part takes over.
#pragma once

#include "models/chain_draft.h"
#include "models/line_up.h"

namespace hr::app {

class ChainHearing : public QObject {
    Q_OBJECT
public:
    ChainHearing(ChainDraft& draft, LineUp& line_up, QObject* parent = nullptr);

    /// All of it; it joins the line-up where it is not there yet, which may be full.
    bool hear();
    /// A part of it, or another form of it, with what it is called beside the chain's name ("up to 2").
    void hearPart(const chain::Chain& part, const QString& called);

    const Contender* whole() const { return m_line_up.find(m_whole); } ///< null: it is not in the line-up
    const Contender* part() const { return m_line_up.find(m_part); }   ///< null: none is
    const QString& partCalled() const { return m_called; }
    /// Whether what is audible, or wanted, is this one.
    bool isHeard(const Contender* one) const { return one && m_line_up.wanted() == one->id; }

signals:
    void changed();

private:
    void draftChanged();
    void wholeChanged(ContenderId id);

    ChainDraft& m_draft;
    LineUp& m_line_up;
    ContenderId m_whole = audition::no_contender, m_part = audition::no_contender;
    QString m_called;
    bool m_following = false; // one of the two follows the other
};

} // namespace hr::app
