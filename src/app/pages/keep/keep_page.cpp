// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/keep/keep_page.h"

#include "exchange/collection_file.h"
#include "library/find/rule.h"
#include "pages/keep/kept_line.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QUndoCommand>
#include <QVBoxLayout>

namespace hr::app {

namespace {

constexpr std::size_t most_shown = 500;

void report(Desk& desk, const Error& error)
{
    emit desk.notice(QString::fromStdString(error.text));
}

class RemoveItemCommand : public QUndoCommand {
public:
    RemoveItemCommand(Desk& desk, qint64 collection, library::CollectionItem item, int position)
        : QUndoCommand(QObject::tr("remove from the collection")), m_desk(desk), m_collection(collection),
          m_item(std::move(item)), m_position(position)
    {
    }
    void redo() override
    {
        if (auto removed = m_desk.store->collections.removeItem(m_item.number); !removed)
            report(m_desk, removed.error());
        emit m_desk.collectionsChanged();
    }
    void undo() override
    {
        auto added = m_desk.store->collections.add(m_collection, m_item, m_position);
        if (added)
            m_item.number = *added;
        else
            report(m_desk, added.error());
        emit m_desk.collectionsChanged();
    }

private:
    Desk& m_desk;
    qint64 m_collection;
    library::CollectionItem m_item;
    int m_position;
};

/// The whole collection goes, and comes back whole.
class RemoveCollectionCommand : public QUndoCommand {
public:
    RemoveCollectionCommand(Desk& desk, qint64 collection, QString name)
        : QUndoCommand(QObject::tr("remove “%1”").arg(name)), m_desk(desk), m_collection(collection),
          m_name(std::move(name))
    {
    }
    void redo() override
    {
        if (auto items = m_desk.store->collections.items(m_collection))
            m_items = std::move(*items);
        if (auto all = m_desk.store->collections.all())
            for (const library::Collection& c : *all)
                if (c.number == m_collection)
                    m_rule = c.rule;
        if (auto removed = m_desk.store->collections.remove(m_collection); !removed)
            report(m_desk, removed.error());
        emit m_desk.collectionsChanged();
    }
    void undo() override
    {
        auto made = m_desk.store->collections.insert(m_name, m_items, m_rule);
        if (made)
            m_collection = *made;
        else
            report(m_desk, made.error());
        emit m_desk.collectionsChanged();
    }

private:
    Desk& m_desk;
    qint64 m_collection;
    QString m_name, m_rule;
    std::vector<library::CollectionItem> m_items;
};

} // namespace

KeepPage::KeepPage(Desk& desk, QWidget* parent) : QWidget(parent), m_desk(desk)
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
    connect(&m_desk, &Desk::collectionsChanged, this, &KeepPage::reload);
    connect(&m_desk.processors, &QAbstractItemModel::modelReset, this, &KeepPage::fillItems);
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
        const QString file =
            QFileDialog::getOpenFileName(this, tr("Import a collection"), {}, tr("Collections (*.json)"));
        if (!file.isEmpty())
            importFrom(file);
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
        const QString file =
            QFileDialog::getSaveFileName(this, tr("Export the collection"),
                                         m_name->text() + QStringLiteral(".json"), tr("Collections (*.json)"));
        if (!file.isEmpty())
            exportTo(file);
    });
    top->addWidget(save);
    auto* remove = new Button(tr("Remove"));
    connect(remove, &QPushButton::clicked, this, &KeepPage::removeCurrent);
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

qint64 KeepPage::current() const
{
    const QListWidgetItem* item = m_collections->currentItem();
    return item ? item->data(Qt::UserRole).toLongLong() : 0;
}

void KeepPage::reload()
{
    const qint64 kept = current();
    auto all = m_desk.store->collections.all();
    if (!all)
        return report(m_desk, all.error());
    const QSignalBlocker quiet(m_collections);
    m_collections->clear();
    for (const library::Collection& c : *all) {
        auto* item = new QListWidgetItem(c.byRule() ? tr("%1   by rule").arg(c.name)
                                                    : tr("%1   %2").arg(c.name).arg(c.items),
                                         m_collections);
        if (const auto asked = library::askedFromRule(c.rule))
            item->setToolTip(tr("keeps itself up to date: %1").arg(inWords(*asked)));
        item->setData(Qt::UserRole, c.number);
        item->setSizeHint(QSize(0, 30));
        if (c.number == kept)
            m_collections->setCurrentItem(item);
    }
    if (!m_collections->currentItem() && m_collections->count() > 0)
        m_collections->setCurrentRow(0);
    fillItems();
}

/// Of one by rule those that it finds at the moment.
Result<std::vector<library::CollectionItem>> KeepPage::itemsOf(qint64 collection) const
{
    const auto& rules = m_desk.processors.rules().collections;
    const auto rule = std::ranges::find(rules, collection, &library::Collection::number);
    if (rule == rules.end())
        return m_desk.store->collections.items(collection);
    std::vector<library::CollectionItem> items;
    const auto asked = library::askedFromRule(rule->rule);
    const library::Finder& finder = m_desk.processors.finder();
    const auto found = finder.matching(asked.value_or(library::Asked()));
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
    m_stack->setCurrentIndex(current() == 0 ? 1 : 0);
    if (current() == 0)
        return;
    m_name->setText(m_collections->currentItem()->text().section(QStringLiteral("   "), 0, 0));
    auto items = itemsOf(current());
    if (!items)
        return report(m_desk, items.error());
    for (const library::CollectionItem& item : *items) {
        auto* line = new KeptLine(m_desk, item);
        const int position = m_items->count();
        connect(
            line, &KeptLine::takenAway, this, [this, item, position] { removeItem(item, position); },
            Qt::QueuedConnection);
        auto* row = new QListWidgetItem(m_items);
        row->setSizeHint(QSize(0, 52));
        m_items->setItemWidget(row, line);
    }
}

void KeepPage::create()
{
    auto made = m_desk.store->collections.insert(tr("New collection"), {});
    if (!made)
        return report(m_desk, made.error());
    reload();
    for (int i = 0; i < m_collections->count(); ++i)
        if (m_collections->item(i)->data(Qt::UserRole).toLongLong() == *made)
            m_collections->setCurrentRow(i);
    m_name->setFocus();
    m_name->selectAll();
}

void KeepPage::rename()
{
    if (current() == 0)
        return;
    if (auto renamed = m_desk.store->collections.rename(current(), m_name->text()); !renamed)
        report(m_desk, renamed.error());
    reload();
}

void KeepPage::removeCurrent()
{
    if (current() != 0)
        m_desk.undo.push(new RemoveCollectionCommand(m_desk, current(), m_name->text()));
}

void KeepPage::removeItem(const library::CollectionItem& item, int position)
{
    m_desk.undo.push(new RemoveItemCommand(m_desk, current(), item, position));
}

void KeepPage::exportTo(const QString& file)
{
    if (auto done = exchange::exportCollection(*m_desk.store, current(), file.toStdString()); !done)
        report(m_desk, done.error());
    else
        emit m_desk.notice(tr("“%1” is written to %2.").arg(m_name->text(), file));
}

void KeepPage::importFrom(const QString& file)
{
    auto made = exchange::importCollection(*m_desk.store, file.toStdString());
    if (!made)
        return report(m_desk, made.error());
    reload();
    for (int i = 0; i < m_collections->count(); ++i)
        if (m_collections->item(i)->data(Qt::UserRole).toLongLong() == *made)
            m_collections->setCurrentRow(i);
    emit m_desk.notice(tr("“%1” is imported.").arg(m_name->text()));
}

} // namespace hr::app
