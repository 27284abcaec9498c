// SPDX-License-Identifier: GPL-3.0-or-later
//
// What one can do, declared once: keys, menus, buttons, Ctrl+K and the list of keys (F1) are views of this. An
// id is for life, so that pads and OSC can hold on to it.
//
//     actions.add({"play", tr("play or pause"), tr("Hearing"), Qt::Key_Space, [&] { … }});
#pragma once

#include "actions/notices.h"

#include <QAction>
#include <QKeySequence>
#include <QWidget>
#include <functional>
#include <vector>

namespace hr::app {

struct Action {
    QString id;    ///< "play", "hear.3", "find.measure-selected"
    QString words; ///< lower case, as it would follow "to": "play or pause"
    QString group; ///< "Hearing": where it stands in lists
    QKeySequence key;
    std::function<void()> run;
    /// Why it cannot be done now, as a sentence with what to do; empty where it can. None: it always can.
    std::function<QString()> disabledReason = {};
    /// Whether it is on, of those that have two states.
    std::function<bool()> is_on = {};
    /// Where its key holds: within this; null: everywhere.
    QWidget* place = nullptr;
};

class ActionList : public QObject {
    Q_OBJECT
public:
    ActionList(Notices& notices, QObject* parent = nullptr);

    /// Its id must be new.
    void add(Action action);
    const std::vector<Action>& all() const { return m_actions; }
    const Action* find(const QString& id) const;

    /// Does it or, where it cannot be done, says why.
    void run(const QString& id);
    /// For a menu, a button or a window: its words and key, its state as it is now.
    QAction* view(const QString& id, QObject* parent);
    /// What a button that does it says in its tool tip: "what it does (key)".
    QString tip(const QString& id) const;

signals:
    void added(const QString& id);

private:
    Notices& m_notices;
    std::vector<Action> m_actions;
};

} // namespace hr::app
