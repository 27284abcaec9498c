// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/plots.h"
#include "bench/suite.h"
#include "support/fixtures.h"

#include <set>

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
                QVERIFY2(!bench::quantityOf(axis).unit.empty() || axis == "correlation", axis.c_str());
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

    /// Each band's curve says at which frequency it was taken.
    void curvesElsewhereInTheBandHaveTheirOwnConditions()
    {
        const auto reading = test::readingOf("transfer", test::specimenAt("bosuns-whistle"));
        HR_VERIFY(reading);
        for (const auto& [series, frequency_hz] :
             {std::pair("in_out", 1000.0), {"in_out_at_6500_hz", 6500.0}}) {
            const auto& plot = *bench::plotOf("transfer", series);
            QCOMPARE(bench::curvesIn(*reading, plot).size(), std::size_t{1});
            HR_NEAR(bench::conditionsOf(*reading, plot).at("frequency_hz").get<double>(), frequency_hz, 1e-6);
        }
        QVERIFY(bench::curvesIn(*reading, *bench::plotOf("transfer", "in_out_at_1000_hz")).empty());
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

    void oneCycleInAndOut_data()
    {
        QTest::addColumn<QString>("reference");
        QTest::addColumn<double>("value");
        QTest::addColumn<double>("times"); // the amplitude going in, where it is not cut
        QTest::newRow("as it is") << "added-latency" << 777.0 << 1.0;
        QTest::newRow("turned up") << "gain" << 6.0 << std::pow(10, 0.3);
    }
    /// In phase with what goes in, also where it reports that it is late.
    void oneCycleInAndOut()
    {
        QFETCH(const QString, reference);
        QFETCH(const double, value);
        QFETCH(const double, times);
        const char* key = reference == QStringLiteral("gain") ? "gain_db" : "latency_samples";
        const auto reading = test::readingOf("harmonics", qPrintable(reference), {{key, value}});
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("harmonics", "cycle_out");
        const auto in = bench::thinLineIn(*reading, *plot);
        QVERIFY(in && in->points.size() == 180);
        const auto out = bench::curvesIn(*reading, *plot).front();
        for (std::size_t i = 0; i < 180; ++i)
            HR_NEAR(out.points[i].second, times * in->points[i].second, 1e-4);
        HR_NEAR(in->points[44].second, std::pow(10, -0.6), 1e-4);
        const auto difference = bench::differenceOf(*plot, out, *in);
        HR_NEAR(difference.points[44].second, (times - 1) * std::pow(10, -0.6), 1e-4);
    }

    void theFitIsDrawnBesideWhatItWasReadOff()
    {
        const auto* plot = bench::plotOf("transfer", "in_out");
        const auto bent = test::readingOf("transfer", "compressor", {{"threshold_db", -30}, {"ratio", 3}});
        HR_VERIFY(bent);
        const auto model = bench::thinLineIn(*bent, *plot);
        const auto curve = bench::curvesIn(*bent, *plot).front();
        QVERIFY(model && model->points.size() == curve.points.size());
        for (const auto& [in, apart] : bench::differenceOf(*plot, curve, *model).points)
            HR_NEAR(apart, 0, 0.1);
        const auto straight = test::readingOf("transfer", "gain");
        HR_VERIFY(straight);
        QVERIFY(!bench::thinLineIn(*straight, *plot)); // there is nothing to fit
    }

    void whatIsLeftFallsBySixtyDecibelsInItsTime()
    {
        const auto reading = test::readingOf("decay", "noise-reverb", {{"rt60_s", 1.2}});
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("decay", "decay");
        const auto left = bench::curvesIn(*reading, *plot).front();
        const auto at = [&](double seconds) {
            return std::ranges::lower_bound(left.points, seconds, {}, &std::pair<double, double>::first)
                ->second;
        };
        HR_NEAR(at(0.9) - at(0.3), -30, 1);
        QVERIFY(bench::thinLineIn(*reading, *plot));
        const auto marks = bench::marksOf(*reading, *plot);
        QCOMPARE(marks.size(), std::size_t{2});
        HR_NEAR(2 * (marks[1].x - marks[0].x), *reading->number("rt60_s"), 0.06); // the 30 dB between
    }

    void bothOutputsAndWhatIsBetweenThem()
    {
        const auto place = test::specimenAt("spreader");
        const std::vector<processors::Setting> settings{{"width_db", 0}, {"balance_db", 4}};
        const auto response = test::readingOf("response", place, settings);
        HR_VERIFY(response);
        const auto* plot = bench::plotOf("response", "magnitude");
        const auto second = bench::thinLineIn(*response, *plot);
        QVERIFY(second && plot->thin->on_demand);
        const auto apart =
            bench::differenceOf(*plot, *second, bench::curvesIn(*response, *plot).front()).points[200].second;
        HR_NEAR(std::abs(apart), 4, 0.05);
        const auto stereo = test::readingOf("stereo", place, settings);
        HR_VERIFY(stereo);
        const auto balance = bench::curvesIn(*stereo, *bench::plotOf("stereo", "balance")).front();
        HR_NEAR(balance.points[60].second, apart, 0.05);
        const auto alike = bench::curvesIn(*stereo, *bench::plotOf("stereo", "correlation")).front();
        QVERIFY(alike.points.size() > 15);
        for (const auto& [hz, correlation] : alike.points)
            HR_NEAR(correlation, 1, 1e-3);
        const auto wire = test::readingOf("response", "gain");
        HR_VERIFY(wire);
        QVERIFY(!bench::thinLineIn(*wire, *plot)); // both outputs are the same
    }

    void bandsOfNoiseAddUpToAllOfIt()
    {
        const auto reading = test::readingOf("noise", "added-noise", {{"noise_dbfs", -60}});
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("noise", "spectrum");
        double power = 0;
        const auto curves = bench::curvesIn(*reading, *plot);
        for (const auto& [hz, level_dbfs] : curves.at(0).points)
            power += std::pow(10, level_dbfs / 10);
        // From 20 Hz to 0.95 of half the rate.
        HR_NEAR(10 * std::log10(power), -60 + 10 * std::log10(0.95), 0.3);
        Reading hums = *reading;
        hums.figures["hum_hz"] = {50.0, "loud", 150.0};
        const auto marks = bench::marksOf(hums, *plot);
        QCOMPARE(marks.size(), std::size_t{2});
        QCOMPARE(marks[1].text, std::string("hum 150.0 Hz"));
        const auto silent = test::readingOf("noise", "gain");
        HR_VERIFY(silent);
        QVERIFY(bench::curvesIn(*silent, *plot).empty());
    }

    void sharesOfACoreStandInTheOrderOfTheBlocks()
    {
        const auto reading = test::readingOf("cost", "gain");
        HR_VERIFY(reading);
        const auto points = bench::curvesIn(*reading, *bench::plotOf("cost", "core")).front().points;
        QCOMPARE(points.size(), std::size_t{3});
        QCOMPARE(points[0].first, 64.0);
        HR_NEAR(points[1].second, 100 / *reading->number("realtime_factor"), 1e-9);
    }

    void echoesStandOnBeatsAndMovementOnPeriods()
    {
        bench::Conditions conditions;
        conditions.tempo_bpm = 120;
        const auto reading =
            test::readingOf("echoes", "feedback-delay", {{"delay_ms", 500}, {"feedback_db", -6}}, conditions);
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("echoes", "echoes");
        const auto grid = bench::gridOf(*reading, *plot);
        QVERIFY(grid.size() > 2);
        HR_NEAR(grid[0].x, bench::curvesIn(*reading, *plot).front().points[0].first, 0.03);
        QCOMPARE(grid[1].text, std::string("2/4"));
        Reading without = *reading;
        without.conditions["tempo_bpm"] = "fast";
        QVERIFY(bench::gridOf(without, *plot).empty());
        const auto moving = test::readingOf("movement", "tremolo", {{"rate_hz", 0.5}});
        HR_VERIFY(moving);
        const auto periods = bench::gridOf(*moving, *bench::plotOf("movement", "amplitude"));
        QVERIFY(periods.size() > 3 && periods.size() <= 16);
        HR_NEAR(periods[1].x - periods[0].x, 2, 0.01);
        QVERIFY(bench::gridOf(*moving, *bench::plotOf("movement", "notch_*")).empty());
    }

    /// The figures are what stands among the lines.
    void productsStandBesideTheTonesThatMakeThem()
    {
        const auto at = [](const bench::Curve& lines, double x) {
            const auto line = std::ranges::find(lines.points, x, &std::pair<double, double>::first);
            return line == lines.points.end() ? 0 : std::pow(10, line->second / 20);
        };
        const auto clipped = test::readingOf("intermodulation", "cubic-clip");
        HR_VERIFY(clipped);
        const auto smpte = bench::curvesIn(*clipped, *bench::plotOf("intermodulation", "smpte_lines")).at(0);
        HR_NEAR(at(smpte, 0), 1, 1e-9);
        QVERIFY(at(smpte, 120) > 0.001);
        HR_NEAR(100 * std::hypot(at(smpte, -60) + at(smpte, 60), at(smpte, -120) + at(smpte, 120)),
                *clipped->number("smpte_percent"), 1e-3);
        const auto pair =
            bench::curvesIn(*clipped, *bench::plotOf("intermodulation", "difference_lines")).at(0);
        HR_NEAR(std::max(at(pair, 19), at(pair, 20)), 1, 1e-9);
        QVERIFY(at(pair, 18) > 0.001); // of the third order, as 21 kHz
        HR_NEAR(at(pair, 21), at(pair, 18), 0.01 * at(pair, 18));
        const auto wire = test::readingOf("intermodulation", "gain");
        HR_VERIFY(wire);
        QCOMPARE(bench::curvesIn(*wire, *bench::plotOf("intermodulation", "smpte_lines")).at(0).points.size(),
                 std::size_t{1});
    }

    void stepsOfTheOutputAreDrawnAroundZero()
    {
        const auto* plot = bench::plotOf("resolution", "steps");
        const auto coarse = test::readingOf("resolution", "reduction", {{"bits", 8}});
        HR_VERIFY(coarse);
        std::set<double> levels;
        for (const auto& [in, out] : bench::curvesIn(*coarse, *plot).at(0).points)
            levels.insert(out);
        QVERIFY(levels.size() >= 7 && levels.size() <= 10);
        HR_NEAR(*std::next(levels.begin()) - *levels.begin(), 256, 1e-6); // of 16 bits, a step of 8
        const auto fine = test::readingOf("resolution", "gain", {{"gain_db", 0}});
        HR_VERIFY(fine);
        for (const auto& [in, out] : bench::curvesIn(*fine, *plot).at(0).points)
            HR_NEAR(out, in, 1e-3);
    }

    void loudnessIsDrawnOverTheProgramme()
    {
        const auto reading = test::readingOf("loudness_shift", "gain", {{"gain_db", 6}});
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("loudness_shift", "momentary_out");
        const auto louder = bench::differenceOf(*plot, bench::curvesIn(*reading, *plot).at(0),
                                                *bench::thinLineIn(*reading, *plot));
        QVERIFY(louder.points.size() > 20);
        for (const auto& [seconds, lu] : louder.points)
            QVERIFY(std::abs(lu - 6) < 0.01 || lu == 0); // both below the gate of the meter
        QVERIFY(std::ranges::any_of(louder.points, [](const auto& p) { return p.second > 5.9; }));
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
