// SPDX-License-Identifier: GPL-3.0-or-later
#include "widgets/keep_menu.h"

#include <QMenu>

namespace hr::app {

std::vector<library::CollectionItem> itemsAsNew(const QStringList& ids)
{
    std::vector<library::CollectionItem> items(static_cast<std::size_t>(ids.size()));
    for (std::size_t i = 0; i < items.size(); ++i)
        items[i].reference = ids[static_cast<qsizetype>(i)];
    return items;
}

void openKeepMenu(Desk& desk, QWidget* at, const WhatToKeep& what)
{
    auto* menu = new QMenu(at);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto keepIn = [&desk, what](qint64 collection, const QString& name) {
        const std::vector<library::CollectionItem> kept = what();
        if (kept.empty())
            return;
        desk.undo.beginMacro(QObject::tr("keep"));
        for (const library::CollectionItem& one : kept)
            desk.keep(one, collection);
        desk.undo.endMacro();
        emit desk.notice(QObject::tr("Kept in “%1”. Ctrl+Z takes it back.").arg(name));
    };
    if (auto all = desk.store->collections.all())
        for (const library::Collection& c : *all)
            if (!c.byRule())
                QObject::connect(menu->addAction(c.name), &QAction::triggered, &desk,
                                 [keepIn, c] { keepIn(c.number, c.name); });
    if (!menu->isEmpty())
        menu->addSeparator();
    QObject::connect(menu->addAction(QObject::tr("A new collection")), &QAction::triggered, &desk,
                     [&desk, keepIn] {
                         auto made = desk.store->collections.insert(QObject::tr("New collection"), {});
                         if (made)
                             keepIn(*made, QObject::tr("New collection"));
                         else
                             emit desk.notice(QString::fromStdString(made.error().text));
                     });
    menu->popup(at->mapToGlobal(QPoint(0, at->height() + 2)));
    if (!menu->actions().isEmpty())
        menu->setActiveAction(menu->actions().first());
}

} // namespace hr::app
