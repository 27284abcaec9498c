// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/text_index.h"

#include <algorithm>

namespace hr::library {

namespace {

constexpr std::array<float, field_count> weights{8, 4, 4, 6, 2, 1};
constexpr float whole_word = 1.5F;

} // namespace

void TextIndex::fill(const std::vector<Texts>& documents)
{
    QHash<QStringView, std::size_t> places; // in m_words, whose texts stay where they are when it grows
    m_words.clear();
    for (std::size_t d = 0; d < documents.size(); ++d)
        for (std::size_t f = 0; f < field_count; ++f)
            eachFoldedWord(documents[d][f], [&](QStringView word) {
                auto place = places.constFind(word);
                if (place == places.cend()) {
                    m_words.push_back({word.toString(), {}});
                    place = places.insert(m_words.back().text, m_words.size() - 1);
                }
                m_words[*place].postings.push_back({static_cast<int>(d), static_cast<Field>(f)});
            });
    std::ranges::sort(m_words, {}, &Word::text);
    m_generation.assign(documents.size(), 0);
    m_replaced.assign(documents.size(), {});
    m_replaced_documents.clear();
}

void TextIndex::replace(int document, const Texts& texts)
{
    const auto at = static_cast<std::size_t>(document);
    if (m_generation[at]++ == 0)
        m_replaced_documents.push_back(document);
    auto& words = m_replaced[at];
    words.clear();
    for (std::size_t f = 0; f < field_count; ++f)
        for (const QString& word : foldedWords(texts[f]))
            words.push_back({word, {{document, static_cast<Field>(f)}}});
}

bool TextIndex::isCurrent(const Word& word) const
{
    return std::ranges::any_of(word.postings, [&](const Posting& p) {
        return m_generation[static_cast<std::size_t>(p.document)] == 0;
    });
}

TextIndex::Range TextIndex::meant(const QString& word) const
{
    Range range;
    for (auto at = std::ranges::lower_bound(m_words, word, {}, &Word::text);
         at != m_words.end() && at->text.startsWith(word); ++at)
        if (isCurrent(*at))
            range.push_back(&*at);
    for (const int document : m_replaced_documents)
        for (const Word& w : m_replaced[static_cast<std::size_t>(document)])
            if (w.text.startsWith(word))
                range.push_back(&w);
    const int forgiven = forgivenSlips(word.size());
    return range.empty() && forgiven > 0 ? slippedInto(word, forgiven) : range;
}

TextIndex::Range TextIndex::slippedInto(const QString& word, int forgiven) const
{
    Range range;
    for (const Word& w : m_words)
        if (slipsInto(word, w.text, forgiven) && isCurrent(w))
            range.push_back(&w);
    for (const int document : m_replaced_documents)
        for (const Word& w : m_replaced[static_cast<std::size_t>(document)])
            if (slipsInto(word, w.text, forgiven))
                range.push_back(&w);
    return range;
}

QString TextIndex::oneSlipFurther(const QString& typed) const
{
    constexpr qsizetype shortest = 3; // of two letters one slip leaves nothing
    QStringList words = foldedWords(typed);
    bool further = false;
    for (QString& word : words) {
        if (!meant(word).empty())
            continue;
        const Range near = word.size() < shortest ? Range() : slippedInto(word, forgivenSlips(word.size()) + 1);
        if (near.empty())
            return {};
        word = (*std::ranges::max_element(near, {}, [](const Word* w) { return w->postings.size(); }))->text;
        further = true;
    }
    return further ? words.join(QLatin1Char(' ')) : QString();
}

std::vector<TextIndex::Match> TextIndex::find(const QString& typed) const
{
    const QStringList words = foldedWords(typed);
    std::vector<float> weight(m_generation.size(), 0);
    std::vector<int> matched(m_generation.size(), 0); // how many words so far
    std::vector<float> best(m_generation.size(), 0);  // of this word
    int count = 0;
    for (const QString& word : words) {
        for (const Word* w : meant(word)) {
            const bool original = w >= m_words.data() && w < m_words.data() + m_words.size();
            const float bonus = w->text.size() == word.size() ? whole_word : 1.0F;
            for (const Posting& p : w->postings) {
                const auto d = static_cast<std::size_t>(p.document);
                if (original && m_generation[d] > 0)
                    continue;
                if (matched[d] == count) {
                    matched[d] = count + 1;
                    best[d] = 0;
                } else if (matched[d] != count + 1) {
                    continue; // lacks an earlier word
                }
                const float here = bonus * weights[static_cast<std::size_t>(p.field)];
                if (here > best[d]) {
                    weight[d] += here - best[d];
                    best[d] = here;
                }
            }
        }
        ++count;
    }
    std::vector<Match> matches;
    for (std::size_t d = 0; d < matched.size(); ++d)
        if (matched[d] == count)
            matches.push_back({static_cast<int>(d), weight[d]});
    return matches;
}

QStringList TextIndex::understoodAs(const QString& typed) const
{
    QStringList understood;
    for (const QString& word : foldedWords(typed))
        for (const Word* w : meant(word))
            if (!w->text.startsWith(word) && !understood.contains(w->text))
                understood << w->text;
    return understood;
}

} // namespace hr::library
