// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/preference.h"
#include "support/fixtures.h"

#include <numeric>
#include <set>

using namespace hr;
using audition::agreementOf;
using audition::PreferenceSheet;
using audition::Ranking;

class tst_preference : public QObject {
    Q_OBJECT

private slots:
    void chanceIsAsTabulated_data()
    {
        // M. Friedman 1937, tables of the exact distribution of chi-square r.
        QTest::addColumn<QString>("rankings");
        QTest::addColumn<double>("w");
        QTest::addColumn<double>("p_value");
        const auto row = [](const char* name, const QString& rankings, double w, double p) {
            QTest::newRow(name) << rankings << w << p;
        };
        row("three, three times the same", QStringLiteral("ABC ABC ABC"), 1, 0.0278);
        row("three, sums 4 5 9", QStringLiteral("ABC ABC BAC"), 0.7778, 0.194);
        row("three, sums 4 6 8", QStringLiteral("ABC BAC ACB"), 0.4444, 0.361);
        row("three, sums 5 6 7", QStringLiteral("ABC CAB BAC"), 0.1111, 0.944);
        row("three, a circle", QStringLiteral("ABC BCA CAB"), 0, 1);
        row("four, three times the same", QStringLiteral("DCBA DCBA DCBA"), 1, 0.0017);
        row("two, four of five", QStringLiteral("AB AB AB AB BA"), 0.36, 0.375);
    }
    void chanceIsAsTabulated()
    {
        QFETCH(QString, rankings);
        QFETCH(double, w);
        QFETCH(double, p_value);
        std::vector<std::string> texts;
        for (const QString& one : rankings.split(QLatin1Char(' ')))
            texts.push_back(one.toStdString());
        const auto figures = audition::preferenceFigures(texts);
        HR_VERIFY(figures);
        HR_NEAR((*figures)["w"].get<double>(), w, 1e-4);
        HR_NEAR((*figures)["p_value"].get<double>(), p_value, 5e-4);
    }

    void manyFollowChiSquare()
    {
        // Eight candidates in ten passes: too many to count. W = 1 is what chance hardly ever does.
        const std::vector<Ranking> same(10, Ranking{7, 6, 5, 4, 3, 2, 1, 0});
        const auto agreement = agreementOf(same);
        HR_NEAR(agreement.w, 1, 1e-12);
        QVERIFY(agreement.p_value > 0 && agreement.p_value < 1e-10);
        QCOMPARE(agreement.together, same.front());
        QCOMPARE(agreement.mean_ranks.front(), 8.0);
    }

    void ordersAreHiddenAndBalanced()
    {
        for (const std::size_t candidates : {2, 3, 5, 8}) {
            const int passes = static_cast<int>(2 * candidates);
            PreferenceSheet sheet(candidates, passes, 11);
            std::vector<std::vector<int>> at(candidates, std::vector<int>(candidates));
            std::vector<std::size_t> labels(candidates);
            std::iota(labels.begin(), labels.end(), std::size_t{0});
            for (int pass = 0; pass < passes; ++pass) {
                std::set<std::size_t> all;
                for (std::size_t label = 0; label < candidates; ++label) {
                    ++at[sheet.behind(label)][label];
                    all.insert(sheet.behind(label));
                }
                QCOMPARE(all.size(), candidates);
                sheet.rank(labels);
            }
            for (const auto& one : at)
                for (const int times : one)
                    QCOMPARE(times, 2);
        }
        PreferenceSheet one(4, 4, 1);
        PreferenceSheet other(4, 4, 2);
        bool differ = false;
        for (int pass = 0; pass < 4; ++pass) {
            for (std::size_t label = 0; label < 4; ++label)
                differ |= one.behind(label) != other.behind(label);
            one.rank({0, 1, 2, 3});
            other.rank({0, 1, 2, 3});
        }
        QVERIFY(differ);
    }

    void whoPrefersOneIsFound()
    {
        PreferenceSheet sheet(3, 4, 7);
        QVERIFY(!sheet.agreement());
        sheet.rank({0, 0, 1}); // no ranking
        QCOMPARE(sheet.answered(), 0);
        while (!sheet.isOver()) { // likes the candidates in the order 1, 2, 0, wherever they stand
            std::vector<std::size_t> labels;
            for (const std::size_t liked : {1, 2, 0})
                for (std::size_t label = 0; label < 3; ++label)
                    if (sheet.behind(label) == liked)
                        labels.push_back(label);
            sheet.rank(labels);
        }
        const auto agreement = sheet.agreement();
        QVERIFY(agreement && agreement->showsPreference());
        QCOMPARE(agreement->together, (Ranking{1, 2, 0}));
        const auto document = sheet.toJson({"A", "B", "C"});
        QVERIFY(document["sentence"].get<std::string>().starts_with("B before C before A: agreement W = 1.00"));
        QCOMPARE(document["rankings"].size(), std::size_t{4});
        QCOMPARE(document["stopped_early"].get<bool>(), false);
    }

    void onceStoppedItStaysOnRecord()
    {
        PreferenceSheet sheet(3, 6, 7);
        sheet.stop();
        QVERIFY(sheet.isOver() && sheet.wasStopped() && !sheet.agreement());
        sheet.rank({0, 1, 2});
        QCOMPARE(sheet.answered(), 0);
        const auto document = sheet.toJson({"A", "B", "C"});
        QVERIFY(document["stopped_early"].get<bool>() && !document.contains("sentence"));
        const auto nothing = audition::preferenceFigures({"ABC", "CBA"});
        QVERIFY((*nothing)["sentence"].get<std::string>().starts_with("No preference shown"));
    }

    void nonsenseIsRefused()
    {
        for (const std::vector<std::string>& rankings :
             {std::vector<std::string>{}, {""}, {"A"}, {"AB", "ABC"}, {"AA"}, {"ac"}, {"ABCDEFGHI"}}) {
            const auto refused = audition::preferenceFigures(rankings);
            QVERIFY(!refused && refused.error().blame == Blame::Request);
        }
    }
};

HR_TEST(tst_preference)
#include "tst_preference.moc"
