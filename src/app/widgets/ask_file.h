// SPDX-License-Identifier: GPL-3.0-or-later
//
// Asks for a file or folder in a window of its own, and menus that are popped up, without waiting for the
// answer: while one waits for it in an event loop of its own, whoever asked may be deleted. `take` is called
// with what was chosen, unless nothing was, or `owner` is gone by then.
#pragma once

#include <QMenu>
#include <QWidget>
#include <functional>

namespace hr::app {

using TakeFile = std::function<void(const QString& file)>;

void askToOpen(QWidget* owner, const QString& title, const QString& filter, const TakeFile& take);
void askToOpenSeveral(QWidget* owner, const QString& title, const QString& filter,
                      const std::function<void(const QStringList& files)>& take);
/// `suggested` is a file name; without a folder it is in the one that was used last.
void askToSave(QWidget* owner, const QString& title, const QString& suggested, const QString& filter,
               const TakeFile& take);
void askForFolder(QWidget* owner, const QString& title, const TakeFile& take);

/// To be filled with actions whose receiver is the owner, and popped up: it deletes itself once it is closed,
/// and outlives its owner.
QMenu* menuFor(QWidget* owner);

} // namespace hr::app
