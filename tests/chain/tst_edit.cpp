// SPDX-License-Identifier: GPL-3.0-or-later
//
// Every edit of a chain returns one that runs, whatever was edited before, or says why not.
#include "chain/chains.h"
#include "chain/changes.h"
#include "chain/edit.h"
#include "chain/part.h"
#include "support/fixtures.h"

#include <random>

using namespace hr;
using namespace hr::chain;
using processors::chain_output;

class tst_edit : public QObject {
    Q_OBJECT

    static Node stage(const std::string& processor)
    {
        Node node;
        node.processor = processor;
        return node;
    }
    static std::vector<std::string> order(const Chain& chain)
    {
        std::vector<std::string> processors;
        for (const Node& node : chain.nodes)
            if (node.kind == NodeKind::Stage)
                processors.push_back(node.processor);
        return processors;
    }
    using Order = std::vector<std::string>;
    static bool runs(const Chain& chain)
    {
        return chain.nodes.empty() || processors::compile(chain.graph()).has_value();
    }

private slots:
    void aPlainChainStaysPlain()
    {
        auto chain = insertBefore({}, chain_output, stage("a"));
        HR_VERIFY(chain);
        chain = insertBefore(*chain, chain_output, stage("c"));
        HR_VERIFY(chain);
        chain = insertBefore(*chain, chain->nodes[1].id, stage("b"));
        HR_VERIFY(chain);
        QCOMPARE(order(*chain), (Order{"a", "b", "c"}));
        QVERIFY(chain->isSeries());
        const std::string a = chain->nodes[0].id;
        const std::string c = chain->nodes[2].id;
        QCOMPARE(order(*chain::move(*chain, a, chain_output)), (Order{"b", "c", "a"}));
        QCOMPARE(order(*chain::move(*chain, c, a)), (Order{"c", "a", "b"}));
        QCOMPARE(order(*step(*chain, a, Along::Later)), (Order{"b", "a", "c"}));
        QCOMPARE(order(*step(*chain, c, Along::Earlier)), (Order{"a", "c", "b"}));
        QVERIFY(!step(*chain, a, Along::Earlier) && !step(*chain, c, Along::Later));
        QCOMPARE(order(*chain::remove(*chain, {a, c})), (Order{"b"}));
        QVERIFY(chain::remove(*chain, {a, chain->nodes[1].id, c})->nodes.empty());
        QCOMPARE(order(*chain::paste(*chain, c, *copyOf(*chain, {a, c}))), (Order{"a", "b", "a", "c", "c"}));
        QVERIFY(chain::move(*chain, a, chain_output)->isSeries());
    }

    void splitsHealWhenTheyAreRemoved()
    {
        const Chain plain = test::series("plain", {"a", "b", "c"});
        const std::string b = plain.nodes[1].id;
        const auto banded = splitIntoBands(plain, b, {250, 2500}, 1);
        HR_VERIFY(banded);
        QCOMPARE(banded->nodes.size(), std::size_t{5});
        const auto split = std::ranges::find(banded->nodes, NodeKind::Bands, &Node::kind);
        // The band's stage gone, the bands add up to what they were of; the split gone, so is all of it.
        HR_VERIFY(chain::remove(*banded, {b}));
        const auto whole = chain::remove(*banded, {split->id});
        HR_VERIFY(whole);
        QCOMPARE(order(*whole), (Order{"a", "b", "c"}));
        QVERIFY(whole->isSeries());
        const auto sides = splitIntoMidAndSide(plain, b);
        HR_VERIFY(sides);
        const auto parts = std::ranges::find(sides->nodes, NodeKind::MidSide, &Node::kind);
        QVERIFY(chain::remove(*sides, {parts->id})->isSeries());
        const auto rejoin = std::ranges::find(sides->nodes, NodeKind::Rejoin, &Node::kind);
        QVERIFY(!chain::remove(*sides, {rejoin->id})); // by which half of the sound would be lost
    }

    void whatRunsBesideHeals()
    {
        const Chain plain = test::series("plain", {"a", "b"});
        const auto beside = putBeside(plain, plain.nodes[1].id, stage("x"));
        HR_VERIFY(beside);
        const auto x = std::ranges::find(beside->nodes, std::string("x"), &Node::processor);
        const auto branch = std::ranges::find(beside->nodes, NodeKind::Branch, &Node::kind);
        HR_VERIFY(chain::remove(*beside, {x->id}));
        const auto back = chain::remove(*beside, {x->id, branch->id});
        HR_VERIFY(back);
        const auto sent = sendFrom(plain, plain.nodes[0].id, stage("reverb"));
        HR_VERIFY(sent);
        QCOMPARE(order(*sent).size(), std::size_t{3});
        // A stage at the end comes behind the sum of both ways.
        const auto longer = insertBefore(*sent, chain_output, stage("limiter"));
        HR_VERIFY(longer);
        QCOMPARE(order(*longer).back(), std::string("limiter"));
    }

    void pathsAreLedElsewhere()
    {
        const Chain plain = test::series("plain", {"a", "b", "c"});
        const auto both = putBeside(plain, "s2", stage("x"));
        HR_VERIFY(both);
        const std::string x = std::ranges::find(both->nodes, std::string("x"), &Node::processor)->id;
        const auto edges = both->graph().edges;
        const auto branch = *std::ranges::find(edges, x, &Edge::from);
        // It joins behind the last stage now; before it, the other way is all there is.
        const auto later = lead(*both, branch, {x, "", chain_output, ""});
        HR_VERIFY(later);
        QCOMPARE(std::ranges::count(later->edges, std::string(chain_output), &Edge::to), std::ptrdiff_t{2});
        QVERIFY(std::ranges::find(later->nodes, NodeKind::Sum, &Node::kind) == later->nodes.end());
        // And back: into a stage it comes by a sum.
        const auto back = lead(*later, {x, "", chain_output, ""}, {x, "", "s3", ""});
        HR_VERIFY(back);
        QVERIFY(std::ranges::find(back->nodes, NodeKind::Sum, &Node::kind) != back->nodes.end());
        QVERIFY(test::why(lead(plain, {"s2", "", "s3", ""}, {"s2", "", "s1", ""}))
                    .contains(QStringLiteral("circle")));
        QVERIFY(test::why(lead(plain, {"s1", "", "s2", ""}, {"s1", "", "s3", ""}))
                    .contains(QStringLiteral("Nothing would feed \"s2\"")));
        QVERIFY(test::why(lead(plain, {"s1", "", "s2", ""}, {"in", "", "s2", ""}))
                    .contains(QStringLiteral("lead nowhere")));
        QVERIFY(!lead(plain, {"s1", "", "s3", ""}, {"s1", "", "s2", ""}));
    }

    void keysListenToEarlierPoints()
    {
        const Chain plain = test::series("plain", {"a", "b", "c"});
        const auto keyed = keyFrom(plain, "s3", "s1");
        HR_VERIFY(keyed);
        const auto key = std::ranges::find(keyed->nodes, NodeKind::Key, &Node::kind);
        QVERIFY(key != keyed->nodes.end() && keyed->node("s3")->key == processors::KeySource::Wired);
        const auto heard = keyOf(*keyed, "s3");
        HR_VERIFY(heard);
        QCOMPARE(order(*heard), (Order{"a"}));
        QCOMPARE(heard->nodes.size(), std::size_t{2}); // and its filter
        QCOMPARE(order(*keyOf(plain, "s3")), (Order{"a", "b"}));
        const auto from_in = keyFrom(*keyed, "s3", processors::chain_input);
        HR_VERIFY(from_in);
        QVERIFY(keyOf(*from_in, "s3")->nodes.size() == 1);
        const auto own = setKey(*from_in, "s3", processors::KeySource::Own);
        HR_VERIFY(own);
        QVERIFY(own->isSeries() && own->nodes.size() == 3);
        QVERIFY(!keyOf(*setKey(plain, "s3", processors::KeySource::None), "s3"));
        QVERIFY(test::why(keyFrom(plain, "s1", "s2")).contains(QStringLiteral("behind")));
    }

    void onePathIsHeardAlone()
    {
        const Chain plain = test::series("plain", {"a", "b", "c"});
        const auto both = putBeside(plain, "s2", stage("x"));
        HR_VERIFY(both);
        const std::string x = std::ranges::find(both->nodes, std::string("x"), &Node::processor)->id;
        QCOMPARE(order(*throughOnly(*both, x)), (Order{"a", "x", "c"}));
        QCOMPARE(order(*throughOnly(*both, "s2")), (Order{"a", "b", "c"}));
        QCOMPARE(order(*throughOnly(*both, "s3")).size(), std::size_t{4});
        const auto banded = splitIntoBands(plain, "s2", {250, 2500}, 1);
        const auto band = throughOnly(*banded, "s2");
        HR_VERIFY(band);
        const auto split = std::ranges::find(band->nodes, NodeKind::Bands, &Node::kind)->id;
        QCOMPARE(std::ranges::count(band->edges, split, &Edge::from), std::ptrdiff_t{1});
        HR_VERIFY(throughOnly(*splitIntoMidAndSide(plain, "s2"), "s2"));
        const auto sent = sendFrom(plain, "s1", stage("hall"));
        const auto hall = std::ranges::find(sent->nodes, std::string("hall"), &Node::processor)->id;
        QCOMPARE(order(*throughOnly(*sent, hall)), (Order{"a", "hall"}));
    }

    void whatIsReplacedKeepsItsPlace()
    {
        Chain plain = test::series("plain", {"a", "b"});
        plain.nodes[0].purpose = "tame it";
        plain.nodes[0].settings = {{"threshold_db", -20}};
        plain.nodes[0].preset = "Loud";
        const auto other = replace(plain, plain.nodes[0].id, "z", "Zed", {{"level_db", 3}});
        HR_VERIFY(other);
        QCOMPARE(order(*other), (Order{"z", "b"}));
        QCOMPARE(other->nodes[0].purpose, plain.nodes[0].purpose);
        QCOMPARE(other->nodes[0].settings.at(0).key, std::string("level_db"));
        QVERIFY(other->nodes[0].preset.empty());
    }

    void whatHasChangedIsToldInWords()
    {
        const Chain before = test::series("c", {"a", "b", "c", "d"});
        const auto changes = [&](const Edited& after) {
            std::string all;
            for (const auto& line :
                 changesBetween(before, *after, [](const Node& node) { return node.processor; }))
                all += line + "; ";
            return all;
        };
        QCOMPARE(changes(before), std::string());
        QCOMPARE(changes(chain::move(before, "s1", chain_output)), std::string("a moved from 1 to 4; "));
        QCOMPARE(changes(chain::move(before, "s4", "s1")), std::string("d moved from 4 to 1; "));
        QCOMPARE(changes(chain::remove(before, {"s2"})), std::string("b removed; "));
        QCOMPARE(changes(insertBefore(before, "s1", stage("e"))), std::string("e added; "));
        QCOMPARE(changes(replace(before, "s2", "z", "Z")), std::string("z in its place; "));
        Chain other = before;
        other.nodes[0].settings = {{"gain_db", -3.5}};
        other.nodes[1].on = false;
        other.nodes[2].blend_percent = 40;
        other.nodes[3].purpose = "calm";
        QCOMPARE(changes(other), std::string("a: gain_db from its default to -3.5; b off; "
                                             "c: blend_percent 100 to 40; d: purpose \"calm\"; "));
        QCOMPARE(changesBetween(other, before, [](const Node& node) { return node.processor; }).front(),
                 std::string("a: gain_db -3.5 to its default"));
    }

    void whatIsNotThereIsSaid()
    {
        const Chain plain = test::series("plain", {"a"});
        QVERIFY(!chain::move(plain, "s9", chain_output) && !insertBefore(plain, "s9", stage("x")) &&
                !replace(plain, "s9", "x", "X") && !splitIntoBands(plain, plain.nodes[0].id, {500, 100}));
        QVERIFY(
            test::why(insertOn(plain, {"s8", "", "s9", ""}, stage("x"))).contains(QStringLiteral("no path")));
    }

    void whateverIsDoneToItItRuns()
    {
        std::mt19937 random(11);
        for (int chain_count = 0; chain_count < 200; ++chain_count) {
            Chain chain = test::series("random", {"a", "b", "c"});
            for (int edit = 0; edit < 40 && !chain.nodes.empty(); ++edit) {
                const auto any = [&] { return chain.nodes[random() % chain.nodes.size()].id; };
                Edited next;
                switch (random() % 12) {
                case 0:
                    next = insertBefore(chain, any(), stage("i"));
                    break;
                case 1:
                    next = insertBefore(chain, chain_output, stage("e"));
                    break;
                case 2:
                    next = chain::remove(chain, {any()});
                    break;
                case 3:
                    next = chain::move(chain, any(), any());
                    break;
                case 4:
                    next = putBeside(chain, any(), stage("p"));
                    break;
                case 5:
                    next = splitIntoBands(chain, any(), {200, 2000}, random() % 3);
                    break;
                case 6:
                    next = splitIntoMidAndSide(chain, any());
                    break;
                case 7:
                    next = sendFrom(chain, any(), stage("r"));
                    break;
                case 8:
                    next = keyFrom(chain, any(), any());
                    break;
                case 9:
                    next = setKey(chain, any(), processors::KeySource::Own);
                    break;
                case 10: {
                    const auto edges = chain.graph().edges;
                    const Edge path = edges[random() % edges.size()];
                    Edge as = path;
                    (random() % 2 ? as.to : as.from) = any();
                    next = lead(chain, path, as);
                    break;
                }
                default:
                    next = chain::paste(chain, any(), *copyOf(test::series("p", {"q", "r"}), {"s1", "s2"}));
                    break;
                }
                if (!next) {
                    QVERIFY2(!next.error().text.empty(), "an error without words");
                    continue;
                }
                QVERIFY2(runs(*next), qPrintable(QStringLiteral("%1, %2").arg(chain_count).arg(edit)));
                if (!next->nodes.empty()) // whatever is heard of it runs, too
                    HR_VERIFY(throughOnly(*next, next->nodes[random() % next->nodes.size()].id));
                if (next->nodes.size() > 40)
                    break;
                chain = std::move(*next);
            }
        }
    }
};

HR_TEST(tst_edit)
#include "tst_edit.moc"
