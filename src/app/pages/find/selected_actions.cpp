// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/selected_actions.h"

#include <QMenu>
#include <algorithm>

namespace hr::app {

void addSelectedActions(const FindServices& services, const std::function<QStringList()>& selected,
                        const std::function<void()>& keep)
{
    const auto nothing = [selected] {
        return selected().isEmpty() ? QObject::tr("Nothing is selected on Find: choose a processor first.")
                                    : QString();
    };
    const auto single = [selected] {
        return selected().size() < 2 ? QObject::tr("Choose several builds on Find first, with Ctrl and clicks.")
                                     : QString();
    };
    const auto allOf = [selected, store = &services.store](bool library::Entry::*state) {
        const QStringList ids = selected();
        return !ids.isEmpty() && std::ranges::all_of(ids, [&](const QString& id) {
            auto entry = store->catalogue.entry(id);
            return entry && *entry.*state;
        });
    };
    const auto add = [&services, &selected](const char* id, const QString& words, const QKeySequence& key,
                                            const std::function<void(const QStringList&)>& work,
                                            const std::function<QString()>& disabledReason,
                                            const std::function<bool()>& is_on = {}) {
        services.actions.add({QLatin1String("selected.") + QLatin1String(id), words,
                              QObject::tr("What is selected on Find"), key,
                              [selected, work] { work(selected()); }, disabledReason, is_on});
    };
    add(
        "listen", QObject::tr("listen"), {},
        [routes = &services.routes](const QStringList& ids) { routes->listenTo(ids); }, nothing);
    add(
        "measure", QObject::tr("measure in the background"), Qt::CTRL | Qt::Key_M,
        [bench = &services.bench](const QStringList& ids) { bench->measureInBackground(ids); }, nothing);
    add(
        "build", QObject::tr("build with it"), Qt::CTRL | Qt::Key_B,
        [routes = &services.routes](const QStringList& ids) { routes->build(ids); }, nothing);
    add(
        "keep", QObject::tr("keep"), Qt::CTRL | Qt::Key_D, [keep](const QStringList&) { keep(); }, nothing);
    add(
        "favourite", QObject::tr("favourite"), {},
        [notebook = &services.notebook, allOf](const QStringList& ids) {
            notebook->write(
                ids, QObject::tr("favourite"),
                [on = !allOf(&library::Entry::favourite)](library::Written& w) { w.favourite = on; });
        },
        nothing, [allOf] { return allOf(&library::Entry::favourite); });
    add(
        "hidden", QObject::tr("hidden"), {},
        [notebook = &services.notebook, allOf](const QStringList& ids) {
            notebook->write(ids, QObject::tr("hiding"),
                            [on = !allOf(&library::Entry::hidden)](library::Written& w) { w.hidden = on; });
        },
        nothing, [allOf] { return allOf(&library::Entry::hidden); });
    add(
        "join", QObject::tr("builds of one processor"), {},
        [notebook = &services.notebook](const QStringList& ids) { notebook->joinBuilds(ids); }, single);
}

void addSelectedTo(QMenu& menu, ActionList& actions)
{
    for (const char* id : {"listen", "measure", "build", "keep", "", "favourite", "hidden", "join"})
        if (QAction* action = actions.view(QLatin1String("selected.") + QLatin1String(id), &menu))
            menu.addAction(action);
        else
            menu.addSeparator();
}

} // namespace hr::app
