// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/find_page.h"

#include "library/find/rule.h"
#include "pages/find/details_panel.h"
#include "pages/find/facet_list.h"
#include "pages/find/fault_search_sheet.h"
#include "pages/find/folders_sheet.h"
#include "pages/find/found_list.h"
#include "pages/find/map_sheet.h"
#include "pages/find/map_view.h"
#include "pages/find/selected_actions.h"
#include "pages/find/working_set_button.h"
#include "pages/keep/keep_menu.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/name_popup.h"

#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QVBoxLayout>
#include <cmath>

namespace hr::app {

namespace {

constexpr int soon_ms = 80;

/// What stands in the place of the list.
enum Place { List, Folders, FaultSearch, Map };

} // namespace

FindPage::FindPage(const FindServices& services, QWidget* parent)
    : QWidget(parent), m_services(services), m_soon(soon_ms, [this] { showParticulars(); })
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
    m_details = new DetailsPanel(m_services);
    m_details->setFixedWidth(300);
    connect(m_details, &DetailsPanel::chosen, this, &FindPage::select);
    row->addWidget(m_details);
    column->addLayout(row, 1);

    connect(&m_services.processors, &QAbstractItemModel::modelReset, this, &FindPage::listChanged);
    connect(&m_services.processors, &QAbstractItemModel::dataChanged, this, [this] {
        m_facets->show(m_services.processors.found(), m_services.processors.asked().choices);
        m_others_known = true;
        m_soon.start();
    });
    connect(&m_services.scan, &ScanJob::progress, this, [this](int done, int of, const QString& bundle) {
        m_scanning->setText(
            tr("trying %1 of %2: %3").arg(done).arg(of).arg(bundle.section(QLatin1Char('/'), -1)));
    });
    const auto scanEnded = [this] {
        m_scanning->clear();
        m_scan->setText(tr("Scan"));
    };
    connect(&m_services.scan, &ScanJob::finished, this, scanEnded);
    connect(&m_services.scan, &ScanJob::failed, this, scanEnded);
    addActions();
    listChanged();
    showParticulars();
}

QWidget* FindPage::makeTop()
{
    auto* top = new QWidget;
    auto* row = new QHBoxLayout(top);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    m_search = new QLineEdit;
    m_search->setObjectName(QStringLiteral("search"));
    m_search->setPlaceholderText(tr("name, maker, kind, tag, note, or a word of its description"));
    m_search->setAccessibleName(tr("search"));
    m_search->setClearButtonEnabled(true);
    m_search->installEventFilter(this);
    connect(m_search, &QLineEdit::textChanged, this, [this](const QString& text) {
        showFound();
        ask(text, m_services.processors.asked().choices);
    });
    row->addWidget(m_search, 1);
    m_understood = label({}, "faint");
    row->addWidget(m_understood);
    m_scanning = label({}, "faint");
    row->addWidget(m_scanning);
    m_count = label({}, "figure");
    row->addWidget(m_count);
    m_order = new Button({});
    m_order->setAccessibleName(tr("order of the list"));
    m_order->setToolTip(tr("in which order they are listed"));
    connect(m_order, &QPushButton::clicked, this, &FindPage::openOrderMenu);
    row->addWidget(m_order);
    row->addWidget(new WorkingSetButton(m_services, [this] { return selectedIds(); }));
    m_scan = new Button(tr("Scan"));
    m_scan->setToolTip(tr("look for new and changed processors"));
    connect(m_scan, &QPushButton::clicked, this, [this] {
        if (m_services.scan.isRunning())
            return m_services.scan.cancel();
        m_scan->setText(tr("Stop"));
        m_services.scan.start();
    });
    row->addWidget(m_scan);
    return top;
}

QWidget* FindPage::makeList()
{
    auto* sheet = new Sheet;
    m_stack = new Stack(sheet);
    m_list = new FoundList(m_services.processors);
    connect(m_list, &QTableView::pressed, this, [this] { m_awaited.clear(); }); // another is wanted now
    connect(&m_services.jobs, &Jobs::changed, this, &FindPage::showUnderWay);
    connect(m_list, &FoundList::askInstead, this, [this](const library::Query& asked) {
        ask(asked.text, asked.choices);
        const QSignalBlocker asked_already(m_search);
        m_search->setText(asked.text);
    });
    connect(m_list, &QWidget::customContextMenuRequested, this, &FindPage::openMenu);
    m_list->installEventFilter(this);
    connect(m_list->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
        m_soon.start();
        if (m_map && m_map->isVisible())
            m_map->setSelected(selectedIds());
    });
    connect(m_list, &QTableView::doubleClicked, this, [this] { m_services.routes.listenTo(selectedIds()); });
    m_stack->addWidget(m_list);
    m_folders = new FoldersSheet(m_services);
    connect(m_folders, &FoldersSheet::done, this, &FindPage::showList);
    m_stack->addWidget(m_folders);
    m_fault_search = new FaultSearchSheet(m_services);
    connect(m_fault_search, &FaultSearchSheet::done, this, &FindPage::showList);
    connect(m_fault_search, &FaultSearchSheet::show, this, [this](const QString& id) {
        showList();
        setSearchText({});
        select(id);
    });
    m_stack->addWidget(m_fault_search);
    m_map = new MapSheet(m_services);
    connect(m_map, &MapSheet::done, this, &FindPage::showList);
    connect(m_map, &MapSheet::chosen, this, [this](const QStringList& ids) { m_list->selectAll(ids); });
    m_stack->addWidget(m_map);
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
    m_favourites = toggle(tr("Favourites"), tr("Alt+F"));
    m_recent = toggle(tr("Recent"), tr("recently used: Alt+R"));
    connect(m_favourites, &QPushButton::clicked, this, &FindPage::toggleFavourites);
    connect(m_recent, &QPushButton::clicked, this, &FindPage::toggleRecent);
    quick->addWidget(m_favourites);
    quick->addWidget(m_recent);
    column->addLayout(quick);
    m_facets = new FacetList;
    connect(m_facets, &FacetList::chosen, this, [this](const std::vector<library::FacetChoice>& choices) {
        showFound();
        ask(m_search->text(), choices);
    });
    column->addWidget(m_facets, 1);
    const auto add = [&](const QString& name, const QString& tip, const std::function<void()>& work) {
        auto* button = new Button(name);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, work);
        column->addWidget(button);
        return button;
    };
    add(tr("Measure these"), tr("what is in sight and not measured yet, one after the other in the background"),
        [this] { measureInSight(); });
    m_keep_search = add(tr("Keep this search"), tr("as a collection that keeps itself up to date"), [this] {
        const library::Query asked = m_services.processors.asked();
        askName(m_keep_search, tr("name of the collection"), inWords(asked),
                [this, asked](const QString& name) { m_services.keeping.keepSearch(asked, name); });
    });
    add(tr("Map"), tr("all that is measured, as a sheet on which what behaves alike lies together: Alt+M"),
        [this] { m_services.actions.run(QStringLiteral("find.map")); });
    add(tr("Folders"), tr("where a scan looks"), [this] { showFolders(); });
    add(tr("Find the faulty one"), tr("the one that only breaks things in company"),
        [this] { showFaultSearch(); });
    return box;
}

void FindPage::ask(const QString& text, const std::vector<library::FacetChoice>& choices)
{
    library::Query asked = m_services.processors.asked();
    asked.text = text;
    asked.choices = choices;
    m_services.processors.ask(asked);
}

void FindPage::openOrderMenu()
{
    QMenu* menu = menuFor(this);
    for (const library::Order& order : library::allOrders()) {
        QAction* action = menu->addAction(word(order), this, [this, order] {
            library::Query asked = m_services.processors.asked();
            asked.order = order;
            m_services.processors.ask(asked);
        });
        action->setCheckable(true);
        action->setChecked(m_services.processors.asked().order == order);
        if (order.by == library::Order::Rating)
            menu->addSeparator(); // figures from here on
    }
    menu->popup(m_order->mapToGlobal(QPoint(0, m_order->height() + 2)));
}

void FindPage::toggleFavourites()
{
    m_facets->toggle(library::Facet::State, QStringLiteral("favourite"), false);
}

void FindPage::toggleRecent()
{
    m_facets->toggle(library::Facet::State, QStringLiteral("recently used"), false);
}

void FindPage::showFolders()
{
    m_folders->reload();
    m_stack->setCurrentIndex(Folders);
}

void FindPage::showFaultSearch()
{
    // One that fails alone is not a suspect: it would end every search at once.
    QStringList well;
    const ProcessorModel& model = m_services.processors;
    for (int row = 0; row < model.rowCount(); ++row)
        if (const library::Entry* entry = model.entry(model.index(row, 0));
            entry && entry->state != library::State::Quarantined)
            well << entry->id;
    m_fault_search->setSuspects(well, model.rowCount() - static_cast<int>(well.size()));
    m_stack->setCurrentIndex(FaultSearch);
}

void FindPage::showMap()
{
    m_map->reload();
    m_map->setSelected(selectedIds());
    m_stack->setCurrentIndex(Map);
    m_map->view()->setFocus();
}

/// The list, unless the map shows what is found.
void FindPage::showFound()
{
    if (m_stack->currentIndex() != Map)
        showList();
}

void FindPage::showList()
{
    m_stack->setCurrentIndex(List);
}

void FindPage::showPart(int part)
{
    showParticulars();
    m_details->showPart(part);
}

QStringList FindPage::selectedIds() const
{
    return m_list->selectedIds();
}

void FindPage::measureInSight()
{
    m_services.bench.measureInBackground(m_list->unmeasuredInSight());
}

void FindPage::keepSelected()
{
    if (selectedIds().isEmpty())
        return;
    openKeepMenu(m_services.keeping, m_services.notices, m_list,
                 [this] { return itemsAtDefaults(selectedIds()); });
}

void FindPage::addActions()
{
    m_services.actions.add({QStringLiteral("find.map"),
                            tr("see all that is measured as a map, or the list"),
                            tr("Find"),
                            Qt::ALT | Qt::Key_M,
                            [this] { m_stack->currentIndex() == Map ? showList() : showMap(); },
                            {},
                            [this] { return m_stack && m_stack->currentIndex() == Map; }});
    addSelectedActions(
        m_services, [this] { return selectedIds(); }, [this] { keepSelected(); });
    m_services.actions.add({QStringLiteral("find.favourites"),
                            tr("show favourites only, or all"),
                            tr("Find"),
                            Qt::ALT | Qt::Key_F,
                            [this] { toggleFavourites(); },
                            {},
                            [this] { return m_favourites->isChecked(); }});
    m_services.actions.add({QStringLiteral("find.recent"),
                            tr("show recently used only, or all"),
                            tr("Find"),
                            Qt::ALT | Qt::Key_R,
                            [this] { toggleRecent(); },
                            {},
                            [this] { return m_recent->isChecked(); }});
    m_services.actions.add(
        {QStringLiteral("find.scan"), tr("look for new and changed processors"), tr("Find"), {}, [this] {
             m_scan->click();
         }});
    m_services.actions.add(
        {QStringLiteral("find.faulty-one"), tr("find the faulty one"), tr("Find"), {}, [this] {
             showFaultSearch();
         }});
}

void FindPage::openMenu(const QPoint& at)
{
    if (selectedIds().isEmpty())
        return;
    QMenu* menu = menuFor(this);
    addSelectedTo(*menu, m_services.actions);
    menu->popup(m_list->viewport()->mapToGlobal(at));
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
    const QModelIndex index = m_services.processors.indexOf(id);
    if (index.isValid()) {
        m_list->makeCurrent(index);
        m_list->scrollTo(index);
    }
    m_awaited = index.isValid() ? QString() : id;
}

/// Before the first scan has ended there is nothing to list: what goes on is said in its place.
void FindPage::showUnderWay()
{
    QStringList names;
    if (m_services.processors.total() == 0)
        for (const Jobs::Listed& job : m_services.jobs.list())
            names << (job.running && job.progress > 0
                          ? tr("%1: %2 %").arg(job.title).arg(std::lround(100 * job.progress))
                          : job.title);
    m_list->setUnderWay(names);
}

void FindPage::listChanged()
{
    const ProcessorModel& model = m_services.processors;
    showUnderWay();
    m_map->follow();
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
    m_order->setText(tr("By %1").arg(word(model.asked().order)));
    m_keep_search->setEnabled(!model.asked().isEverything());
    m_others_known = m_others_known || model.asked() == m_asked;
    m_asked = model.asked();
    // What was selected stays so while it is still there; otherwise the best match is.
    const QModelIndex awaited = model.indexOf(m_awaited);
    const QModelIndex kept = awaited.isValid() ? awaited : model.indexOf(m_details->shownId());
    m_list->makeCurrent(kept.isValid() ? kept : model.index(0, 0));
    if (awaited.isValid()) {
        m_list->scrollTo(awaited);
        m_awaited.clear();
    }
    m_soon.start();
}

void FindPage::showParticulars()
{
    m_soon.stop();
    m_details->show(selectedId(), selectedIds(), std::exchange(m_others_known, false));
}

bool FindPage::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::KeyPress) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
        if (enter && !selectedId().isEmpty()) {
            m_services.routes.listenTo(selectedIds());
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
