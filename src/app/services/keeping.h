// SPDX-License-Identifier: GPL-3.0-or-later
//
// Collections, as pages change them: everything can be undone, what fails is said.
#pragma once

#include "actions/notices.h"
#include "library/find/query.h"
#include "library/store.h"

#include <QUndoStack>

namespace hr::app {

class Keeping : public QObject {
    Q_OBJECT
public:
    Keeping(library::Store& store, QUndoStack& undo, Notices& notices, QObject* parent = nullptr);

    /// In the collection of this id, or, where it is 0, in the first made by hand, which is made where there is
    /// none.
    void keep(const library::CollectionItem& item, qint64 collection = 0);
    /// All of them, in one step.
    void keep(const std::vector<library::CollectionItem>& items, qint64 collection);
    void take(const library::CollectionItem& item, qint64 collection, int position);
    /// An empty one; 0 where it failed.
    qint64 create();
    void rename(qint64 collection, const QString& name);
    void remove(const library::Collection& collection);
    /// What was asked for as a collection by rule.
    void keepSearch(const library::Query& asked, const QString& name);
    /// From a file; 0 where it failed.
    qint64 importFrom(const QString& file);
    void exportTo(const library::Collection& collection, const QString& file);

    /// Those that things can be put into.
    std::vector<library::Collection> byHand() const;

private:
    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
};

} // namespace hr::app
