// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/find/membership.h"

#include "library/find/rule.h"

namespace hr::library {

namespace {

using Names = QHash<QString, QStringList>; // by id

void add(Names& names, const Finder& finder, const std::vector<char>& members, const QString& name)
{
    for (std::size_t i = 0; i < members.size(); ++i)
        if (members[i])
            names[finder.entries()[i].id] << name;
}

/// Puts `names` in the place of `kept`, and collects the ids for which they differ.
void exchange(Names& kept, Names names, QSet<QString>& changed)
{
    for (auto it = names.cbegin(); it != names.cend(); ++it)
        if (kept.value(it.key()) != it.value())
            changed.insert(it.key());
    for (auto it = kept.cbegin(); it != kept.cend(); ++it)
        if (!names.contains(it.key()))
            changed.insert(it.key());
    kept = std::move(names);
}

void refacet(Finder& finder, const EntryFacts& facts, const QSet<QString>& ids)
{
    for (const QString& id : ids)
        if (finder.indexOf(id) >= 0)
            finder.refacet(id, facts);
}

} // namespace

Result<Rules> readRules(Store& store)
{
    auto collections = store.collections.all();
    auto sets = store.working_sets.all();
    auto in_use = store.working_sets.inUse();
    if (const Error* error = firstError(collections, sets, in_use))
        return tl::make_unexpected(*error);
    std::erase_if(*collections, [](const Collection& c) { return !c.byRule(); });
    return Rules{std::move(*collections), std::move(*sets), *in_use};
}

std::vector<char> membersOf(const Finder& finder, const WorkingSet& set)
{
    std::vector<char> members(finder.entries().size(), 0);
    if (!set.rule.isEverything())
        members = finder.matching(set.rule);
    for (const QString& id : set.ids)
        if (const int at = finder.indexOf(id); at >= 0)
            members[static_cast<std::size_t>(at)] = 1;
    if (set.all_but)
        for (char& member : members)
            member = member ? 0 : 1;
    return members;
}

QStringList applyRules(Finder& finder, EntryFacts& facts, const Rules& rules)
{
    QSet<QString> all_changed;
    Names by_rule;
    for (const Collection& collection : rules.collections)
        if (const auto asked = queryFromRule(collection.rule))
            add(by_rule, finder, finder.matching(*asked), collection.name);
    exchange(facts.by_rule, std::move(by_rule), all_changed);
    refacet(finder, facts, all_changed); // so that working sets can ask for them

    QSet<QString> changed;
    Names sets;
    QSet<QString> not_offered;
    for (const WorkingSet& set : rules.sets) {
        const auto members = membersOf(finder, set);
        add(sets, finder, members, set.name);
        for (std::size_t i = 0; set.row_id == rules.in_use && i < members.size(); ++i)
            if (!members[i])
                not_offered.insert(finder.entries()[i].id);
    }
    exchange(facts.working_sets, std::move(sets), changed);
    changed += (not_offered - facts.not_offered) + (facts.not_offered - not_offered);
    facts.not_offered = std::move(not_offered);
    refacet(finder, facts, changed);
    all_changed += changed;
    return all_changed.values();
}

} // namespace hr::library
