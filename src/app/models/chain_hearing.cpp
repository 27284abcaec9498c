// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/chain_hearing.h"

#include "chain/chain_json.h"

#include <algorithm>

namespace hr::app {

ChainHearing::ChainHearing(ChainDraft& draft, LineUp& line_up, QObject* parent)
    : QObject(parent), m_draft(draft), m_line_up(line_up)
{
    connect(&m_draft, &ChainDraft::replaced, this, [this] { m_whole = m_part = audition::no_contender; });
    connect(&m_draft, &ChainDraft::changed, this, &ChainHearing::draftChanged);
    connect(&m_line_up, &LineUp::valueChanged, this, [this](ContenderId id) { wholeChanged(id); });
    connect(&m_line_up, &LineUp::settingsChanged, this, &ChainHearing::wholeChanged);
    connect(&m_line_up, &LineUp::contendersChanged, this, &ChainHearing::changed);
    connect(&m_line_up, &LineUp::audibleChanged, this, &ChainHearing::changed);
}

bool ChainHearing::hear()
{
    if (!whole()) { // it may be there since the last start
        const std::string text = chain::toText(m_draft.chain());
        const auto same = std::ranges::find_if(m_line_up.candidates(), [&](const Contender& one) {
            return one.chain && chain::toText(one.chainNow()) == text;
        });
        m_whole = same != m_line_up.candidates().end() ? same->id : m_line_up.addChain(m_draft.chain());
    }
    m_line_up.hear(m_whole);
    emit changed();
    return m_whole != audition::no_contender;
}

void ChainHearing::hearPart(const chain::Chain& part, const QString& called)
{
    chain::Chain named = part;
    m_called = called;
    named.name = tr("%1, %2").arg(QString::fromStdString(m_draft.chain().name), called).toStdString();
    if (this->part())
        m_line_up.changeChain(m_part, named);
    else
        m_part = m_line_up.addChain(named);
    m_line_up.hear(m_part);
    emit changed();
}

void ChainHearing::draftChanged()
{
    if (m_following || !whole())
        return;
    m_following = true;
    m_line_up.changeChain(m_whole, m_draft.chain());
    m_following = false;
}

void ChainHearing::wholeChanged(ContenderId id)
{
    const Contender* now = whole();
    if (id == m_whole)
        emit changed(); // its amount, too
    if (id != m_whole || m_following || !now || !now->isOpen() || now->isBeingChanged())
        return; // it is on its way to what stands on Build
    m_following = true;
    m_draft.follow(now->chainNow());
    m_following = false;
}

} // namespace hr::app
