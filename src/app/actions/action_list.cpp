// SPDX-License-Identifier: GPL-3.0-or-later
#include "actions/action_list.h"

#include <algorithm>

namespace hr::app {

ActionList::ActionList(Notices& notices, QObject* parent) : QObject(parent), m_notices(notices) {}

void ActionList::add(Action action)
{
    Q_ASSERT(!find(action.id));
    const QString id = action.id;
    m_actions.push_back(std::move(action));
    emit added(id);
}

const Action* ActionList::find(const QString& id) const
{
    const auto found = std::ranges::find(m_actions, id, &Action::id);
    return found == m_actions.end() ? nullptr : &*found;
}

void ActionList::run(const QString& id)
{
    const Action* action = find(id);
    if (!action)
        return;
    const QString disabledReason = action->disabledReason ? action->disabledReason() : QString();
    if (!disabledReason.isEmpty())
        return m_notices.say(disabledReason);
    action->run();
}

QAction* ActionList::view(const QString& id, QObject* parent)
{
    const Action* action = find(id);
    if (!action)
        return nullptr;
    QString words = action->words;
    words[0] = words[0].toUpper();
    auto* view = new QAction(words, parent);
    view->setShortcut(action->key);
    if (action->is_on) {
        view->setCheckable(true);
        view->setChecked(action->is_on());
    }
    connect(view, &QAction::triggered, this, [this, id] { run(id); });
    return view;
}

QString ActionList::tip(const QString& id) const
{
    const Action* action = find(id);
    if (!action)
        return {};
    const QString key = action->key.toString(QKeySequence::NativeText);
    return key.isEmpty() ? action->words : tr("%1 (%2)").arg(action->words, key);
}

} // namespace hr::app
