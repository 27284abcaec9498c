// SPDX-License-Identifier: GPL-3.0-or-later
#include "services/page_routes.h"

#include "chain/chain_json.h"

namespace hr::app {

PageRoutes::PageRoutes(library::Store& store, LineUp& line_up, BenchQueue& bench,
                       const BenchConditions& conditions, ChainDraft& draft, PartsDraft& parts,
                       Notebook& notebook, Navigation& navigation, Notices& notices, QObject* parent)
    : QObject(parent), m_store(store), m_line_up(line_up), m_bench(bench), m_conditions(conditions),
      m_draft(draft), m_parts(parts), m_notebook(notebook), m_navigation(navigation), m_notices(notices)
{
}

void PageRoutes::listenTo(const QString& processor, const std::vector<processors::Setting>& settings)
{
    const ContenderId id = m_line_up.add(processor, settings);
    if (id == audition::no_contender)
        return;
    m_notebook.remember(processor);
    m_line_up.hear(id);
    m_navigation.goTo(PageName::Listen);
}

void PageRoutes::listenTo(const QStringList& processors)
{
    for (const QString& one : processors)
        listenTo(one);
}

void PageRoutes::listenTo(const chain::Chain& chain)
{
    const ContenderId id = m_line_up.addChain(chain);
    if (id == audition::no_contender)
        return;
    m_line_up.hear(id);
    m_navigation.goTo(PageName::Listen);
}

void PageRoutes::listenTo(const library::CollectionItem& item)
{
    if (!item.isChain())
        return listenTo(item.reference, item.settings);
    if (const auto chain = chain::fromText(item.chain.toStdString()); m_notices.succeeded(chain))
        listenTo(*chain);
}

void PageRoutes::measure(ContenderId id)
{
    const Contender* contender = m_line_up.find(id);
    if (!contender || contender->isUntreated())
        return;
    if (contender->rendered)
        return m_notices.say(
            tr("%1 is a sound, which the bench has no tests for: measure what it was rendered through.")
                .arg(contender->calledHere()));
    if (!contender->isMeasurable())
        return m_notices.say(tr("%1 cannot be measured: it could not be opened.").arg(contender->title));
    m_bench.measure(*contender, {}, m_conditions.now());
    m_navigation.goTo(PageName::Measure);
}

void PageRoutes::measure(const QString& processor)
{
    for (const Contender& contender : m_line_up.candidates())
        if (contender.processor == processor)
            return measure(contender.id);
    measure(m_line_up.add(processor));
}

void PageRoutes::build(const QStringList& processors)
{
    m_draft.append(processors);
    for (const QString& id : processors)
        m_notebook.remember(id);
    m_navigation.goTo(PageName::Build);
}

void PageRoutes::build(const chain::Chain& chain)
{
    m_draft.replaceBy(chain);
    m_navigation.goTo(PageName::Build);
}

void PageRoutes::build(const chain::Company& company)
{
    m_parts.open(company);
    m_navigation.goTo(PageName::Build);
}

} // namespace hr::app
