// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/facets.h"

#include <algorithm>

namespace hr::library {

QString word(Facet facet)
{
    constexpr std::array<const char*, facet_count> words{
        "kind", "maker", "format", "channels", "key input", "measured", "rating", "state", "collection", "tag"};
    return QString::fromLatin1(words[static_cast<std::size_t>(facet)]);
}

void Facets::clear(std::size_t documents)
{
    for (Column& column : m_columns)
        column = {{}, {}, std::vector<std::vector<int>>(documents)};
}

void Facets::set(int document, Facet facet, const QStringList& values)
{
    Column& column = m_columns[static_cast<std::size_t>(facet)];
    auto& numbers = column.values[static_cast<std::size_t>(document)];
    numbers.clear();
    for (const QString& value : values) {
        auto number = column.numbers.constFind(value);
        if (number == column.numbers.cend()) {
            number = column.numbers.insert(value, static_cast<int>(column.names.size()));
            column.names << value;
        }
        numbers.push_back(*number);
    }
}

Facets::Narrowed Facets::narrow(const std::vector<char>& among, const std::vector<FacetChoice>& choices) const
{
    enum Wish : char { Neither, Wanted, Unwanted };
    std::array<std::vector<char>, facet_count> wishes; // by number of a value
    std::array<bool, facet_count> any_wanted{};
    for (std::size_t f = 0; f < facet_count; ++f)
        wishes[f].assign(static_cast<std::size_t>(m_columns[f].names.size()), Neither);
    for (const FacetChoice& choice : choices) {
        const auto f = static_cast<std::size_t>(choice.facet);
        any_wanted[f] = any_wanted[f] || !choice.negated;
        const auto number = m_columns[f].numbers.constFind(choice.value);
        if (number != m_columns[f].numbers.cend())
            wishes[f][static_cast<std::size_t>(*number)] = choice.negated ? Unwanted : Wanted;
    }
    const auto agrees = [&](std::size_t f, std::size_t document) {
        bool wanted = !any_wanted[f];
        for (const int value : m_columns[f].values[document]) {
            const char wish = wishes[f][static_cast<std::size_t>(value)];
            if (wish == Unwanted)
                return false;
            wanted = wanted || wish == Wanted;
        }
        return wanted;
    };
    Narrowed narrowed{std::vector<char>(among.size(), 0), {}};
    std::array<std::vector<int>, facet_count> counts;
    for (std::size_t f = 0; f < facet_count; ++f)
        counts[f].assign(static_cast<std::size_t>(m_columns[f].names.size()), 0);
    for (std::size_t d = 0; d < among.size(); ++d) {
        if (!among[d])
            continue;
        std::size_t disagreeing = 0;
        std::size_t which = 0;
        for (std::size_t f = 0; f < facet_count && disagreeing < 2; ++f)
            if (!agrees(f, d)) {
                ++disagreeing;
                which = f;
            }
        narrowed.passes[d] = disagreeing == 0;
        if (disagreeing > 1)
            continue;
        // What only one facet keeps out would be there without its choices: that facet counts it.
        for (std::size_t f = disagreeing == 1 ? which : 0; f < (disagreeing == 1 ? which + 1 : facet_count);
             ++f)
            for (const int value : m_columns[f].values[d])
                ++counts[f][static_cast<std::size_t>(value)];
    }
    for (std::size_t f = 0; f < facet_count; ++f)
        for (std::size_t v = 0; v < counts[f].size(); ++v)
            narrowed.counts[f].push_back({m_columns[f].names[static_cast<qsizetype>(v)], counts[f][v]});
    return narrowed;
}

} // namespace hr::library
