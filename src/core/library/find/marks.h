// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where in a text stands what was searched for.
#pragma once

#include <QStringList>
#include <vector>

namespace hr::library {

struct Mark {
    int at = 0;     ///< first character
    int length = 0; ///< characters
    friend bool operator==(const Mark&, const Mark&) = default;
};

/// Where words of `text` begin with one of `words`, whatever their case.
std::vector<Mark> marksIn(const QString& text, const QStringList& words);

/// A piece of `text` with the mark in it, short enough for a line, with "…" where something is left out.
QString around(const QString& text, const Mark& mark);

} // namespace hr::library
