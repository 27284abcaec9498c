// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is done to the line-up by hand, each a step that can be taken back. Who has left it is left alone.
#pragma once

#include "models/line_up.h"

#include <QUndoStack>

namespace hr::app {

/// How the amount of a candidate (Contender::amount_percent) is turned.
processors::ParameterInfo amountParameter();

class LineUpEdits : public QObject {
    Q_OBJECT
public:
    LineUpEdits(LineUp& line_up, QUndoStack& undo, QObject* parent = nullptr);

    /// Moves of one parameter in a row become one step.
    void setValue(ContenderId id, std::size_t parameter, double value, const QString& note = {});
    void setFollowsTempo(ContenderId id, bool on);
    /// The same of the gain of one; near what the matching takes, it is matched again.
    void setByHand(ContenderId id, double gain_db);
    void setAmount(ContenderId id, double percent);
    void setReturn(ContenderId id, double level_db);
    void setOn(ContenderId id, bool on);
    void setName(ContenderId id, const QString& name);
    void hold(ContenderId id, std::size_t parameter, bool on);
    void pin(ContenderId id, std::size_t parameter, bool on);
    void setLimits(ContenderId id, std::size_t parameter, std::optional<std::pair<double, double>> limits);
    void setUse(LineUp::Use use);
    void setRule(const audition::MatchRule& rule);
    void makeReference(ContenderId id);
    void remove(ContenderId id);
    /// Once more, as it is, behind itself.
    void duplicate(ContenderId id);
    /// So many places down, as far as there are any.
    void move(ContenderId id, int places);
    /// One that has been dragged here from the place where it stood.
    void moved(ContenderId id, int from);

private:
    void push(const QString& words, std::function<void()> redo, std::function<void()> undo);
    /// `set` is given where the parameter of this key is at the time: another build or rate may have it
    /// elsewhere, or not at all, and then nothing is done.
    void atParameter(ContenderId id, const std::string& key, const std::function<void(std::size_t)>& set);
    /// Something that is on or off.
    void turn(const QString& words, bool on, const std::function<void(bool)>& set);

    LineUp& m_line_up;
    QUndoStack& m_undo;
};

} // namespace hr::app
