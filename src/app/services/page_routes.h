// SPDX-License-Identifier: GPL-3.0-or-later
//
// Ways on for processors, chains and what is kept, from wherever they are seen: to be heard, measured, built
// with.
#pragma once

#include "models/bench_queue.h"
#include "models/chain_draft.h"
#include "models/line_up.h"
#include "models/parts_draft.h"
#include "services/bench_conditions.h"
#include "services/navigation.h"
#include "services/notebook.h"

namespace hr::app {

class PageRoutes : public QObject {
    Q_OBJECT
public:
    PageRoutes(library::Store& store, LineUp& line_up, BenchQueue& bench, const BenchConditions& conditions,
               ChainDraft& draft, PartsDraft& parts, Notebook& notebook, Navigation& navigation,
               Notices& notices, QObject* parent = nullptr);

    void listenTo(const QString& processor, const std::vector<processors::Setting>& settings = {});
    void listenTo(const QStringList& processors);
    void listenTo(const library::CollectionItem& item);
    void listenTo(const chain::Chain& chain);
    /// A contender, as it stands in the line-up.
    void measure(ContenderId id);
    /// A processor at its defaults, which joins the line-up for that: it is seen with its letter and colour.
    void measure(const QString& processor);
    /// As stages of the chain on Build.
    void build(const QStringList& processors);
    /// In place of the chain on Build, which can be taken back.
    void build(const chain::Chain& chain);
    /// In place of the parts on Build, which can be taken back.
    void build(const chain::Company& company);

private:
    library::Store& m_store;
    LineUp& m_line_up;
    BenchQueue& m_bench;
    const BenchConditions& m_conditions;
    ChainDraft& m_draft;
    PartsDraft& m_parts;
    Notebook& m_notebook;
    Navigation& m_navigation;
    Notices& m_notices;
};

} // namespace hr::app
