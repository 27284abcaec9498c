// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/keep/keep_page.h"

#include "library/find/rule.h"
#include "pages/keep/kept_line.h"
#include "theme/theme.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"

#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

constexpr std::size_t most_shown = 500;

} // namespace

KeepPage::KeepPage(const Services& services, QWidget* parent) : QWidget(parent), m_services(services)
{
    setObjectName(QStringLiteral("page"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(20, 16, 20, 12);
    row->setSpacing(18);
    row->addWidget(makeCollections());
    auto* right = new QWidget;
    m_stack = new Stack(right);
    m_stack->addWidget(makeItems());
    auto* empty = new EmptyState(
        tr("Nothing kept yet"),
        tr("Here are the processors that earned their place, in collections of your own. Keep one "
           "from Find or Listen, or open a collection somebody gave you."),
        tr("Make a collection"));
    connect(empty, &EmptyState::stepTaken, this, &KeepPage::create);
    m_stack->addWidget(empty);
    row->addWidget(right, 1);
    connect(&m_services.store.changes(), &library::Changes::collectionsChanged, this, &KeepPage::changed);
    connect(&m_services.processors, &ProcessorModel::rulesChanged, this, &KeepPage::changed);
}

/// What is not in sight is filled once it is.
void KeepPage::changed()
{
    m_outdated = true;
    if (isVisible())
        reload();
}

void KeepPage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    if (m_outdated)
        reload();
}

QWidget* KeepPage::makeCollections()
{
    auto* side = new QWidget;
    side->setFixedWidth(230);
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(label(tr("Collections"), "title"));
    m_collections = new QListWidget;
    m_collections->setAccessibleName(tr("collections"));
    connect(m_collections, &QListWidget::currentRowChanged, this, &KeepPage::fillItems);
    column->addWidget(m_collections, 1);
    auto* make = new Button(tr("New collection"));
    connect(make, &QPushButton::clicked, this, &KeepPage::create);
    column->addWidget(make);
    auto* open = new Button(tr("Import from a file"));
    connect(open, &QPushButton::clicked, this, [this] {
        askToOpen(this, tr("Import a collection"), tr("Collections (*.json)"),
                  [this](const QString& file) { importFrom(file); });
    });
    column->addWidget(open);
    return side;
}

QWidget* KeepPage::makeItems()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* top = new QHBoxLayout;
    m_name = new QLineEdit;
    m_name->setAccessibleName(tr("name of the collection"));
    m_name->setFont(Theme::words(Theme::heading_px, QFont::DemiBold));
    connect(m_name, &QLineEdit::editingFinished, this, &KeepPage::rename);
    top->addWidget(m_name, 1);
    auto* save = new Button(tr("Export"));
    connect(save, &QPushButton::clicked, this, [this] {
        askToSave(this, tr("Export the collection"), m_name->text() + QStringLiteral(".json"),
                  tr("Collections (*.json)"), [this, collection = current()](const QString& file) {
                      m_services.keeping.exportTo(collection, file);
                  });
    });
    top->addWidget(save);
    auto* remove = new Button(tr("Remove"));
    connect(remove, &QPushButton::clicked, this, [this] {
        if (current().row_id != 0)
            m_services.keeping.remove(current());
    });
    top->addWidget(remove);
    column->addLayout(top);
    auto* sheet = new Sheet;
    auto* inside = new QVBoxLayout(sheet);
    inside->setContentsMargins(4, 4, 4, 4);
    m_items = new QListWidget;
    m_items->setAccessibleName(tr("what is in the collection"));
    m_items->setSelectionMode(QAbstractItemView::NoSelection);
    m_items->setFocusPolicy(Qt::NoFocus);
    inside->addWidget(m_items);
    column->addWidget(sheet, 1);
    return box;
}

library::Collection KeepPage::current() const
{
    const QListWidgetItem* item = m_collections->currentItem();
    const qint64 id = item ? item->data(Qt::UserRole).toLongLong() : 0;
    const auto found = std::ranges::find(m_all, id, &library::Collection::row_id);
    return found == m_all.end() ? library::Collection() : *found;
}

void KeepPage::makeCurrent(qint64 collection)
{
    for (int i = 0; i < m_collections->count(); ++i)
        if (m_collections->item(i)->data(Qt::UserRole).toLongLong() == collection)
            m_collections->setCurrentRow(i);
}

void KeepPage::reload()
{
    const qint64 kept = current().row_id;
    auto all = m_services.store.collections.all();
    if (!m_services.notices.succeeded(all))
        return;
    m_outdated = false;
    m_all = std::move(*all);
    const QSignalBlocker quiet(m_collections);
    m_collections->clear();
    for (const library::Collection& c : m_all) {
        auto* item = new QListWidgetItem(c.byRule() ? tr("%1   by rule").arg(c.name)
                                                    : tr("%1   %2").arg(c.name).arg(c.items),
                                         m_collections);
        if (const auto asked = library::queryFromRule(c.rule))
            item->setToolTip(tr("keeps itself up to date: %1").arg(inWords(*asked)));
        item->setData(Qt::UserRole, c.row_id);
        item->setSizeHint(QSize(0, 30));
    }
    makeCurrent(kept);
    if (!m_collections->currentItem() && m_collections->count() > 0)
        m_collections->setCurrentRow(0);
    fillItems();
}

/// Of one by rule those that it finds at the moment.
Result<std::vector<library::CollectionItem>> KeepPage::itemsOf(const library::Collection& collection) const
{
    if (!collection.byRule())
        return m_services.store.collections.items(collection.row_id);
    std::vector<library::CollectionItem> items;
    const auto asked = library::queryFromRule(collection.rule);
    const library::Finder& finder = m_services.processors.finder();
    const auto found = finder.matching(asked.value_or(library::Query()));
    for (std::size_t i = 0; i < found.size() && items.size() < most_shown; ++i)
        if (found[i]) {
            items.emplace_back();
            items.back().reference = finder.entries()[i].id;
        }
    return items;
}

void KeepPage::fillItems()
{
    m_items->clear();
    const library::Collection shown = current();
    m_stack->setCurrentIndex(shown.row_id == 0 ? 1 : 0);
    if (shown.row_id == 0)
        return;
    m_name->setText(shown.name);
    auto items = itemsOf(shown);
    if (!m_services.notices.succeeded(items))
        return;
    for (const library::CollectionItem& item : *items) {
        auto* line = new KeptLine(m_services.store, m_services.routes, item);
        const int position = m_items->count();
        connect(
            line, &KeptLine::takenAway, this,
            [this, item, position, collection = shown.row_id] {
                m_services.keeping.take(item, collection, position);
            },
            Qt::QueuedConnection);
        auto* row = new QListWidgetItem(m_items);
        row->setSizeHint(QSize(0, 52));
        m_items->setItemWidget(row, line);
    }
}

void KeepPage::create()
{
    const qint64 made = m_services.keeping.create();
    makeCurrent(made);
    m_name->setFocus();
    m_name->selectAll();
}

void KeepPage::rename()
{
    const library::Collection shown = current();
    if (shown.row_id != 0 && m_name->text() != shown.name)
        m_services.keeping.rename(shown.row_id, m_name->text());
    m_name->setText(current().name);
}

void KeepPage::importFrom(const QString& file)
{
    if (const qint64 made = m_services.keeping.importFrom(file)) {
        makeCurrent(made);
        m_services.notices.say(tr("“%1” is imported.").arg(current().name));
    }
}

} // namespace hr::app
