// SPDX-License-Identifier: GPL-3.0-or-later
//
// A step that can be taken back, as two functions.
#pragma once

#include <QUndoCommand>
#include <functional>

namespace hr::app {

class Undoable : public QUndoCommand {
public:
    /// `take` is called when it is pushed, and whenever it is redone. Steps in a row that move one thing, which
    /// `moves` names, become one; empty: it stays a step of its own.
    Undoable(const QString& what, std::function<void()> take, std::function<void()> back,
             const QString& moves = {})
        : QUndoCommand(what), m_take(std::move(take)), m_back(std::move(back)), m_moves(moves)
    {
    }
    void redo() override { m_take(); }
    void undo() override { m_back(); }
    int id() const override { return m_moves.isEmpty() ? -1 : 2; }
    bool mergeWith(const QUndoCommand* next) override
    {
        const auto* other = dynamic_cast<const Undoable*>(next);
        if (!other || other->m_moves != m_moves)
            return false;
        m_take = other->m_take;
        return true;
    }

private:
    std::function<void()> m_take, m_back;
    QString m_moves;
};

} // namespace hr::app
