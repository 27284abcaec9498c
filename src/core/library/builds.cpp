// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/builds.h"

#include "library/find/words.h"

#include <QVersionNumber>
#include <algorithm>
#include <map>

namespace hr::library {

namespace {

bool isFigure(QStringView word)
{
    return !word.isEmpty() && std::ranges::all_of(word, [](QChar c) { return c.isDigit(); });
}

/// Whether a word of a name tells builds of one processor apart: "mono", "1x2", "v3".
bool tellsBuilds(QStringView word)
{
    static const QStringList words{QStringLiteral("mono"),   QStringLiteral("stereo"), QStringLiteral("lv2"),
                                   QStringLiteral("ladspa"), QStringLiteral("m"),      QStringLiteral("s")};
    const qsizetype by = word.indexOf(QLatin1Char('x'));
    return words.contains(word) || (by > 0 && isFigure(word.first(by)) && isFigure(word.sliced(by + 1))) ||
           (word.startsWith(QLatin1Char('v')) && isFigure(word.sliced(1)));
}

/// Makers sign with an address in one format and without in the other: "Name <name@host>", "Name (host)".
QString withoutAddress(const QString& maker)
{
    const auto isOne = [&](qsizetype at, const char* marks) {
        return QLatin1String(marks).contains(maker[at]);
    };
    qsizetype from = 0;
    qsizetype to = maker.size();
    while (from < maker.size() && !isOne(from, "<("))
        ++from;
    while (to > from && !isOne(to - 1, ">)"))
        --to;
    return to > from ? maker.first(from) + maker.sliced(to) : maker;
}

/// Sorts the one that stands for all first.
auto standing(const Entry& entry)
{
    return std::tuple(entry.state == State::Quarantined, entry.audio_out < 2,
                      entry.format != QLatin1String("LV2"));
}

bool before(const Entry* a, const Entry* b)
{
    if (standing(*a) != standing(*b))
        return standing(*a) < standing(*b);
    const auto va = QVersionNumber::fromString(a->version);
    const auto vb = QVersionNumber::fromString(b->version);
    return va != vb ? va > vb : a->id < b->id;
}

} // namespace

Result<QHash<QString, QString>> Builds::decided() const
{
    auto rows = m_database.run(QStringLiteral("SELECT id, under FROM builds"));
    if (!rows)
        return tl::make_unexpected(rows.error());
    QHash<QString, QString> under;
    while (rows->next())
        under.insert(rows->value(0).toString(), rows->value(1).toString());
    return under;
}

Result<QHash<QString, QString>> Builds::joined() const
{
    auto under = decided();
    if (under)
        under->removeIf([](const auto& one) { return one.key() == one.value(); });
    return under;
}

Result<void> Builds::decide(const QHash<QString, QString>& all)
{
    return m_database.transaction([&]() -> Result<void> {
        auto done = m_database.change(QStringLiteral("DELETE FROM builds"));
        for (auto one = all.cbegin(); done && one != all.cend(); ++one)
            done =
                m_database.change(QStringLiteral("INSERT INTO builds VALUES (?, ?)"), {one.key(), one.value()});
        return done;
    });
}

Result<void> Builds::join(const BuildGroup& group)
{
    auto under = decided();
    if (!under)
        return tl::make_unexpected(under.error());
    // Whatever stood under one of them stands under the same one now.
    for (QString& one : *under)
        if (group.contains(one))
            one = group.front();
    for (const QString& id : group)
        under->insert(id, group.front());
    under->remove(group.front());
    return decide(*under);
}

Result<void> Builds::keepApart(const QStringList& ids)
{
    auto under = decided();
    if (!under)
        return tl::make_unexpected(under.error());
    for (const QString& id : ids)
        under->insert(id, id);
    return decide(*under);
}

QString buildStem(const Entry& entry)
{
    QStringList words = foldedWords(entry.name);
    const QStringList all = words;
    words.removeIf(tellsBuilds);
    // Figures at the end are a version; a name of nothing but such words keeps them.
    while (words.size() > 1 && isFigure(words.last()) && words.last() != all.value(1))
        words.removeLast();
    return (words.isEmpty() ? all : words).join(QLatin1Char(' ')) + QLatin1Char('\n') +
           foldedWords(withoutAddress(entry.maker)).join(QLatin1Char(' '));
}

std::vector<BuildGroup> proposedBuilds(const std::vector<Entry>& entries,
                                       const QHash<QString, QString>& decided)
{
    std::map<QString, std::vector<const Entry*>> groups;
    for (const Entry& entry : entries)
        if (!entry.bundle.isEmpty() && !decided.contains(entry.id) &&
            !(entry.maker.isEmpty() && entry.state == State::Quarantined))
            groups[buildStem(entry)].push_back(&entry);
    std::vector<BuildGroup> proposed;
    for (auto& [stem, group] : groups) {
        if (group.size() < 2)
            continue;
        std::ranges::sort(group, before);
        BuildGroup ids;
        for (const Entry* entry : group)
            ids << entry->id;
        proposed.push_back(ids);
    }
    return proposed;
}

const Entry* fittingBuild(const std::vector<Entry>& builds, int channels)
{
    const auto works = [](const Entry& e) { return e.state != State::Quarantined; };
    for (const Entry& entry : builds)
        if (works(entry) && entry.audio_in == channels && entry.audio_out == channels)
            return &entry;
    const auto first = std::ranges::find_if(builds, works);
    return builds.empty() ? nullptr : first == builds.end() ? &builds.front() : &*first;
}

} // namespace hr::library
