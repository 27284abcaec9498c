// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/plots.h"
#include "bench/suite.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Reading;

class tst_plots : public QObject {
    Q_OBJECT

private slots:
    void everyPlotHasATestAndAxesWithUnits()
    {
        for (const bench::PlotInfo& plot : bench::allPlots()) {
            HR_VERIFY(bench::testsNamed({plot.test}));
            QVERIFY(!plot.title.empty());
            for (const std::string& axis : {plot.x, plot.y})
                QVERIFY2(!bench::quantityOf(axis).unit.empty(), axis.c_str());
            QCOMPARE(bench::plotOf(plot.test, plot.series), &plot);
        }
        QVERIFY(!bench::plotOf("response", "warmth"));
        QCOMPARE(bench::quantityOf("warmth").name, std::string("warmth"));
        // What is flat looks flat.
        for (const char* axis : {"magnitude_db", "output_dbfs"})
            QVERIFY(bench::quantityOf(axis).least_span >= 12);
    }

    void harmonicsAreDrawnFromTheListOfTheirLevels()
    {
        const auto* plot = bench::plotOf("harmonics", bench::harmonics_list);
        QVERIFY(plot && plot->stems);
        Reading reading;
        QVERIFY(bench::curvesIn(reading, *plot).empty());
        reading.figures["harmonics_db"] = {-40, nullptr, -150, -60};
        const auto curves = bench::curvesIn(reading, *plot);
        QCOMPARE(curves.size(), std::size_t{1});
        QCOMPARE(curves.front().points, (std::vector<std::pair<double, double>>{{2, -40}, {5, -60}}));
        reading.figures["harmonics_db"] = "loud"; // as a catalogue by hand might have it
        QVERIFY(bench::curvesIn(reading, *plot).empty());
    }

    void severalCurvesOfOneKindAreFoundTogether()
    {
        Reading reading;
        for (const char* key : {"notch_1", "notch_2", "pitch"})
            reading.series[key] = {"time_s", "frequency_hz", {{0, 1}, {1, 2}}};
        reading.series["notch_3"] = {"time_s", "frequency_hz", {}}; // nothing to draw
        QCOMPARE(bench::curvesIn(reading, *bench::plotOf("movement", "notch_*")).size(), std::size_t{2});
        QVERIFY(bench::marksOf(reading, *bench::plotOf("movement", "notch_*")).empty());
    }

    void cornersAreMarkedWhereTheResponseIs()
    {
        const auto reading = test::readingOf("response", "low-pass", {{"frequency_hz", 2000}});
        HR_VERIFY(reading);
        const auto marks = bench::marksOf(*reading, *bench::plotOf("response", "magnitude"));
        QCOMPARE(marks.size(), std::size_t{1});
        HR_NEAR(marks[0].x, *reading->number("corner_high_hz"), 1e-9);
        HR_NEAR(marks[0].y, -3.01, 0.1);
        QVERIFY(marks[0].text.starts_with("corner "));
        QVERIFY(marks[0].text.ends_with(" Hz"));
    }

    void aFigureBesideItsCurveIsNotMarked()
    {
        Reading reading;
        reading.series["in_out"] = {"input_dbfs", "output_dbfs", {{-60, -60}, {-30, -30}}};
        reading.put("threshold_db", -10.0, {}); // beyond what was drawn
        QVERIFY(bench::marksOf(reading, *bench::plotOf("transfer", "in_out")).empty());
        reading.put("threshold_db", -45.0, {});
        const auto marks = bench::marksOf(reading, *bench::plotOf("transfer", "in_out"));
        QCOMPARE(marks.size(), std::size_t{1});
        HR_NEAR(marks[0].y, -45, 1e-9);
        reading.series["gain"] = {"time_ms", "gain_db", {{0, 0}, {10, -6}}};
        reading.put("attack_ms", 3.0, {});
        QVERIFY(bench::marksOf(reading, *bench::plotOf("timing", "gain")).empty()); // it is not said where
    }
};

HR_TEST(tst_plots)
#include "tst_plots.moc"
