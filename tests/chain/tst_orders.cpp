// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which stages may change places, in which orders, and what a chain is up to one of its nodes.
#include "chain/chain_json.h"
#include "chain/halves.h"
#include "chain/orders.h"
#include "chain/part.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::chain;

namespace {

using Ids = std::vector<std::string>;

/// in -> a -> bands -> (b -> c | d) -> sum -> e -> out, with a key into e from a.
Chain branching()
{
    Chain chain;
    for (const char* id : {"a", "b", "c", "d", "e"}) {
        Node& stage = addStage(chain, std::string("lv2:") + id);
        stage.id = id;
    }
    Node bands;
    bands.id = "x";
    bands.kind = NodeKind::Bands;
    bands.crossovers_hz = {500};
    Node sum;
    sum.id = "y";
    sum.kind = NodeKind::Sum;
    chain.nodes.push_back(bands);
    chain.nodes.push_back(sum);
    chain.edges = {{"in", "", "a", ""},      {"a", "", "x", ""},   {"x", "band_1", "b", ""}, {"b", "", "c", ""},
                   {"x", "band_2", "d", ""}, {"c", "", "y", ""},   {"d", "", "y", ""},       {"y", "", "e", ""},
                   {"e", "", "out", ""},     {"a", "", "e", "key"}};
    return chain;
}

Chain row(const Ids& ids)
{
    Chain chain;
    for (const std::string& id : ids)
        addStage(chain, "lv2:" + id).id = id;
    return chain;
}

} // namespace

class tst_orders : public QObject {
    Q_OBJECT

private slots:
    void onlyStagesOfOnePathMay_data()
    {
        QTest::addColumn<QString>("named");
        QTest::addColumn<QString>("says"); // empty: they may
        const auto add = [](const char* named, const char* says) {
            QTest::newRow(named) << QString::fromLatin1(named) << QString::fromLatin1(says);
        };
        add("e a", ""); // around the bands
        add("b c", "");
        add("b d", "not on one path");
        add("a b", "not on one path");
        add("a", "Fewer than two");
        add("a a", "twice");
        add("a x", "no stage \"x\"");
        add("a nobody", "no stage \"nobody\"");
    }
    void onlyStagesOfOnePathMay()
    {
        QFETCH(const QString, named);
        QFETCH(const QString, says);
        Ids ids;
        for (const QString& one : named.split(QLatin1Char(' ')))
            ids.push_back(one.toStdString());
        const auto stages = movable(branching(), ids);
        QCOMPARE(stages.has_value(), says.isEmpty());
        if (stages)
            QVERIFY(std::ranges::is_sorted(*stages)); // as the sound passes them
        else
            QVERIFY2(QString::fromStdString(stages.error().text).contains(says), stages.error().text.c_str());
        QVERIFY(!movable(row({"a", "b", "c", "d", "e", "f"}), {"a", "b", "c", "d", "e", "f"}));
    }

    void marksAreKeptInTheFile()
    {
        Chain chain = row({"a", "b", "c"});
        chain.nodes[0].may_move = chain.nodes[2].may_move = true;
        const auto again = fromJson(toJson(chain));
        HR_VERIFY(again);
        const auto stages = movable(*again, {});
        HR_VERIFY(stages);
        QCOMPARE(*stages, (Ids{"a", "c"}));
        auto broken = toJson(chain);
        broken["nodes"][0]["may_move"] = "yes";
        QVERIFY(!fromJson(broken));
    }

    void whatDoesNotMoveKeepsItsPlace()
    {
        const Ids abc{"a", "c", "d"};
        const auto orders = ordersOf(abc);
        QCOMPARE(orders.size(), std::size_t{6});
        QCOMPARE(orders.front(), abc);
        const auto other = reordered(row({"a", "b", "c", "d"}), abc, {"d", "a", "c"});
        HR_VERIFY(other);
        QCOMPARE(*scheduleOf(*other), (Ids{"d", "b", "a", "c"}));
        // A key goes with its stage; where it would come from behind it, the order does not run.
        const auto around = reordered(branching(), {"a", "e"}, {"e", "a"});
        QVERIFY(!around);
        const auto inside = reordered(branching(), {"b", "c"}, {"c", "b"});
        HR_VERIFY(inside);
        QVERIFY(std::ranges::count(inside->edges, Edge{"x", "band_1", "c", ""}) == 1 &&
                std::ranges::count(inside->edges, Edge{"b", "", "y", ""}) == 1);
    }

    void aPartIsAllThatLeadsThere()
    {
        const Chain chain = branching();
        const auto part = upTo(chain, "c");
        HR_VERIFY(part);
        QCOMPARE(*scheduleOf(*part), (Ids{"a", "x", "b", "c"}));
        QVERIFY(endsWith(*part, "c") && endsWith(chain, "e") && !endsWith(chain, "d"));
        const auto bands = upTo(chain, "x");
        HR_VERIFY(bands);
        QCOMPARE(std::ranges::count(bands->edges, "out", &Edge::to), 2); // both bands, added up
        QVERIFY(!upTo(chain, "nobody"));
    }

    void whatHasMovedIsToldInWords()
    {
        const Ids built{"a", "b", "c", "d"};
        const auto moved = [&](const Ids& order) {
            const auto one = oneMoved(built, order);
            return !one ? std::string("-")
                        : one->stage + (one->to == OneMoved::To::First  ? " first"
                                        : one->to == OneMoved::To::Last ? " last"
                                                                        : " before " + one->other);
        };
        QCOMPARE(moved({"d", "a", "b", "c"}), std::string("d first"));
        QCOMPARE(moved({"b", "c", "d", "a"}), std::string("a last"));
        QCOMPARE(moved({"a", "c", "b", "d"}), std::string("c before b"));
        QCOMPARE(moved({"b", "a", "d", "c"}), std::string("-"));
        QCOMPARE(moved(built), std::string("-"));
        const Chain chain = row({"equaliser", "gate", "compressor", "filter"});
        const auto both = equaliserAndCompressor(
            chain, [](const std::string& processor) { return processor.substr(processor.find(':') + 1); });
        QVERIFY(both && both->equaliser == "filter" && both->compressor == "compressor");
    }

    /// Whichever of up to nine it is, halves find it in the fewest answers.
    void halvesFindTheOne()
    {
        for (std::size_t count = 1; count <= 9; ++count)
            for (std::size_t guilty = 0; guilty <= count; ++guilty) { // the last: none of them
                Ids stages;
                for (std::size_t i = 0; i < count; ++i)
                    stages.push_back(std::to_string(i));
                Halves search(stages);
                while (!search.toBypass().empty()) {
                    const auto bypassed = search.toBypass();
                    search.answer(std::ranges::find(bypassed, std::to_string(guilty)) == bypassed.end());
                    const auto suspects = search.suspects();
                    search.takeBack();
                    search.answer(std::ranges::find(bypassed, std::to_string(guilty)) == bypassed.end());
                    QVERIFY(search.suspects() == suspects);
                }
                QVERIFY(search.answers() <= 5);
                QCOMPARE(search.isElsewhere(), guilty == count);
                QVERIFY(guilty == count || search.found() == std::to_string(guilty));
            }
    }
};

HR_TEST(tst_orders)
#include "tst_orders.moc"
