// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/finder.h"

#include "processors/kinds.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <numeric>

namespace hr::library {

namespace {

QString channelsWord(const Entry& e)
{
    const auto one = [](int channels) {
        return channels == 1   ? QStringLiteral("mono")
               : channels == 2 ? QStringLiteral("stereo")
                               : QString::number(channels);
    };
    return e.audio_in == e.audio_out ? one(e.audio_in)
                                     : QStringLiteral("%1 to %2").arg(one(e.audio_in), one(e.audio_out));
}

QString ratingWord(int rating)
{
    return rating == 0 ? QStringLiteral("none") : QString(rating, QChar(u'★'));
}

/// Positions by what a key gives, smallest first, equal ones in their order by title.
template<class Key>
void orderBy(std::vector<int>& rows, const std::vector<int>& rank, Key key)
{
    std::ranges::sort(rows, [&](int a, int b) {
        const auto ka = key(a);
        const auto kb = key(b);
        return ka == kb ? rank[static_cast<std::size_t>(a)] < rank[static_cast<std::size_t>(b)] : ka < kb;
    });
}

const QString reference_format = QStringLiteral("reference");

/// Where the user has put something by hand or by name.
bool isOfTheUsersOwn(const FacetChoice& choice)
{
    return choice.facet == Facet::Collection || choice.facet == Facet::Tag || choice.facet == Facet::Rating ||
           choice.facet == Facet::WorkingSet ||
           (choice.facet == Facet::State && choice.value != word(State::Ready));
}

/// By "reference", or from four letters on its beginning, by their format, or by where the user has put them.
bool asksForReferences(const Query& asked)
{
    constexpr qsizetype enough = 4;
    const QStringList words = foldedWords(asked.text);
    return std::ranges::any_of(words,
                               [](const QString& word) {
                                   return word.size() >= enough && (reference_format.startsWith(word) ||
                                                                    word.startsWith(reference_format));
                               }) ||
           std::ranges::any_of(asked.choices, [](const FacetChoice& c) {
               return !c.negated &&
                      (isOfTheUsersOwn(c) || (c.facet == Facet::Format && c.value == reference_format));
           });
}

/// Each kind behind the one it is a sort of; both levels stay in their order otherwise.
void sortAsTree(std::vector<FacetCount>& kinds)
{
    std::vector<FacetCount> sorted;
    const auto above = [](const FacetCount& kind) { return processors::kindAbove(kind.value.toStdString()); };
    for (const FacetCount& kind : kinds) {
        if (!above(kind).empty())
            continue;
        sorted.push_back(kind);
        for (const FacetCount& sort : kinds)
            if (above(sort) == kind.value.toStdString())
                sorted.push_back(sort);
    }
    kinds = std::move(sorted);
}

} // namespace

Result<EntryFacts> readEntryFacts(Store& store)
{
    auto measured = store.runs.measured();
    auto help = store.catalogue.help();
    auto members = store.collections.members();
    auto figures = store.runs.figures();
    auto under = store.builds.joined();
    if (const Error* error = firstError(measured, help, members, figures, under))
        return tl::make_unexpected(*error);
    EntryFacts facts;
    facts.measured = QSet<QString>(measured->begin(), measured->end());
    facts.collections = std::move(*members);
    facts.help = std::move(*help);
    facts.figures = std::move(*figures);
    facts.under = std::move(*under);
    return facts;
}

/// The kind and, behind it, the one above.
QStringList Finder::kindsOf(const Entry& entry) const
{
    QStringList kinds{entry.kind};
    if (const auto above = processors::kindAbove(entry.kind.toStdString()); !above.empty())
        kinds << QString::fromUtf8(above.data(), static_cast<qsizetype>(above.size()));
    return kinds;
}

Texts Finder::textsOf(const Entry& entry, const EntryFacts& facts) const
{
    return {entry.name + QLatin1Char(' ') + entry.alias,
            entry.maker,
            kindsOf(entry).join(QLatin1Char(' ')),
            entry.tags.join(QLatin1Char(' ')),
            entry.note,
            entry.format == reference_format ? QStringLiteral("reference ") + facts.help.value(entry.id)
                                             : facts.help.value(entry.id)};
}

void Finder::setFacets(int at, const Entry& entry, const EntryFacts& facts)
{
    const auto set = [&](Facet facet, const QStringList& values) { m_facets.set(at, facet, values); };
    set(Facet::Kind, kindsOf(entry));
    set(Facet::Maker, {entry.maker.isEmpty() ? QStringLiteral("unnamed") : entry.maker});
    set(Facet::Format, {entry.format});
    set(Facet::Channels, {channelsWord(entry)});
    set(Facet::Key, {entry.key_in > 0 ? QStringLiteral("with key input") : QStringLiteral("without")});
    set(Facet::Measured,
        {facts.measured.contains(entry.id) ? QStringLiteral("measured") : QStringLiteral("not measured")});
    set(Facet::Rating, {ratingWord(entry.rating)});
    const bool offered = !facts.not_offered.contains(entry.id);
    QStringList states{word(offered || entry.state == State::Quarantined ? entry.state : State::Hidden)};
    if (entry.favourite)
        states << QStringLiteral("favourite");
    if (facts.recent.contains(entry.id))
        states << QStringLiteral("recently used");
    set(Facet::State, states);
    set(Facet::WorkingSet, facts.working_sets.value(entry.id));
    set(Facet::Collection, facts.collections.value(entry.id) + facts.by_rule.value(entry.id));
    set(Facet::Tag, entry.tags);
    m_stands[static_cast<std::size_t>(at)] = facts.under.contains(entry.id) ? 0 : 1;
    m_figures[static_cast<std::size_t>(at)] = facts.figures.value(entry.id);
}

void Finder::refacet(const QString& id, const EntryFacts& facts)
{
    const int at = indexOf(id);
    setFacets(at, m_entries[static_cast<std::size_t>(at)], facts);
}

void Finder::rank()
{
    std::vector<QString> keys;
    keys.reserve(m_entries.size());
    for (const Entry& entry : m_entries)
        keys.push_back(entry.title().toCaseFolded());
    std::vector<int> order(m_entries.size());
    std::iota(order.begin(), order.end(), 0);
    std::ranges::stable_sort(order, [&](int a, int b) {
        return keys[static_cast<std::size_t>(a)] < keys[static_cast<std::size_t>(b)];
    });
    m_rank.resize(order.size());
    for (std::size_t i = 0; i < order.size(); ++i)
        m_rank[static_cast<std::size_t>(order[i])] = static_cast<int>(i);
}

void Finder::fill(std::vector<Entry> entries, const EntryFacts& facts)
{
    m_entries = std::move(entries);
    m_by_id.clear();
    m_facets.clear(m_entries.size());
    m_stands.assign(m_entries.size(), 1);
    m_figures.assign(m_entries.size(), {});
    std::vector<Texts> texts;
    texts.reserve(m_entries.size());
    for (std::size_t i = 0; i < m_entries.size(); ++i) {
        m_by_id.insert(m_entries[i].id, static_cast<int>(i));
        texts.push_back(textsOf(m_entries[i], facts));
        setFacets(static_cast<int>(i), m_entries[i], facts);
    }
    m_text.fill(texts);
    rank();
}

void Finder::replace(const Entry& entry, const EntryFacts& facts)
{
    const int at = indexOf(entry.id);
    const bool renamed = m_entries[static_cast<std::size_t>(at)].title() != entry.title();
    m_entries[static_cast<std::size_t>(at)] = entry;
    m_text.replace(at, textsOf(entry, facts));
    setFacets(at, entry, facts);
    if (renamed)
        rank();
}

void Finder::sort(std::vector<int>& rows, const Order& order, const std::vector<float>& weight) const
{
    const auto entry = [this](int at) -> const Entry& { return m_entries[static_cast<std::size_t>(at)]; };
    switch (order.by) {
    case Order::Best:
        return orderBy(rows, m_rank, [&](int at) { return -weight[static_cast<std::size_t>(at)]; });
    case Order::Name:
        return orderBy(rows, m_rank, [](int) { return 0; });
    case Order::Maker:
        return orderBy(rows, m_rank, [&](int at) { return QStringView(entry(at).maker); });
    case Order::Kind:
        return orderBy(rows, m_rank, [&](int at) { return QStringView(entry(at).kind); });
    case Order::Rating:
        return orderBy(rows, m_rank, [&](int at) { return -entry(at).rating; });
    case Order::Figure:
        return sortByFigure(rows, listFigure(order.figure));
    }
}

/// The better first; what was not measured last.
void Finder::sortByFigure(std::vector<int>& rows, int figure) const
{
    const auto of = [&](int at) { return m_figures[static_cast<std::size_t>(at)].at(figure); };
    std::ranges::sort(rows, [&](int a, int b) {
        const auto fa = of(a);
        const auto fb = of(b);
        if (fa && fb && listFigures()[static_cast<std::size_t>(figure)].before(*fa, *fb))
            return true;
        if (fa && fb && listFigures()[static_cast<std::size_t>(figure)].before(*fb, *fa))
            return false;
        return fa.has_value() != fb.has_value()
                   ? fa.has_value()
                   : m_rank[static_cast<std::size_t>(a)] < m_rank[static_cast<std::size_t>(b)];
    });
}

std::vector<char> Finder::matching(const Query& asked, References references) const
{
    std::vector<char> among(m_entries.size(), 0);
    for (const TextIndex::Match& match : m_text.find(asked.text))
        among[static_cast<std::size_t>(match.document)] = 1;
    std::vector<FacetChoice> choices = asked.choices;
    if (references == References::WhenAskedFor && !asksForReferences(asked))
        choices.push_back({Facet::Format, reference_format, true});
    return m_facets.narrow(among, choices).passes;
}

std::pair<Facets::Narrowed, std::vector<float>> Finder::among(const Query& asked) const
{
    std::vector<char> among(m_entries.size(), 0);
    std::vector<float> weight(m_entries.size(), 0);
    for (const auto& [document, weighs] : m_text.find(asked.text)) {
        among[static_cast<std::size_t>(document)] = m_stands[static_cast<std::size_t>(document)];
        weight[static_cast<std::size_t>(document)] = weighs;
    }
    std::vector<FacetChoice> choices = asked.choices;
    const QString hidden = word(State::Hidden);
    if (std::ranges::find(choices, FacetChoice{Facet::State, hidden, false}) == choices.end())
        choices.push_back({Facet::State, hidden, true});
    if (!asksForReferences(asked))
        choices.push_back({Facet::Format, reference_format, true});
    return {m_facets.narrow(among, choices), std::move(weight)};
}

int Finder::listable() const
{
    return static_cast<int>(
        std::ranges::count_if(m_entries, [](const Entry& entry) { return entry.format != reference_format; }));
}

Finder::Found Finder::find(const Query& asked) const
{
    auto [narrowed, weight] = among(asked);
    Found found;
    for (std::size_t i = 0; i < m_entries.size(); ++i)
        if (narrowed.passes[i])
            found.rows.push_back(static_cast<int>(i));
    sort(found.rows, asked.order, weight);
    found.counts = std::move(narrowed.counts);
    for (auto& counts : found.counts)
        std::ranges::sort(counts, [](const FacetCount& a, const FacetCount& b) {
            return a.count != b.count ? a.count > b.count : a.value < b.value;
        });
    sortAsTree(found.counts[static_cast<std::size_t>(Facet::Kind)]);
    found.understood_as = m_text.understoodAs(asked.text);
    if (found.rows.empty() && !asked.text.isEmpty()) {
        const auto finds = [&](const QString& text, const std::vector<FacetChoice>& choices) {
            return static_cast<int>(std::ranges::count(among({text, choices}).first.passes, 1));
        };
        const QString further = m_text.oneSlipFurther(asked.text);
        if (!further.isEmpty() && finds(further, asked.choices) > 0)
            found.nearest = further;
        if (!asked.choices.empty())
            found.without_choices = finds(asked.text, {});
    }
    return found;
}

} // namespace hr::library
