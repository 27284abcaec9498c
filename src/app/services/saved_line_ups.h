// SPDX-License-Identifier: GPL-3.0-or-later
//
// Line-ups under names: which of them is on Listen, whether it has changed since, and the others.
#pragma once

#include "actions/notices.h"
#include "library/store.h"
#include "models/line_up.h"

#include <QUndoStack>

namespace hr::app {

class SavedLineUps : public QObject {
    Q_OBJECT
public:
    SavedLineUps(LineUp& line_up, Transport& transport, library::Store& store, QUndoStack& undo,
                 Notices& notices, QObject* parent = nullptr);

    /// Of the one on Listen; 0: it has no name yet.
    qint64 current() const { return m_row_id; }
    const QString& name() const { return m_name; }
    /// Whether what is on Listen is not what was saved under its name.
    bool hasChanged() const;
    std::vector<library::SavedLineUp> all() const;

    /// Under the name that it has.
    void save();
    void saveAs(const QString& name);
    void rename(const QString& name);
    /// In the place of what is on Listen, in one step that can be taken back.
    void open(qint64 row_id);
    /// Another time: what is on Listen keeps its name.
    void remove(qint64 row_id);
    void exportTo(const QString& file);
    void import(const QString& file);
    /// One that stands in another document, in the same way; `where` is for messages: "in this page".
    void openDocument(const nlohmann::ordered_json& document, const QString& where);

    /// The one that was current when the session was stored.
    void restore(qint64 row_id);

signals:
    void changed();

private:
    struct State {
        qint64 row_id = 0;
        QString name;
        nlohmann::ordered_json saved, now;
    };
    State state() const;
    void become(const State& state);

    LineUp& m_line_up;
    Transport& m_transport;
    library::Store& m_store;
    QUndoStack& m_undo;
    Notices& m_notices;
    qint64 m_row_id = 0;
    QString m_name;
    nlohmann::ordered_json m_saved;
};

} // namespace hr::app
