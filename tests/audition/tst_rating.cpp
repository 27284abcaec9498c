// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/trial/orders.h"
#include "audition/trial/rating.h"
#include "bench/response.h"
#include "bench/suite.h"
#include "support/fixtures.h"

using namespace hr;
using audition::RatingSheet;

class tst_rating : public QObject {
    Q_OBJECT

    /// Everyone is graded by who they are.
    static RatingSheet graded(const std::vector<std::vector<int>>& of_hidden)
    {
        RatingSheet sheet(of_hidden.front().size() - RatingSheet::first_candidate,
                          static_cast<int>(of_hidden.size()), 7);
        for (const auto& grades : of_hidden) {
            std::vector<int> of_labels;
            for (std::size_t label = 0; label < sheet.hidden(); ++label)
                of_labels.push_back(grades[sheet.behind(label)]);
            sheet.grade(of_labels);
        }
        return sheet;
    }

private slots:
    void ordersAreBalanced()
    {
        for (const std::size_t hidden : {2, 5, 11}) {
            const auto orders = audition::balancedOrders(hidden, static_cast<int>(hidden), 3);
            for (std::size_t label = 0; label < hidden; ++label) {
                std::set<std::size_t> seen;
                for (const auto& order : orders)
                    seen.insert(order[label]);
                QCOMPARE(seen.size(), hidden);
            }
        }
    }

    void gradesAreThoseOfWhoWasBehind()
    {
        const auto sheet = graded({{100, 10, 40, 80}, {100, 20, 50, 70}, {95, 30, 60, 90}, {100, 20, 50, 85}});
        QVERIFY(sheet.isOver());
        const auto grades = sheet.grades();
        HR_NEAR(grades[RatingSheet::low_anchor].median, 20, 0);
        HR_NEAR(grades[RatingSheet::first_candidate].median, 82.5, 0);
        // 70, 80, 85, 90: quartiles a quarter of the way between neighbours; t(0.975, 3) = 3.18245.
        HR_NEAR(grades[RatingSheet::first_candidate].lower_quartile, 77.5, 1e-12);
        HR_NEAR(grades[RatingSheet::first_candidate].upper_quartile, 86.25, 1e-12);
        HR_NEAR(*grades[RatingSheet::first_candidate].mean_within, 3.18245 * 8.539126 / 2, 1e-3);
        QVERIFY(sheet.screening().isCounted());
        const auto json = sheet.toJson({"the source", "low", "mid", "A"});
        QCOMPARE(json["sentence"].get<std::string>(),
                 std::string("Median grades: the source 100, A 82.5, mid 50, low 20."));
        QCOMPARE(json["answers"][2]["A"].get<int>(), 90);
    }

    void whoDoesNotHearTheReferenceIsNotCounted()
    {
        std::vector<std::vector<int>> passes(7, {100, 10, 40, 80});
        passes[3][RatingSheet::reference] = 89;
        QVERIFY(graded(passes).screening().isCounted()); // 1 of 7: 14.3 in 100
        passes.pop_back();
        const auto sheet = graded(passes);
        QVERIFY(!sheet.screening().isCounted());
        QVERIFY(sheet.sentence({"S", "l", "m", "A"}).find("graded below 90 in 1 of 6 passes") !=
                std::string::npos);
        QVERIFY(!sheet.toJson({"S", "l", "m", "A"})["counted"].get<bool>());
        for (auto& pass : passes)
            pass[RatingSheet::mid_anchor] = 91;
        QVERIFY(graded(passes).screening().sentence().find("7 kHz") != std::string::npos);
    }

    void whatIsNoPassIsNotTaken()
    {
        RatingSheet sheet(1, 2, 1);
        sheet.grade({100, 100, 100});
        sheet.grade({100, 100, 100, 101});
        QCOMPARE(sheet.answered(), 0);
        sheet.grade({1, 2, 3, 4});
        QVERIFY(sheet.grades().empty()); // nothing is told while it goes on
        sheet.stop();
        QCOMPARE(sheet.grades().size(), std::size_t{4});
        QVERIFY(sheet.toJson({"S", "l", "m", "A"})["stopped_early"].get<bool>());
        for (const char* text : {"", "A", "A=", "=5", "A=101", "A=-1", "A=5x", "A=5,A=6"})
            QCOMPARE(audition::ratingFigures({text}).error().blame, Blame::Request);
        QVERIFY(!audition::ratingFigures({"A=5", "B=5"}));
        QVERIFY(!audition::ratingFigures({}));
        const auto figures = audition::ratingFigures({"reference=80,A=70", "reference=100,A=90"});
        HR_VERIFY(figures);
        HR_NEAR((*figures)["grades"]["A"]["median"].get<double>(), 80, 0);
        QVERIFY(!(*figures)["counted"].get<bool>());
    }

    void anchorsAreAsTheRecommendationHasThem()
    {
        for (const double rate_hz : {44100.0, 48000.0, 96000.0})
            for (const double cutoff_hz : {RatingSheet::low_anchor_hz, RatingSheet::mid_anchor_hz}) {
                bench::Conditions conditions;
                conditions.sample_rate_hz = rate_hz;
                const auto reading =
                    test::readingOf("response", "anchor", {{"cutoff_hz", cutoff_hz}}, conditions);
                QVERIFY(reading);
                const auto& magnitude = reading->series.at("magnitude");
                double least_passed = 0;
                double most_stopped[2] = {-200, -200};
                for (const auto& [f, db] : magnitude.points) {
                    if (f < cutoff_hz)
                        least_passed = std::max(least_passed, std::abs(db));
                    if (f > cutoff_hz * 4 / 3.5 && f < 20000)
                        most_stopped[0] = std::max(most_stopped[0], db);
                    if (f > cutoff_hz * 4.5 / 3.5 && f < 20000)
                        most_stopped[1] = std::max(most_stopped[1], db);
                }
                QVERIFY2(least_passed < 0.1, qPrintable(QString::number(least_passed)));
                QVERIFY2(most_stopped[0] < -25, qPrintable(QString::number(most_stopped[0])));
                QVERIFY2(most_stopped[1] < -50, qPrintable(QString::number(most_stopped[1])));
            }
    }
};

HR_TEST(tst_rating)
#include "tst_rating.moc"
