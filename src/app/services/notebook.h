// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the user writes and decides about processors: names, tags, notes and ratings; which are builds of one;
// which are offered at all. What changes something kept can be undone; what fails is said.
#pragma once

#include "actions/notices.h"
#include "models/processor_model.h"

#include <QUndoStack>

namespace hr::app {

class Notebook : public QObject {
    Q_OBJECT
public:
    Notebook(library::Store& store, ProcessorModel& processors, QUndoStack& undo, Notices& notices,
             QObject* parent = nullptr);

    /// Changes what is written about these, as one step.
    void write(const QStringList& ids, const QString& what,
               const std::function<void(library::Written&)>& change);

    // Builds of one processor: said to be one, or each for itself.
    void joinBuilds(const QStringList& ids);
    void splitBuilds(const QStringList& ids);

    // Working sets; 0 where it failed.
    qint64 putSet(const library::WorkingSet& set);
    void removeSet(const library::WorkingSet& set);
    void useSet(qint64 set); ///< 0: everything is offered

    void remember(const QString& id); ///< as recently used

private:
    using Words = std::vector<std::pair<QString, library::Written>>;
    void put(const Words& words);
    void decideBuilds(const QString& what, const std::function<Result<void>()>& decide);

    library::Store& m_store;
    ProcessorModel& m_processors;
    QUndoStack& m_undo;
    Notices& m_notices;
};

} // namespace hr::app
