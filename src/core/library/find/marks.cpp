// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/marks.h"

#include <algorithm>

namespace hr::library {

std::vector<Mark> marksIn(const QString& text, const QStringList& words)
{
    std::vector<Mark> found;
    for (const QString& word : words)
        for (int at = 0;
             !word.isEmpty() && (at = static_cast<int>(text.indexOf(word, at, Qt::CaseInsensitive))) >= 0; ++at)
            if (at == 0 || !text[at - 1].isLetterOrNumber())
                found.push_back({at, static_cast<int>(word.size())});
    return found;
}

QString around(const QString& text, const Mark& mark)
{
    constexpr qsizetype before = 12;
    constexpr qsizetype most = 44;
    const qsizetype end_of_mark = mark.at + mark.length;
    qsizetype from = text.size() <= most ? 0 : std::max<qsizetype>(0, mark.at - before);
    qsizetype to = std::max(end_of_mark, std::min(text.size(), from + most));
    // Whole words on both sides.
    if (const qsizetype space = text.indexOf(QLatin1Char(' '), from); from > 0 && space >= 0 && space < mark.at)
        from = space + 1;
    if (const qsizetype space = text.lastIndexOf(QLatin1Char(' '), to); to < text.size() && space > end_of_mark)
        to = space;
    return (from > 0 ? QStringLiteral("…") : QString()) + text.sliced(from, to - from).simplified() +
           (to < text.size() ? QStringLiteral("…") : QString());
}

} // namespace hr::library
