// SPDX-License-Identifier: GPL-3.0-or-later
//
// Words as a search compares them: without case, accents and signs, and with small slips forgiven.
#pragma once

#include <QString>
#include <QStringList>
#include <functional>

namespace hr::library {

/// "Crème-Brûlée 2" -> "creme", "brulee", "2".
QStringList foldedWords(const QString& text);
/// The same, one after the other, without a string for each.
void eachFoldedWord(const QString& text, const std::function<void(QStringView)>& visit);

/// Slips forgiven in a word of this length: none below four letters, one up to seven, then two.
int forgivenSlips(qsizetype length);

/// Whether `word` begins with what `typed` was meant to be: at most forgivenSlips() letters are missing, too
/// many, wrong or swapped with their neighbour (optimal string alignment; Damerau 1964). Both folded.
bool slipsInto(QStringView typed, QStringView word);
/// The same with so many forgiven, at most 3.
bool slipsInto(QStringView typed, QStringView word, int forgiven);

} // namespace hr::library
