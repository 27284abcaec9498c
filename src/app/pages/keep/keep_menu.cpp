// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/keep/keep_menu.h"

#include "widgets/ask_file.h"

#include <QMenu>

namespace hr::app {

std::vector<library::CollectionItem> itemsAtDefaults(const QStringList& ids)
{
    std::vector<library::CollectionItem> items(static_cast<std::size_t>(ids.size()));
    for (std::size_t i = 0; i < items.size(); ++i)
        items[i].reference = ids[static_cast<qsizetype>(i)];
    return items;
}

void openKeepMenu(Keeping& keeping, Notices& notices, QWidget* at, const WhatToKeep& what)
{
    QMenu* menu = menuFor(at);
    const auto keepIn = [&keeping, &notices, what](qint64 collection, const QString& name) {
        const std::vector<library::CollectionItem> kept = what();
        if (kept.empty())
            return;
        keeping.keep(kept, collection);
        notices.say(QObject::tr("Kept in “%1”. Ctrl+Z takes it back.").arg(name));
    };
    for (const library::Collection& c : keeping.byHand())
        QObject::connect(menu->addAction(c.name), &QAction::triggered, &keeping,
                         [keepIn, c] { keepIn(c.row_id, c.name); });
    if (!menu->isEmpty())
        menu->addSeparator();
    QObject::connect(menu->addAction(QObject::tr("A new collection")), &QAction::triggered, &keeping,
                     [&keeping, keepIn] {
                         if (const qint64 made = keeping.create())
                             keepIn(made, QObject::tr("New collection"));
                     });
    menu->popup(at->mapToGlobal(QPoint(0, at->height() + 2)));
    if (!menu->actions().isEmpty())
        menu->setActiveAction(menu->actions().first());
}

} // namespace hr::app
