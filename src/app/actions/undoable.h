// SPDX-License-Identifier: GPL-3.0-or-later
//
// A step that can be taken back, as two functions.
#pragma once

#include <QUndoCommand>
#include <functional>

namespace hr::app {

class Undoable : public QUndoCommand {
public:
    /// `take` is called when it is pushed, and whenever it is redone.
    Undoable(const QString& what, std::function<void()> take, std::function<void()> back)
        : QUndoCommand(what), m_take(std::move(take)), m_back(std::move(back))
    {
    }
    void redo() override { m_take(); }
    void undo() override { m_back(); }

private:
    std::function<void()> m_take, m_back;
};

} // namespace hr::app
