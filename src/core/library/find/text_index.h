// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which documents hold all the words that were typed, fast enough to ask at every key: each word must be the
// beginning of a word of some field; one that nothing begins with is taken for what it slips into.
#pragma once

#include "library/find/words.h"

#include <QHash>
#include <array>
#include <vector>

namespace hr::library {

/// Where a word was found; the first weigh most.
enum class Field { Name, Maker, Kind, Tags, Note, Help };
inline constexpr std::size_t field_count = 6;
using Texts = std::array<QString, field_count>; ///< of one document, by Field

class TextIndex {
public:
    void fill(const std::vector<Texts>& documents);
    /// One of them once more.
    void replace(int document, const Texts& texts);

    struct Match {
        int document = 0;
        float weight = 0;
    };
    /// In no order. With no words all documents, at weight 0.
    std::vector<Match> find(const QString& typed) const;

    /// The words of the documents that each word of `typed` was taken for, where it was taken for others.
    QStringList understoodAs(const QString& typed) const;
    /// `typed` with each word that means nothing replaced by the commonest that it comes to with one slip more
    /// than is forgiven; empty where there is no such word.
    QString oneSlipFurther(const QString& typed) const;

private:
    struct Posting {
        int document;
        Field field;
    };
    struct Word {
        QString text;
        std::vector<Posting> postings;
    };
    using Range = std::vector<const Word*>;

    Range meant(const QString& word) const;
    /// With so many slips forgiven.
    Range slippedInto(const QString& word, int forgiven) const;
    bool isCurrent(const Word& word) const;

    std::vector<Word> m_words; // sorted by text
    std::vector<int>
        m_generation; // by document: how often it was replaced, so that older postings count no more
    std::vector<std::vector<Word>> m_replaced; // by document: its words since it was replaced
    std::vector<int> m_replaced_documents;
};

} // namespace hr::library
