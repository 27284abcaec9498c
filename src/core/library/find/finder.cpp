// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/finder.h"

#include <algorithm>
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

} // namespace

Result<Beside> readBeside(Store& store)
{
    auto measured = store.readings.measured();
    auto help = store.catalogue.help();
    auto members = store.collections.members();
    if (!measured || !help || !members)
        return tl::make_unexpected(!measured ? measured.error() : !help ? help.error() : members.error());
    return Beside{QSet<QString>(measured->begin(), measured->end()), std::move(*members), std::move(*help), {}};
}

Texts Finder::textsOf(const Entry& entry, const Beside& beside) const
{
    return {entry.name + QLatin1Char(' ') + entry.alias, entry.maker, entry.kind,
            entry.tags.join(QLatin1Char(' ')),           entry.note,  beside.help.value(entry.id)};
}

void Finder::setFacets(int at, const Entry& entry, const Beside& beside)
{
    const auto set = [&](Facet facet, const QStringList& values) { m_facets.set(at, facet, values); };
    set(Facet::Kind, {entry.kind});
    set(Facet::Maker, {entry.maker.isEmpty() ? QStringLiteral("unnamed") : entry.maker});
    set(Facet::Format, {entry.format});
    set(Facet::Channels, {channelsWord(entry)});
    set(Facet::Key, {entry.key_in > 0 ? QStringLiteral("with key input") : QStringLiteral("without")});
    set(Facet::Measured,
        {beside.measured.contains(entry.id) ? QStringLiteral("measured") : QStringLiteral("not measured")});
    set(Facet::Rating, {ratingWord(entry.rating)});
    QStringList states{word(entry.state)};
    if (entry.favourite)
        states << QStringLiteral("favourite");
    if (beside.recent.contains(entry.id))
        states << QStringLiteral("recently used");
    set(Facet::State, states);
    set(Facet::Collection, beside.collections.value(entry.id));
    set(Facet::Tag, entry.tags);
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

void Finder::fill(std::vector<Entry> entries, const Beside& beside)
{
    m_entries = std::move(entries);
    m_by_id.clear();
    m_facets.clear(m_entries.size());
    std::vector<Texts> texts;
    texts.reserve(m_entries.size());
    for (std::size_t i = 0; i < m_entries.size(); ++i) {
        m_by_id.insert(m_entries[i].id, static_cast<int>(i));
        texts.push_back(textsOf(m_entries[i], beside));
        setFacets(static_cast<int>(i), m_entries[i], beside);
    }
    m_text.fill(texts);
    rank();
}

void Finder::replace(const Entry& entry, const Beside& beside)
{
    const int at = indexOf(entry.id);
    const bool renamed = m_entries[static_cast<std::size_t>(at)].title() != entry.title();
    m_entries[static_cast<std::size_t>(at)] = entry;
    m_text.replace(at, textsOf(entry, beside));
    setFacets(at, entry, beside);
    if (renamed)
        rank();
}

Finder::Found Finder::find(const Asked& asked) const
{
    std::vector<char> among(m_entries.size(), 0);
    std::vector<float> weight(m_entries.size(), 0);
    for (const auto& [document, weighs] : m_text.find(asked.text)) {
        among[static_cast<std::size_t>(document)] = 1;
        weight[static_cast<std::size_t>(document)] = weighs;
    }
    Facets::Narrowed narrowed = m_facets.narrow(among, asked.choices);
    Found found;
    for (std::size_t i = 0; i < m_entries.size(); ++i)
        if (narrowed.passes[i])
            found.rows.push_back(static_cast<int>(i));
    const auto entry = [this](int at) -> const Entry& { return m_entries[static_cast<std::size_t>(at)]; };
    switch (asked.order) {
    case Order::Best:
        orderBy(found.rows, m_rank, [&](int at) { return -weight[static_cast<std::size_t>(at)]; });
        break;
    case Order::Name:
        orderBy(found.rows, m_rank, [](int) { return 0; });
        break;
    case Order::Maker:
        orderBy(found.rows, m_rank, [&](int at) { return QStringView(entry(at).maker); });
        break;
    case Order::Kind:
        orderBy(found.rows, m_rank, [&](int at) { return QStringView(entry(at).kind); });
        break;
    case Order::Rating:
        orderBy(found.rows, m_rank, [&](int at) { return -entry(at).rating; });
        break;
    }
    found.counts = std::move(narrowed.counts);
    for (auto& counts : found.counts)
        std::ranges::sort(counts, [](const FacetCount& a, const FacetCount& b) {
            return a.count != b.count ? a.count > b.count : a.value < b.value;
        });
    found.understood_as = m_text.understoodAs(asked.text);
    return found;
}

} // namespace hr::library
