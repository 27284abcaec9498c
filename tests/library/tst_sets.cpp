// SPDX-License-Identifier: GPL-3.0-or-later
//
// What decides which processors are listed: folders, rules, working sets, builds.
#include "library/find/membership.h"
#include "library/find/rule.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::library;
using test::TemporaryStore;

class tst_sets : public QObject {
    Q_OBJECT

    static QString q(const char* text) { return QString::fromUtf8(text); }
    static Entry entryOf(const char* id, const char* name, const char* kind, const char* maker = "Fathom Audio")
    {
        Entry entry;
        entry.id = q(id);
        entry.name = q(name);
        entry.maker = q(maker);
        entry.kind = q(kind);
        entry.format = q("LV2");
        entry.bundle = q("/somewhere/") + entry.id;
        entry.audio_in = entry.audio_out = 2;
        return entry;
    }
    static std::vector<Entry> three()
    {
        return {entryOf("a", "Quay", "compressor"), entryOf("b", "Pier", "limiter"),
                entryOf("c", "Mole", "reverb", "Ebb")};
    }
    static QStringList found(const Finder& finder, const Query& asked)
    {
        QStringList ids;
        for (const int row : finder.find(asked).rows)
            ids << finder.entries()[static_cast<std::size_t>(row)].id;
        ids.sort();
        return ids;
    }

private slots:
    void foldersAreAddedSwitchedOffAndTakenAway()
    {
        TemporaryStore kept;
        QTemporaryDir place;
        Folders& folders = kept.store->folders;
        const auto standard = folders.used()->size();
        HR_VERIFY(folders.add(place.path() + q("/.")));
        QCOMPARE(folders.used()->size(), standard + 1);
        for (const QString& bad : {place.path(), q("relative"), q("/nowhere/at/all"), q("")})
            QVERIFY2(!folders.add(bad), qPrintable(bad));
        HR_VERIFY(folders.setUsed(place.path(), false));
        QCOMPARE(folders.used()->size(), standard);
        QVERIFY(folders.all()->back().own && !folders.all()->back().used);
        const QString first = folders.all()->front().path;
        HR_VERIFY(folders.setUsed(first, false));
        HR_VERIFY(folders.remove(first)); // a standard one stays, switched off
        QVERIFY(!folders.all()->front().used);
        HR_VERIFY(folders.remove(place.path()));
        QCOMPARE(folders.all()->size(), standard);
    }

    void rulesSurviveAsText()
    {
        const Query asked{q("warm “glue”"),
                          {{Facet::Kind, q("compressor"), true}, {Facet::Maker, q("Ebb & Flow"), false}},
                          {Order::Figure, q("noise.idle_dbfs")}};
        QCOMPARE(*queryFromRule(ruleText(asked)), asked);
        QVERIFY(!queryFromRule(q("no rule")) && !queryFromRule({}));
        const auto odd =
            queryFromRule(q(R"({"text": 3, "choices": [{"facet": "taste"}, 7], "order": "alphabet"})"));
        QVERIFY(odd && odd->isEverything());
    }

    void collectionsByRuleAndWorkingSetsKeepUp()
    {
        Finder finder;
        EntryFacts beside;
        auto entries = three();
        finder.fill(entries, beside);
        Rules rules;
        rules.collections.push_back(
            {1, q("dynamics"), 0, ruleText({{}, {{Facet::Kind, q("dynamics"), false}}})});
        rules.sets.push_back({1, q("job"), {{}, {{Facet::Collection, q("dynamics"), false}}}, {q("c")}, false});
        rules.sets.push_back({2, q("no reverbs"), {{}, {{Facet::Kind, q("reverb"), false}}}, {}, true});
        applyRules(finder, beside, rules);
        QCOMPARE(found(finder, {{}, {{Facet::Collection, q("dynamics"), false}}}),
                 (QStringList{q("a"), q("b")}));
        QCOMPARE(found(finder, {{}, {{Facet::WorkingSet, q("job"), false}}}),
                 (QStringList{q("a"), q("b"), q("c")}));

        rules.in_use = 2; // what is not offered is only found when hidden ones are asked for
        QCOMPARE(applyRules(finder, beside, rules), QStringList{q("c")});
        QCOMPARE(found(finder, {}), (QStringList{q("a"), q("b")}));
        QCOMPARE(found(finder, {{}, {{Facet::State, q("hidden"), false}}}), QStringList{q("c")});

        entries[0].kind = q("reverb"); // a rule keeps itself up to date
        finder.replace(entries[0], beside);
        applyRules(finder, beside, rules);
        QCOMPARE(found(finder, {{}, {{Facet::Collection, q("dynamics"), false}}}), QStringList{q("b")});
        QCOMPARE(found(finder, {}), QStringList{q("b")});
        rules.in_use = 0;
        applyRules(finder, beside, rules);
        QCOMPARE(found(finder, {}).size(), 3);
    }

    void workingSetsAreKept()
    {
        TemporaryStore kept;
        WorkingSets& sets = kept.store->working_sets;
        WorkingSet set{0, q(" Crossing "), {q("warm"), {}}, {q("a"), q("b")}, true};
        const auto number = sets.put(set);
        HR_VERIFY(number);
        QVERIFY(!sets.put(set) && !sets.put({}));
        HR_VERIFY(sets.use(*number));
        QCOMPARE(*sets.inUse(), *number);
        const WorkingSet read = sets.all()->front();
        QCOMPARE(read.name, q("Crossing"));
        QCOMPARE(read.ids, set.ids);
        QCOMPARE(read.rule.text, q("warm"));
        QVERIFY(read.all_but);
        HR_VERIFY(sets.remove(*number));
        QCOMPARE(*sets.inUse(), 0); // everything is offered again
    }

    void figuresSortWithTheUnmeasuredLast()
    {
        Finder finder;
        EntryFacts beside;
        const auto figures = [](const QHash<QString, double>& known) {
            Figures of_one;
            for (const ListFigure& figure : listFigures())
                of_one.values.push_back(known.contains(figure.key()) ? std::optional(known[figure.key()])
                                                                     : std::nullopt);
            return of_one;
        };
        beside.figures.insert(q("b"), figures({{q("harmonics.thd_percent"), 0.5},
                                               {q("cost.realtime_factor"), 100.0},
                                               {q("cost.latency_found_samples"), 64.0},
                                               {q("loudness_shift.shift_lu"), -3.0},
                                               {q("noise.idle_dbfs"), -90.0}}));
        beside.figures.insert(q("c"), figures({{q("harmonics.thd_percent"), 0.1},
                                               {q("cost.realtime_factor"), 900.0},
                                               {q("cost.latency_found_samples"), 0.0},
                                               {q("loudness_shift.shift_lu"), 1.0},
                                               {q("noise.idle_dbfs"), -80.0}}));
        finder.fill(three(), beside);
        const auto order = [&](const char* figure) {
            QString ids;
            for (const int row : finder.find({{}, {}, {Order::Figure, q(figure)}}).rows)
                ids += finder.entries()[static_cast<std::size_t>(row)].id;
            return ids;
        };
        QCOMPARE(order("harmonics.thd_percent"), q("cba"));
        QCOMPARE(order("cost.realtime_factor"), q("cba"));
        QCOMPARE(order("cost.latency_found_samples"), q("cba"));
        QCOMPARE(order("loudness_shift.shift_lu"), q("cba"));
        QCOMPARE(order("noise.idle_dbfs"), q("bca"));
    }

    void kindsStandOnATree()
    {
        Finder finder;
        finder.fill(three(), {});
        QCOMPARE(found(finder, {{}, {{Facet::Kind, q("dynamics"), false}}}), (QStringList{q("a"), q("b")}));
        QStringList kinds;
        const auto everything = finder.find({});
        for (const FacetCount& c : everything.counts[static_cast<std::size_t>(Facet::Kind)])
            kinds << c.value;
        QCOMPARE(kinds, (QStringList{q("dynamics"), q("compressor"), q("limiter"), q("reverb")}));
    }

    void buildsAreProposedJoinedAndSplit()
    {
        std::vector<Entry> entries{entryOf("m", "Quay Leveller mono", "compressor"),
                                   entryOf("s", "Quay Leveller stereo", "compressor"),
                                   entryOf("l", "Quay Leveller v2", "", "Fathom Audio <quay@fathom.example>"),
                                   entryOf("x", "Quay Leveller", "compressor", "Somebody Else"),
                                   entryOf("2", "Echo 2", "delay"),
                                   entryOf("3", "Echo", "delay", "Ebb")};
        entries[0].audio_in = entries[0].audio_out = 1;
        entries[2].format = q("LADSPA");
        const auto proposed = proposedBuilds(entries, {});
        QCOMPARE(proposed.size(), std::size_t{1});
        QCOMPARE(proposed.front(), (QStringList{q("s"), q("l"), q("m")}));
        QHash<QString, QString> alone;
        for (const QString& id : proposed.front())
            alone.insert(id, id);
        QVERIFY(proposedBuilds(entries, alone).empty());

        TemporaryStore kept;
        Builds& builds = kept.store->builds;
        HR_VERIFY(builds.join(proposed.front()));
        QCOMPARE(builds.joined()->value(q("m")), q("s"));
        Finder finder;
        EntryFacts beside;
        beside.under = *builds.joined();
        finder.fill(entries, beside);
        QCOMPARE(found(finder, {q("leveller"), {}}), (QStringList{q("s"), q("x")}));
        HR_VERIFY(builds.keepApart({q("m")}));
        QVERIFY(!builds.joined()->contains(q("m")) && builds.decided()->contains(q("m")));
        HR_VERIFY(builds.join({q("x"), q("s")})); // what stood under one stands under the other
        QCOMPARE(builds.joined()->value(q("l")), q("x"));
        HR_VERIFY(builds.decide({}));
        QVERIFY(builds.decided()->isEmpty());

        QCOMPARE(fittingBuild(entries, 1)->id, q("m"));
        QCOMPARE(fittingBuild(entries, 2)->id, q("s"));
        QCOMPARE(fittingBuild({entries[0]}, 2)->id, q("m")); // it will run twice
        entries[1].state = State::Quarantined;
        QCOMPARE(fittingBuild({entries[1], entries[0]}, 2)->id, q("m"));
        QVERIFY(!fittingBuild({}, 2));
    }
};

HR_TEST(tst_sets)
#include "tst_sets.moc"
