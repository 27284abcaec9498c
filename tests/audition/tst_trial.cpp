// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/abx.h"
#include "audition/trial/pooled.h"
#include "support/fixtures.h"

using namespace hr;
using audition::AbxSheet;

class tst_trial : public QObject {
    Q_OBJECT

private slots:
    void chanceIsExact_data()
    {
        QTest::addColumn<int>("correct");
        QTest::addColumn<int>("rounds");
        QTest::addColumn<double>("chance");
        QTest::addColumn<double>("low");
        QTest::addColumn<double>("high");
        // Counted by hand (sums of binomial coefficients over 2^n); bounds from tables of the exact interval.
        QTest::newRow("12 of 16") << 12 << 16 << 2517.0 / 65536 << 0.47623 << 0.92734;
        QTest::newRow("9 of 16") << 9 << 16 << 26333.0 / 65536 << 0.29878 << 0.80247;
        QTest::newRow("15 of 16") << 15 << 16 << 17.0 / 65536 << 0.69768 << 0.99842;
        QTest::newRow("none of 10") << 0 << 10 << 1.0 << 0.0 << 0.30850;
        QTest::newRow("10 of 10") << 10 << 10 << 1.0 / 1024 << 0.69150 << 1.0;
    }
    void chanceIsExact()
    {
        QFETCH(const int, correct);
        QFETCH(const int, rounds);
        QFETCH(const double, chance);
        QFETCH(const double, low);
        QFETCH(const double, high);
        HR_NEAR(audition::chanceOfAtLeast(correct, rounds), chance, 1e-12);
        HR_NEAR(audition::shareRight(correct, rounds).low, low, 1e-5);
        HR_NEAR(audition::shareRight(correct, rounds).high, high, 1e-5);
    }

    void whatCountsAsHeard()
    {
        QVERIFY(!audition::leastToBeHeard(4));
        for (const auto& [rounds, least] : {std::pair(5, 5), {10, 9}, {16, 12}, {20, 15}, {25, 18}})
            QCOMPARE(*audition::leastToBeHeard(rounds), least);
        QCOMPARE(
            audition::forecast(16),
            std::string("With 16 rounds, 12 right would happen by chance 3.8 times in 100, and 13 right 1.1 "
                        "times in 100. Fewer than 12 shows nothing either way."));
        QCOMPARE(audition::verdict(9, 16),
                 std::string("9 of 16: chance alone does this well 40 times in 100."));
        QCOMPARE(audition::verdict(15, 16),
                 std::string("15 of 16: chance alone does this well 2.6 times in 10 000."));
        QCOMPARE(audition::verdict(0, 16), std::string("0 of 16: chance alone does this well always."));
    }

    void aSheetIsSettledBeforeTheFirstAnswer()
    {
        AbxSheet sheet(16, 7);
        AbxSheet again(16, 7);
        std::vector<bool> order;
        while (!sheet.isOver()) {
            order.push_back(sheet.xIsSecond());
            sheet.answer(true); // whatever is said, what comes next does not depend on it
            QCOMPARE(again.xIsSecond(), order.back());
            again.answer(false);
        }
        QCOMPARE(sheet.answered(), 16);
        QCOMPARE(sheet.correct(), static_cast<int>(std::ranges::count(order, true)));
        QCOMPARE(sheet.correct() + again.correct(), 16);
        sheet.answer(true);
        QCOMPARE(sheet.answered(), 16); // a round is answered once
        sheet.stop();
        QVERIFY(!sheet.wasStopped()); // nothing was left to stop
        QVERIFY(again.toJson()["answers"].size() == 16);
    }

    void xIsEitherWithoutAPattern()
    {
        int second = 0;
        int changes = 0;
        constexpr int sheets = 400;
        for (int seed = 0; seed < sheets; ++seed) {
            AbxSheet sheet(25, static_cast<std::uint64_t>(seed));
            bool before = sheet.xIsSecond();
            for (; !sheet.isOver(); sheet.answer(false)) {
                second += sheet.xIsSecond();
                changes += sheet.xIsSecond() != before;
                before = sheet.xIsSecond();
            }
        }
        HR_NEAR(second / (25.0 * sheets), 0.5, 0.02);  // four standard errors of a fair coin
        HR_NEAR(changes / (24.0 * sheets), 0.5, 0.02); // and of one that does not remember
    }

    void stoppingEarlyStaysOnRecord()
    {
        AbxSheet sheet(16, 1);
        QVERIFY(sheet.sentence().empty()); // nothing is told while it goes on
        for (int i = 0; i < 6; ++i)
            sheet.answer(sheet.xIsSecond());
        sheet.stop();
        QVERIFY(sheet.isOver());
        const auto json = sheet.toJson();
        QCOMPARE(json["stopped_early"].get<bool>(), true);
        QCOMPARE(json["rounds"].get<int>(), 16);
        QCOMPARE(json["answered"].get<int>(), 6);
        HR_NEAR(json["p_value"].get<double>(), 1.0 / 64, 1e-12);
        QVERIFY(sheet.sentence().find("stopped after 6 of 16") != std::string::npos);
        AbxSheet unanswered(10, 1);
        unanswered.stop();
        QVERIFY(unanswered.toJson()["p_value"].is_null()); // nothing was to be measured
    }

    void whatNoTrialCanHaveIsRefused()
    {
        for (const auto& [correct, rounds] : {std::pair(5, 4), {-1, 4}, {0, 0}, {1, -3}}) {
            const auto figures = audition::abxFigures(correct, rounds);
            QVERIFY(!figures);
            QCOMPARE(figures.error().blame, Blame::Request);
        }
    }

    void trialsArePooledAndItSaysSo()
    {
        const auto trial = [](int answered, int correct, bool stopped) {
            return nlohmann::ordered_json{
                {"kind", "abx"},
                {"result", {{"answered", answered}, {"correct", correct}, {"stopped_early", stopped}}}};
        };
        const std::vector<nlohmann::ordered_json> all{trial(16, 12, false),
                                                      trial(10, 7, true),
                                                      {{"kind", "rating"}, {"result", {{"answered", 3}}}},
                                                      trial(0, 0, true),
                                                      nlohmann::ordered_json("rubbish")};
        const auto pooled = audition::pooledTrials(all);
        QCOMPARE(pooled.at("trials").get<int>(), 2);
        QCOMPARE(pooled.at("correct").get<int>(), 19);
        QCOMPARE(pooled.at("p_value").get<double>(), audition::abxFigures(19, 26)->at("p_value").get<double>());
        const QString sentence = QString::fromStdString(pooled.at("sentence").get<std::string>());
        QVERIFY(sentence.startsWith(QStringLiteral("Pooled over 2 trials, 1 of them stopped early: 19 of 26")));
        QVERIFY(audition::pooledTrials(std::span(all).first(1)).is_null());
    }

    /// The same ones under other letters; order of candidates is of no account.
    void preferencesArePooledByWhoStandsBehindALetter()
    {
        using nlohmann::ordered_json;
        const auto trial = [](const char* first, const char* second, double gain_db, const char* best) {
            const ordered_json one{{"name", first}, {"processor", "p"}, {"settings", {{"gain_db", gain_db}}}};
            const ordered_json two{{"name", second}, {"processor", "q"}, {"settings", {{"x", 1}}}};
            const auto ranking = ordered_json::array({best, best == std::string(first) ? second : first});
            return ordered_json{{"kind", "preference"},
                                {"candidates", ordered_json::array({one, two})},
                                {"result",
                                 {{"answered", 3},
                                  {"rankings", ordered_json::array({ranking, ranking, ranking})},
                                  {"stopped_early", false}}}};
        };
        const std::vector<ordered_json> all{trial("A", "B", 3, "A"),
                                            trial("C", "A", 3, "C"),
                                            trial("A", "B", 4, "B"), // another setting
                                            {{"kind", "preference"}, {"result", {{"answered", 2}}}}};
        const auto pooled = audition::pooledTrials(all);
        QCOMPARE(pooled.at("trials").get<int>(), 2);
        QCOMPARE(pooled.at("answered").get<int>(), 6);
        QCOMPARE(pooled.at("w").get<double>(), 1.0);
        HR_NEAR(pooled.at("p_value").get<double>(), 2.0 / 64, 1e-9);
        const std::string sentence = pooled.at("sentence");
        QVERIFY(sentence.starts_with("Pooled over 2 trials: A before B"));
        QVERIFY(sentence.ends_with("than one trial of that length."));
        QVERIFY(audition::pooledTrials(std::span(all).subspan(1, 2)).is_null());
    }

    void gradesArePooledOfListenersWhoAreCounted()
    {
        using nlohmann::ordered_json;
        const auto trial = [](const char* name, int grade, bool counted) {
            const ordered_json pass{
                {"reference", counted ? 100 : 40}, {"anchor_3k5", 20}, {"anchor_7k", 50}, {name, grade}};
            return ordered_json{
                {"kind", "rating"},
                {"candidates", ordered_json::array({ordered_json{
                                   {"name", name}, {"processor", "p"}, {"settings", {{"gain_db", 3}}}}})},
                {"result",
                 {{"answered", 2}, {"counted", counted}, {"answers", ordered_json::array({pass, pass})}}}};
        };
        const std::vector<ordered_json> all{trial("A", 60, true), trial("B", 80, true), trial("A", 10, false)};
        const auto pooled = audition::pooledTrials(all);
        QCOMPARE(pooled.at("trials").get<int>(), 2);
        QCOMPARE(pooled.at("grades").at("A").at("median").get<double>(), 70.0);
        const std::string sentence = pooled.at("sentence");
        QVERIFY(sentence.starts_with("Pooled over 2 trials, 1 more not counted: "));
        auto rubbish = all;
        rubbish[1]["result"]["answers"] = ordered_json::array({ordered_json{{"B", "splendid"}}});
        QVERIFY(audition::pooledTrials(rubbish).is_null());
    }
};

HR_TEST(tst_trial)
#include "tst_trial.moc"
