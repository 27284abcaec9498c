// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/words.h"

#include <algorithm>
#include <array>

namespace hr::library {

namespace {

/// Most texts are plain letters, for which the tables of Unicode are not needed.
QString folded(const QString& text)
{
    const bool plain = std::ranges::all_of(text, [](QChar c) { return c.unicode() < 0x80; });
    if (plain)
        return text.toLower();
    QString bare = text.normalized(QString::NormalizationForm_KD).toCaseFolded();
    return bare.removeIf([](QChar c) { return c.isMark(); });
}

} // namespace

void eachFoldedWord(const QString& text, const std::function<void(QStringView)>& visit)
{
    const QString plain = folded(text);
    const QStringView view(plain);
    qsizetype begin = 0;
    for (qsizetype end = 0; end <= view.size(); ++end) {
        if (end < view.size() && (view[end].isLetterOrNumber() || view[end].isSurrogate()))
            continue;
        if (end > begin)
            visit(view.sliced(begin, end - begin));
        begin = end + 1;
    }
}

QStringList foldedWords(const QString& text)
{
    QStringList words;
    eachFoldedWord(text, [&](QStringView word) { words << word.toString(); });
    return words;
}

int forgivenSlips(qsizetype length)
{
    return length < 4 ? 0 : length < 8 ? 1 : 2;
}

bool slipsInto(QStringView typed, QStringView word)
{
    return slipsInto(typed, word, forgivenSlips(typed.size()));
}

bool slipsInto(QStringView typed, QStringView word, int forgiven)
{
    constexpr qsizetype longest = 32;
    if (forgiven == 0 || typed.size() > longest)
        return word.startsWith(typed);
    word = word.first(std::min(word.size(), typed.size() + forgiven));
    if (word.size() + forgiven < typed.size())
        return false;
    // Rows of the alignment: what was typed down, the word across; the last row's least is the distance to the
    // nearest beginning of the word.
    std::array<std::array<int, longest + 4>, 3> rows{};
    for (qsizetype j = 0; j <= word.size(); ++j)
        rows[0][static_cast<std::size_t>(j)] = static_cast<int>(j);
    for (qsizetype i = 1; i <= typed.size(); ++i) {
        auto& row = rows[static_cast<std::size_t>(i % 3)];
        const auto& above = rows[static_cast<std::size_t>((i - 1) % 3)];
        const auto& above2 = rows[static_cast<std::size_t>((i + 1) % 3)]; // i - 2
        row[0] = static_cast<int>(i);
        int least = row[0];
        for (qsizetype j = 1; j <= word.size(); ++j) {
            const auto at = static_cast<std::size_t>(j);
            const bool same = typed[i - 1] == word[j - 1];
            row[at] = std::min({above[at] + 1, row[at - 1] + 1, above[at - 1] + (same ? 0 : 1)});
            if (i > 1 && j > 1 && typed[i - 1] == word[j - 2] && typed[i - 2] == word[j - 1])
                row[at] = std::min(row[at], above2[at - 2] + 1);
            least = std::min(least, row[at]);
        }
        if (least > forgiven + 1) // a swap may still mend one
            return false;
    }
    const auto& last = rows[static_cast<std::size_t>(typed.size() % 3)];
    return *std::min_element(last.begin(), last.begin() + word.size() + 1) <= forgiven;
}

} // namespace hr::library
