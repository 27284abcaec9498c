// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/fault_search_sheet.h"

#include "widgets/basics.h"

#include <QGridLayout>
#include <QListWidget>
#include <QProgressBar>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int widest_culprit_px = 180;

} // namespace

FaultSearchSheet::FaultSearchSheet(const FindServices& services, QWidget* parent)
    : QWidget(parent), m_services(services)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(18, 14, 18, 14);
    column->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->addWidget(label(tr("Find the faulty one"), "heading"), 1);
    auto* back = new Button(tr("Back to the list"));
    connect(back, &QPushButton::clicked, this, &FaultSearchSheet::done);
    top->addWidget(back);
    column->addLayout(top);
    m_about = paragraph();
    column->addWidget(m_about);
    auto* row = new QHBoxLayout;
    m_begin = (new Button(tr("Start the search")))->main();
    connect(m_begin, &QPushButton::clicked, this, [this] {
        if (!m_services.fault_search.isRunning())
            return begin();
        m_services.fault_search.stop();
        m_begin->setText(tr("Start the search"));
        m_state->setText(tr("Stopped: nothing was changed."));
    });
    row->addWidget(m_begin);
    m_progress = new QProgressBar;
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(8);
    row->addWidget(m_progress, 1);
    column->addLayout(row);
    m_state = paragraph({}, "strong");
    column->addWidget(m_state);
    m_ways = new QGridLayout;
    m_ways->setColumnStretch(2, 1);
    column->addLayout(m_ways);
    m_log = new QListWidget;
    m_log->setAccessibleName(tr("steps of the search"));
    m_log->setSelectionMode(QAbstractItemView::NoSelection);
    column->addWidget(m_log, 1);

    connect(&m_services.fault_search, &FaultSearchJob::step, this, [this](int together, int left) {
        m_steps = std::max(m_steps, left);
        m_progress->setRange(0, m_steps);
        m_progress->setValue(m_steps - left);
        m_state->setText(tr("Starting %1 together; %2 steps left at most.").arg(together).arg(left));
        m_log->insertItem(0, tr("%1 together").arg(together));
    });
    connect(&m_services.fault_search, &FaultSearchJob::finished, this, &FaultSearchSheet::tell);
}

void FaultSearchSheet::setSuspects(const QStringList& ids, int left_out)
{
    if (m_services.fault_search.isRunning())
        return;
    m_suspects = ids;
    m_about->setText(
        tr("Some processors work alone and fail, or make others fail, as soon as several run in one "
           "process. This starts %1 of the list together in a worker and halves them, again and "
           "again, until the one that does it stands alone. Nothing else is touched.")
            .arg(ids.size()) +
        (left_out > 0 ? tr(" Those in quarantine are left out: %1.").arg(left_out) : QString()));
    m_begin->setEnabled(ids.size() > 1);
    m_progress->reset();
}

QString FaultSearchSheet::titleOf(const QString& id) const
{
    auto entry = m_services.store.catalogue.entry(id);
    return entry ? entry->title() : id;
}

void FaultSearchSheet::begin()
{
    m_steps = 0;
    m_log->clear();
    while (QLayoutItem* item = m_ways->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    m_begin->setText(tr("Stop"));
    m_services.fault_search.start(m_suspects);
    if (!m_services.fault_search.isRunning())
        m_begin->setText(tr("Start the search"));
}

void FaultSearchSheet::tell(const library::FaultSearch::Verdict& verdict)
{
    m_begin->setText(tr("Start the search"));
    m_progress->setValue(m_progress->maximum());
    if (verdict.culprits.isEmpty())
        return m_state->setText(
            tr("All of them ran together without a failure: it is none of these, or none of them "
               "does it every time."));
    QStringList names;
    for (const QString& id : verdict.culprits)
        names << titleOf(id);
    m_state->setText(
        verdict.culprits.size() > 1 ? tr("%1 fail together, and with no others.").arg(names.join(tr(" and ")))
        : verdict.beside.isEmpty()  ? tr("%1 fails even alone.").arg(names.front())
                                    : tr("It is %1: it failed beside %2 and beside another, which work "
                                          "together without it.")
                                         .arg(names.front(), titleOf(verdict.beside)));
    for (int row = 0; row < static_cast<int>(verdict.culprits.size()); ++row) {
        const QString id = verdict.culprits[row];
        auto* look = new Button(
            tr("Show %1").arg(fontMetrics().elidedText(names[row], Qt::ElideRight, widest_culprit_px)));
        connect(look, &QPushButton::clicked, this, [this, id] { emit show(id); });
        m_ways->addWidget(look, row, 0);
        auto* hide = new Button(tr("Hide it"));
        connect(hide, &QPushButton::clicked, this, [this, id] {
            m_services.notebook.write({id}, tr("hiding"), [](library::Written& w) { w.hidden = true; });
        });
        m_ways->addWidget(hide, row, 1);
    }
}

} // namespace hr::app
