// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/facets.h"

#include <algorithm>

namespace hr::library {

QString word(Facet facet)
{
    constexpr std::array<const char*, facet_count> words{"kind",        "maker",      "format", "channels",
                                                         "key input",   "measured",   "rating", "state",
                                                         "working set", "collection", "tag"};
    return QString::fromLatin1(words[static_cast<std::size_t>(facet)]);
}

void Facets::clear(std::size_t documents)
{
    for (Column& column : m_columns)
        column = {{}, {}, std::vector<int>(documents, none), {}};
}

void Facets::set(int document, Facet facet, const QStringList& values)
{
    Column& column = m_columns[static_cast<std::size_t>(facet)];
    std::vector<int> indices;
    for (const QString& value : values) {
        auto index = column.indices.constFind(value);
        if (index == column.indices.cend()) {
            index = column.indices.insert(value, static_cast<int>(column.names.size()));
            column.names << value;
        }
        indices.push_back(*index);
    }
    int& kept = column.value[static_cast<std::size_t>(document)];
    kept = indices.empty() ? none : indices.size() == 1 ? indices.front() : more;
    if (kept == more)
        column.several[document] = std::move(indices);
    else
        column.several.remove(document);
}

bool Facets::agrees(const Wishes& wishes, std::size_t document) const
{
    bool wanted = !wishes.any_wanted;
    bool unwanted = false;
    forEach(m_columns[wishes.facet], document, [&](int value) {
        const char wish = wishes.of[static_cast<std::size_t>(value)];
        wanted = wanted || wish == Wanted;
        unwanted = unwanted || wish == Unwanted;
    });
    return wanted && !unwanted;
}

Facets::Narrowed Facets::narrow(const std::vector<char>& among, const std::vector<FacetChoice>& choices) const
{
    std::vector<Wishes> wishes; // of the facets that anything is wished of
    for (const FacetChoice& choice : choices) {
        const auto f = static_cast<std::size_t>(choice.facet);
        auto found = std::ranges::find(wishes, f, &Wishes::facet);
        if (found == wishes.end())
            found = wishes.insert(
                wishes.end(),
                {f, false, std::vector<char>(static_cast<std::size_t>(m_columns[f].names.size()), Neither)});
        found->any_wanted = found->any_wanted || !choice.negated;
        const auto index = m_columns[f].indices.constFind(choice.value);
        if (index != m_columns[f].indices.cend())
            found->of[static_cast<std::size_t>(*index)] = choice.negated ? Unwanted : Wanted;
    }
    // What only one facet keeps out would be there without its choices: that facet alone counts it.
    constexpr int all_agree = -1;
    constexpr int out = -2;
    std::vector<int> kept_out_by(among.size(), out);
    Narrowed narrowed{std::vector<char>(among.size(), 0), {}};
    for (std::size_t d = 0; d < among.size(); ++d) {
        if (!among[d])
            continue;
        int disagreeing = 0;
        int which = all_agree;
        for (const Wishes& one : wishes)
            if (!agrees(one, d)) {
                ++disagreeing;
                which = static_cast<int>(one.facet);
            }
        kept_out_by[d] = disagreeing > 1 ? out : which;
        narrowed.passes[d] = disagreeing == 0;
    }
    for (std::size_t f = 0; f < facet_count; ++f) {
        const Column& column = m_columns[f];
        std::vector<int> counts(static_cast<std::size_t>(column.names.size()), 0);
        for (std::size_t d = 0; d < among.size(); ++d)
            if (kept_out_by[d] == all_agree || kept_out_by[d] == static_cast<int>(f))
                forEach(column, d, [&](int value) { ++counts[static_cast<std::size_t>(value)]; });
        for (std::size_t v = 0; v < counts.size(); ++v)
            narrowed.counts[f].push_back({column.names[static_cast<qsizetype>(v)], counts[v]});
    }
    return narrowed;
}

} // namespace hr::library
