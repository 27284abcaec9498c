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
        const auto pooled = audition::pooledAbx(all);
        QCOMPARE(pooled.at("trials").get<int>(), 2);
        QCOMPARE(pooled.at("correct").get<int>(), 19);
        QCOMPARE(pooled.at("p_value").get<double>(), audition::abxFigures(19, 26)->at("p_value").get<double>());
        const QString sentence = QString::fromStdString(pooled.at("sentence").get<std::string>());
        QVERIFY(sentence.startsWith(QStringLiteral("Pooled over 2 trials, 1 of them stopped early: 19 of 26")));
        QVERIFY(audition::pooledAbx(std::span(all).first(1)).is_null());
    }
};

HR_TEST(tst_trial)
#include "tst_trial.moc"
