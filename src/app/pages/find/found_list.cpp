// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/found_list.h"

#include "pages/find/processor_delegate.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QPaintEvent>
#include <QPainter>

namespace hr::app {

FoundList::FoundList(ProcessorModel& processors, QWidget* parent) : QTableView(parent), m_processors(processors)
{
    setModel(&m_processors);
    setItemDelegate(new ProcessorDelegate(m_processors, this));
    setAccessibleName(tr("processors"));
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setDragEnabled(true);
    setContextMenuPolicy(Qt::CustomContextMenu);
    setShowGrid(false);
    setTabKeyNavigation(false);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(46);
    verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    horizontalHeader()->setHighlightSections(false);
    horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    horizontalHeader()->setSectionResizeMode(ProcessorModel::Name, QHeaderView::Stretch);
    for (const auto& [section, width] : {std::pair(ProcessorModel::Measured, 176), {ProcessorModel::State, 86}})
        horizontalHeader()->resizeSection(section, width);
    // It is painted at each key: what lies under it need not be.
    viewport()->setAttribute(Qt::WA_OpaquePaintEvent);
    m_nothing = new EmptyState({}, {}, {}, this);
    connect(m_nothing, &EmptyState::stepTaken, this, [this] {
        const QString& nearest = m_processors.found().nearest;
        const library::Query& asked = m_processors.asked();
        emit askInstead(nearest.isEmpty() ? library::Query{asked.text, {}, asked.order}
                                          : library::Query{nearest, asked.choices, asked.order});
    });
    connect(&m_processors, &QAbstractItemModel::modelReset, this, &FoundList::showNothing);
    showNothing();
}

/// One slip further, or without what is chosen, something may be found: that is offered.
void FoundList::showNothing()
{
    const library::Finder::Found& found = m_processors.found();
    m_nothing->setVisible(found.rows.empty());
    if (!found.rows.empty())
        return;
    if (!m_under_way.isEmpty())
        m_nothing->setTexts(tr("Getting ready"), m_under_way.join(QLatin1Char('\n')));
    else if (m_processors.total() == 0)
        m_nothing->setTexts(tr("No processors yet"),
                            tr("None are installed in the folders that are looked in. Add a "
                               "folder below on the left, then scan."));
    else
        m_nothing->setTexts(
            tr("Nothing by that name"),
            tr("Every word must begin a word of the name, maker, kind, tags, note or description, "
               "and agree with what is chosen on the left."));
    m_nothing->setStep(!found.nearest.isEmpty() ? tr("Search for “%1”").arg(found.nearest)
                       : found.without_choices > 0
                           ? tr("Search everywhere (%n found)", nullptr, found.without_choices)
                           : QString());
}

void FoundList::setUnderWay(const QStringList& jobs)
{
    if (std::exchange(m_under_way, jobs) != jobs)
        showNothing();
}

QStringList FoundList::selectedIds() const
{
    QStringList ids;
    for (const QModelIndex& index : selectionModel()->selectedRows())
        ids << index.data(ProcessorModel::EntryId).toString();
    return ids;
}

QStringList FoundList::unmeasuredInSight() const
{
    QStringList ids;
    const int first = std::max(0, rowAt(0));
    const int last = rowAt(viewport()->height() - 1);
    for (int row = first; row <= (last < 0 ? m_processors.rowCount() - 1 : last); ++row)
        if (const QModelIndex index = m_processors.index(row, 0); !m_processors.pictures(index))
            ids << index.data(ProcessorModel::EntryId).toString();
    return ids;
}

void FoundList::makeCurrent(const QModelIndex& index)
{
    selectionModel()->setCurrentIndex(index, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
}

void FoundList::selectAll(const QStringList& ids)
{
    QItemSelection all;
    QModelIndex first;
    for (const QString& id : ids)
        if (const QModelIndex index = m_processors.indexOf(id); index.isValid()) {
            all.select(index, index);
            if (!first.isValid() || index.row() < first.row())
                first = index;
        }
    if (!first.isValid())
        return;
    selectionModel()->setCurrentIndex(first, QItemSelectionModel::NoUpdate);
    selectionModel()->select(all, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    scrollTo(first);
}

void FoundList::paintEvent(QPaintEvent* event)
{
    QPainter(viewport()).fillRect(event->rect(), Theme::palette().sheet);
    QTableView::paintEvent(event);
}

void FoundList::resizeEvent(QResizeEvent* event)
{
    QTableView::resizeEvent(event);
    m_nothing->setGeometry(rect());
}

} // namespace hr::app
