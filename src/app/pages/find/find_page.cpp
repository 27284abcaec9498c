// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/find_page.h"

#include "pages/find/particulars.h"
#include "pages/find/processor_delegate.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QStackedLayout>
#include <QTableView>
#include <QVBoxLayout>

namespace hr::app {

FindPage::FindPage(Desk& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
{
    setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->setSpacing(12);
    column->addWidget(makeTop());
    auto* row = new QHBoxLayout;
    row->setSpacing(18);
    row->addWidget(makeList(), 1);
    m_particulars = new Particulars(m_desk);
    m_particulars->setFixedWidth(300);
    row->addWidget(m_particulars);
    column->addLayout(row, 1);

    connect(&m_desk.processors, &QAbstractItemModel::modelReset, this, &FindPage::listChanged);
    connect(&m_desk.scan, &ScanJob::progress, this, [this](int done, int of, const QString& bundle) {
        m_scanning->setText(
            tr("trying %1 of %2: %3").arg(done).arg(of).arg(bundle.section(QLatin1Char('/'), -1)));
    });
    const auto scanEnded = [this] {
        m_scanning->clear();
        m_scan->setText(tr("Scan"));
    };
    connect(&m_desk.scan, &ScanJob::finished, this, scanEnded);
    connect(&m_desk.scan, &ScanJob::failed, this, scanEnded);
    listChanged();
}

QWidget* FindPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    m_search = new QLineEdit;
    m_search->setObjectName(QStringLiteral("search"));
    m_search->setPlaceholderText(tr("name, maker, kind, or a word of its description"));
    m_search->setAccessibleName(tr("search"));
    m_search->setClearButtonEnabled(true);
    m_search->installEventFilter(this);
    connect(m_search, &QLineEdit::textChanged, &m_desk.processors, &ProcessorModel::search);
    row->addWidget(m_search, 1);
    m_scanning = label({}, "faint");
    row->addWidget(m_scanning);
    m_count = label({}, "figure");
    row->addWidget(m_count);
    m_scan = new Button(tr("Scan"));
    m_scan->setToolTip(tr("look for new and changed processors"));
    connect(m_scan, &QPushButton::clicked, this, [this] {
        if (m_desk.scan.isRunning())
            return m_desk.scan.cancel();
        m_scan->setText(tr("Stop"));
        m_desk.scan.start();
    });
    row->addWidget(m_scan);
    return top;
}

QWidget* FindPage::makeList()
{
    auto* sheet = new Sheet;
    m_stack = new QStackedLayout(sheet);
    m_list = new QTableView;
    m_list->setModel(&m_desk.processors);
    m_list->setItemDelegate(new ProcessorDelegate(m_desk.processors, m_list));
    m_list->setAccessibleName(tr("processors"));
    m_list->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_list->setSelectionMode(QAbstractItemView::SingleSelection);
    m_list->setShowGrid(false);
    m_list->setTabKeyNavigation(false);
    m_list->verticalHeader()->hide();
    m_list->verticalHeader()->setDefaultSectionSize(46);
    m_list->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_list->horizontalHeader()->setHighlightSections(false);
    m_list->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_list->horizontalHeader()->setSectionResizeMode(ProcessorModel::Name, QHeaderView::Stretch);
    for (const auto& [section, width] : {std::pair(ProcessorModel::Kind, 130),
                                         {ProcessorModel::Channels, 110},
                                         {ProcessorModel::Measured, 110}})
        m_list->horizontalHeader()->resizeSection(section, width);
    m_list->installEventFilter(this);
    connect(m_list->selectionModel(), &QItemSelectionModel::selectionChanged, this,
            &FindPage::selectionChanged);
    connect(m_list, &QTableView::doubleClicked, this, [this] { m_desk.listenTo(selectedId()); });
    m_stack->addWidget(m_list);
    m_stack->addWidget(
        new EmptyState(tr("Nothing by that name"),
                       tr("Every word must begin a word of the name, maker, kind, tags or description."), {}));
    return sheet;
}

void FindPage::focusSearch()
{
    m_search->setFocus();
    m_search->selectAll();
}

QString FindPage::searchText() const
{
    return m_search->text();
}

void FindPage::setSearchText(const QString& text)
{
    m_search->setText(text);
}

QString FindPage::selectedId() const
{
    return m_list->currentIndex().data(ProcessorModel::EntryId).toString();
}

void FindPage::select(const QString& id)
{
    const QModelIndex index = m_desk.processors.indexOf(id);
    if (index.isValid()) {
        m_list->setCurrentIndex(index);
        m_list->scrollTo(index);
    }
}

void FindPage::listChanged()
{
    const int shown = m_desk.processors.rowCount();
    m_count->setText(tr("%1 of %2").arg(shown).arg(m_desk.processors.total()));
    m_stack->setCurrentIndex(shown == 0 ? 1 : 0);
    // What was selected stays so while it is still there; otherwise the best match is.
    const QModelIndex kept = m_desk.processors.indexOf(m_particulars->shownId());
    m_list->setCurrentIndex(kept.isValid() ? kept : m_desk.processors.index(0, 0));
    selectionChanged();
}

void FindPage::selectionChanged()
{
    m_particulars->show(selectedId());
}

bool FindPage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
        if (enter && !selectedId().isEmpty()) {
            m_desk.listenTo(selectedId());
            return true;
        }
        if (watched == m_search && key->key() == Qt::Key_Down) {
            m_list->setFocus();
            return true;
        }
        if (watched == m_search && key->key() == Qt::Key_Escape) {
            m_search->clear();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

} // namespace hr::app
