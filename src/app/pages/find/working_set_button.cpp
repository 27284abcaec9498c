// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/find/working_set_button.h"

#include "library/find/rule.h"
#include "widgets/ask_file.h"
#include "widgets/name_popup.h"

#include <QMenu>
#include <algorithm>

namespace hr::app {

using library::WorkingSet;

WorkingSetButton::WorkingSetButton(const FindServices& services, std::function<QStringList()> selected,
                                   QWidget* parent)
    : Button({}, parent), m_services(services), m_selected(std::move(selected))
{
    setToolTip(tr("the working set: which processors are offered at all"));
    setAccessibleName(tr("working set"));
    connect(this, &QPushButton::clicked, this, &WorkingSetButton::openMenu);
    connect(&m_services.processors, &ProcessorModel::rulesChanged, this, &WorkingSetButton::showInUse);
    showInUse();
}

void WorkingSetButton::showInUse()
{
    const library::Rules& rules = m_services.processors.rules();
    const auto found = std::ranges::find(rules.sets, rules.in_use, &WorkingSet::row_id);
    const QString name = found == rules.sets.end() ? tr("everything") : found->name;
    setText(tr("Offered: %1").arg(fontMetrics().elidedText(name, Qt::ElideRight, 110)));
}

void WorkingSetButton::openMenu()
{
    const library::Rules& rules = m_services.processors.rules();
    QMenu* menu = menuFor(this);
    const auto choice = [&](const QString& name, qint64 row_id) {
        QAction* action = menu->addAction(name, this, [this, row_id] { m_services.notebook.useSet(row_id); });
        action->setCheckable(true);
        action->setChecked(rules.in_use == row_id);
    };
    choice(tr("Everything"), 0);
    for (const WorkingSet& set : rules.sets)
        choice(set.name, set.row_id);
    menu->addSeparator();
    addMaking(*menu);
    const auto in_use = std::ranges::find(rules.sets, rules.in_use, &WorkingSet::row_id);
    if (in_use != rules.sets.end()) {
        menu->addSeparator();
        menu->addAction(tr("Rename “%1”").arg(in_use->name), this, [this, set = *in_use] {
            askName(this, tr("name of the working set"), set.name, [this, set](const QString& name) {
                WorkingSet renamed = set;
                renamed.name = name;
                m_services.notebook.putSet(renamed);
            });
        });
        menu->addAction(tr("Add what is selected"), this, [this, set = *in_use] {
            WorkingSet more = set;
            for (const QString& id : m_selected())
                more.all_but ? static_cast<void>(more.ids.removeAll(id)) : static_cast<void>(more.ids << id);
            m_services.notebook.putSet(more);
        });
        menu->addAction(tr("Remove “%1”").arg(in_use->name), this,
                        [this, set = *in_use] { m_services.notebook.removeSet(set); });
    }
    menu->popup(mapToGlobal(QPoint(0, height() + 2)));
}

void WorkingSetButton::addMaking(QMenu& menu)
{
    const QStringList ids = m_selected();
    const library::Query asked = m_services.processors.asked();
    if (!ids.isEmpty()) {
        menu.addAction(tr("Only the %n selected", nullptr, static_cast<int>(ids.size())), this, [this, ids] {
            makeNamed(tr("Chosen by hand"), {0, {}, {}, ids, false});
        });
        menu.addAction(tr("All but the %n selected", nullptr, static_cast<int>(ids.size())), this, [this, ids] {
            makeNamed(tr("All but some"), {0, {}, {}, ids, true});
        });
    }
    if (!asked.isEverything()) {
        menu.addAction(tr("Only what this search finds"), this, [this, asked] {
            makeNamed(inWords(asked), {0, {}, asked, {}, false});
        });
        menu.addAction(tr("All but what this search finds"), this, [this, asked] {
            makeNamed(tr("All but %1").arg(inWords(asked)), {0, {}, asked, {}, true});
        });
    }
}

void WorkingSetButton::makeNamed(const QString& proposed, const WorkingSet& set)
{
    askName(this, tr("name of the working set"), proposed, [this, set](const QString& name) {
        WorkingSet named = set;
        named.name = name;
        if (const qint64 row_id = m_services.notebook.putSet(named))
            m_services.notebook.useSet(row_id);
    });
}

} // namespace hr::app
