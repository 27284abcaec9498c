// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/listen/line_up_menu.h"

#include "pages/listen/listen_services.h"
#include "widgets/ask_file.h"
#include "widgets/name_popup.h"

#include <QMenu>

namespace hr::app {

namespace {

QString filter()
{
    return QObject::tr("Line-ups (*.json)");
}

} // namespace

void saveLineUpAs(const ListenServices& services, QWidget* at)
{
    askName(at, QObject::tr("save the line-up as"), services.saved.name(),
            [&saved = services.saved](const QString& name) { saved.saveAs(name); });
}

void openLineUpMenu(const ListenServices& services, QWidget* at)
{
    SavedLineUps* saved = &services.saved;
    QMenu* menu = menuFor(at);
    const bool named = saved->current() != 0;
    menu->addAction(services.actions.view(QStringLiteral("line-up.save"), menu));
    menu->addAction(QObject::tr("Save as …"), at, [services, at] { saveLineUpAs(services, at); });
    menu->addAction(QObject::tr("Rename …"), at,
                    [services, at] {
                        askName(at, QObject::tr("rename the line-up"), services.saved.name(),
                                [&saved = services.saved](const QString& name) { saved.rename(name); });
                    })
        ->setEnabled(named);
    menu->addAction(QObject::tr("Remove “%1” from the list").arg(saved->name()), saved,
                    [saved] { saved->remove(saved->current()); })
        ->setVisible(named);
    menu->addSeparator();
    for (const library::SavedLineUp& one : saved->all()) {
        QAction* open = menu->addAction(QString(one.name).replace(QLatin1Char('&'), QStringLiteral("&&")),
                                        saved, [saved, row_id = one.row_id] { saved->open(row_id); });
        open->setCheckable(true);
        open->setChecked(one.row_id == saved->current());
    }
    menu->addSeparator();
    menu->addAction(QObject::tr("Export to a file …"), at, [saved, at] {
        askToSave(at, QObject::tr("Export the line-up"), saved->name() + QStringLiteral(".json"), filter(),
                  [saved](const QString& file) { saved->exportTo(file); });
    });
    menu->addAction(QObject::tr("Open a file …"), at, [saved, at] {
        askToOpen(at, QObject::tr("Open a line-up"), filter(),
                  [saved](const QString& file) { saved->import(file); });
    });
    menu->popup(at->mapToGlobal(QPoint(0, at->height())));
}

} // namespace hr::app
