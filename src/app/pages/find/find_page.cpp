// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/find_page.h"

#include "pages/find/facet_list.h"
#include "pages/find/particulars.h"
#include "pages/find/processor_delegate.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QStackedLayout>
#include <QTableView>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr int soon_ms = 30;

} // namespace

FindPage::FindPage(Desk& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
{
    setObjectName(QStringLiteral("page"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(20, 16, 20, 12);
    column->setSpacing(12);
    column->addWidget(makeTop());
    auto* row = new QHBoxLayout;
    row->setSpacing(14);
    row->addWidget(makeFacets());
    row->addWidget(makeList(), 1);
    m_particulars = new Particulars(m_desk);
    m_particulars->setFixedWidth(300);
    row->addWidget(m_particulars);
    column->addLayout(row, 1);

    connect(&m_desk.processors, &QAbstractItemModel::modelReset, this, &FindPage::listChanged);
    connect(&m_desk.processors, &QAbstractItemModel::dataChanged, this, [this] {
        m_facets->show(m_desk.processors.found(), m_desk.processors.asked().choices);
        m_soon.start();
    });
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
    m_soon.setSingleShot(true);
    m_soon.setInterval(soon_ms);
    connect(&m_soon, &QTimer::timeout, this, &FindPage::showParticulars);
    listChanged();
    showParticulars();
}

QWidget* FindPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    m_search = new QLineEdit;
    m_search->setObjectName(QStringLiteral("search"));
    m_search->setPlaceholderText(tr("name, maker, kind, tag, note, or a word of its description"));
    m_search->setAccessibleName(tr("search"));
    m_search->setClearButtonEnabled(true);
    m_search->installEventFilter(this);
    connect(m_search, &QLineEdit::textChanged, this,
            [this](const QString& text) { ask(text, m_desk.processors.asked().choices); });
    row->addWidget(m_search, 1);
    m_understood = label({}, "faint");
    row->addWidget(m_understood);
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
    m_list->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_list->setDragEnabled(true);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_list, &QWidget::customContextMenuRequested, this, &FindPage::openMenu);
    m_list->setShowGrid(false);
    m_list->setTabKeyNavigation(false);
    m_list->verticalHeader()->hide();
    m_list->verticalHeader()->setDefaultSectionSize(46);
    m_list->verticalHeader()->setSectionResizeMode(QHeaderView::Fixed);
    m_list->horizontalHeader()->setHighlightSections(false);
    m_list->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_list->horizontalHeader()->setSectionResizeMode(ProcessorModel::Name, QHeaderView::Stretch);
    for (const auto& [section, width] : {std::pair(ProcessorModel::Measured, 176), {ProcessorModel::State, 86}})
        m_list->horizontalHeader()->resizeSection(section, width);
    m_list->installEventFilter(this);
    connect(m_list->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { m_soon.start(); });
    connect(m_list, &QTableView::doubleClicked, this, &FindPage::listenToSelected);
    m_stack->addWidget(m_list);
    m_stack->addWidget(new EmptyState(
        tr("Nothing by that name"),
        tr("Every word must begin a word of the name, maker, kind, tags, note or description, and agree "
           "with what is chosen on the left."),
        {}));
    return sheet;
}

QWidget* FindPage::makeFacets()
{
    auto* box = new QWidget;
    box->setFixedWidth(176);
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* quick = new QHBoxLayout;
    quick->setSpacing(6);
    const auto add = [&](const QString& name, const QString& value, const QKeySequence& key) {
        auto* button = new Button(name);
        button->setCheckable(true);
        button->setShortcut(key);
        button->setToolTip(key.toString(QKeySequence::NativeText));
        connect(button, &QPushButton::clicked, this,
                [this, value] { m_facets->toggle(library::Facet::State, value, false); });
        quick->addWidget(button);
        return button;
    };
    m_favourites = add(tr("Favourites"), QStringLiteral("favourite"), Qt::ALT | Qt::Key_F);
    m_recent = add(tr("Recent"), QStringLiteral("recently used"), Qt::ALT | Qt::Key_R);
    column->addLayout(quick);
    m_facets = new FacetList;
    connect(m_facets, &FacetList::chosen, this,
            [this](const std::vector<library::FacetChoice>& choices) { ask(m_search->text(), choices); });
    column->addWidget(m_facets, 1);
    auto* measure = new Button(tr("Measure these"));
    measure->setToolTip(tr("what is in sight and not measured yet, one after the other in the background"));
    connect(measure, &QPushButton::clicked, this, [this] { m_desk.measureInBackground(visibleIds()); });
    column->addWidget(measure);
    return box;
}

void FindPage::ask(const QString& text, const std::vector<library::FacetChoice>& choices)
{
    library::Asked asked = m_desk.processors.asked();
    asked.text = text;
    asked.choices = choices;
    m_desk.processors.ask(asked);
}

QStringList FindPage::visibleIds() const
{
    QStringList ids;
    const ProcessorModel& model = m_desk.processors;
    const int first = std::max(0, m_list->rowAt(0));
    const int last = m_list->rowAt(m_list->viewport()->height() - 1);
    for (int row = first; row <= (last < 0 ? model.rowCount() - 1 : last); ++row)
        if (!model.pictures(model.index(row, 0)))
            ids << model.index(row, 0).data(ProcessorModel::EntryId).toString();
    return ids;
}

QStringList FindPage::selectedIds() const
{
    QStringList ids;
    for (const QModelIndex& index : m_list->selectionModel()->selectedRows())
        ids << index.data(ProcessorModel::EntryId).toString();
    return ids;
}

void FindPage::listenToSelected()
{
    for (const QString& id : selectedIds())
        m_desk.listenTo(id);
}

void FindPage::openMenu(const QPoint& at)
{
    const QStringList ids = selectedIds();
    if (ids.isEmpty())
        return;
    const bool favourite = m_list->currentIndex().data(ProcessorModel::Favourite).toBool();
    QMenu menu;
    menu.addAction(tr("Listen"), this, &FindPage::listenToSelected);
    menu.addAction(tr("Measure in the background"), this, [this, ids] { m_desk.measureInBackground(ids); });
    menu.addAction(favourite ? tr("No favourite any more") : tr("Favourite"), this, [this, ids, favourite] {
        m_desk.write(ids, tr("favourite"), [favourite](library::Written& w) { w.favourite = !favourite; });
    });
    menu.addAction(tr("Hide or offer again"), this, [this, ids] {
        m_desk.write(ids, tr("hiding"), [](library::Written& w) { w.hidden = !w.hidden; });
    });
    menu.exec(m_list->viewport()->mapToGlobal(at));
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
    const ProcessorModel& model = m_desk.processors;
    const int shown = model.rowCount();
    m_count->setText(tr("%1 of %2").arg(shown).arg(model.total()));
    m_understood->setText(
        model.found().understood_as.isEmpty()
            ? QString()
            : tr("taken for “%1”").arg(model.found().understood_as.mid(0, 2).join(QStringLiteral("”, “"))));
    m_facets->show(model.found(), model.asked().choices);
    const auto wants = [&](const char* value) {
        return std::ranges::find(model.asked().choices,
                                 library::FacetChoice{library::Facet::State, QLatin1String(value), false}) !=
               model.asked().choices.end();
    };
    m_favourites->setChecked(wants("favourite"));
    m_recent->setChecked(wants("recently used"));
    m_stack->setCurrentIndex(shown == 0 ? 1 : 0);
    // What was selected stays so while it is still there; otherwise the best match is.
    const QModelIndex kept = model.indexOf(m_particulars->shownId());
    m_list->setCurrentIndex(kept.isValid() ? kept : model.index(0, 0));
    m_soon.start();
}

void FindPage::showParticulars()
{
    m_soon.stop();
    m_particulars->show(selectedId(), selectedIds());
}

bool FindPage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
        if (enter && !selectedId().isEmpty()) {
            listenToSelected();
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
