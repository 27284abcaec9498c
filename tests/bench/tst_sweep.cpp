// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/sweep.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;

class tst_sweep : public QObject {
    Q_OBJECT

    static std::vector<bench::SweepPoint> swept(const char* id, const char* key, double first, double last,
                                                int steps, const bench::MeasureControl& control = {})
    {
        const auto info = processors::makeReference(id)->info();
        bench::SweepOrder order;
        order.swept = {*info.parameterIndex(key), first, last, steps};
        order.promise = *bench::promiseOf(info.parameters[order.swept.parameter], info.kind);
        auto points = bench::sweep({id, {}}, info, processors::defaultValues(info), order, {}, control);
        return points ? *points : std::vector<bench::SweepPoint>();
    }

private slots:
    void anHonestLabelReadsAsItIsSet()
    {
        const auto ratios = swept("reference:compressor", "ratio", 1.5, 8, 4);
        QCOMPARE(ratios.size(), std::size_t{4});
        for (const auto& point : ratios)
            HR_NEAR(*point.measured, point.honest, 0.01 * point.honest);
        HR_NEAR(ratios.front().set, 1.5, 1e-9);
        HR_NEAR(ratios.back().set, 8, 1e-9);
        for (const auto& point : swept("reference:low-pass", "frequency_hz", 100, 10000, 3))
            HR_NEAR(*point.measured, point.honest, 0.005 * point.honest);
        // Logarithmic as the control is: the middle of 100 and 10 000 is 1000.
        const auto info = processors::makeReference("reference:low-pass")->info();
        const auto settings = bench::sweepSettings(info.parameters[0], {0, 100, 10000, 3});
        HR_NEAR(settings[1], 1000, 1e-6);
    }

    void allOfItIsMeasuredAtEachSettingOfAnother()
    {
        const auto info = test::infoOf("reference:low-pass");
        bench::SweepOrder order;
        order.swept = {*info.parameterIndex("frequency_hz"), 500, 4000, 2};
        order.beside = bench::SweepRange{*info.parameterIndex("order"), 2, 8, 50}; // four there are
        order.promise = {"response", "slope_high_db_per_octave", 1};
        const auto points =
            bench::sweep({"reference:low-pass", {}}, info, processors::defaultValues(info), order, {});
        HR_VERIFY(points);
        QCOMPARE(points->size(), std::size_t{8});
        for (std::size_t i = 0; i < 8; ++i) {
            const bench::SweepPoint& point = (*points)[i];
            QCOMPARE(*point.beside, 2.0 * static_cast<double>(i / 2) + 2);
            HR_NEAR(point.set, i % 2 == 0 ? 500 : 4000, 1e-6);
            if (i % 2 == 0) // far enough from half the rate
                HR_NEAR(std::abs(*point.measured), 6.02 * *point.beside, 0.35 * *point.beside);
        }
        order.beside->parameter = 99;
        QVERIFY(bench::sweep({"reference:low-pass", {}}, info, processors::defaultValues(info), order, {})
                    ->empty());
    }

    void whereThereIsNothingToReadItSaysWhy()
    {
        // Beyond the levels that are tried there is no threshold.
        const auto points = swept("reference:compressor", "ratio", 1, 2, 2);
        QVERIFY(!points.front().measured); // at 1:1 there is none
        QVERIFY(!points.front().reason.empty());
        QVERIFY(points.back().measured);
    }

    /// A de-esser: as it stands it does something to a tone of 1 kHz, which says nothing of it at the upper
    /// end, where one of 6.5 kHz would.
    void allOfASweepIsMeasuredWithOneTone()
    {
        const auto whistle = test::specimenAt("bosuns-whistle");
        const auto info = (*hosting::openInstance(whistle))->info();
        bench::SweepOrder order;
        order.swept = {*info.parameterIndex("threshold_db"), -60, -30, 2};
        order.promise = {"transfer", "threshold_db", 1};
        const auto points = bench::sweep(whistle, info, processors::defaultValues(info), order, {});
        HR_VERIFY(points);
        HR_NEAR(*points->front().measured, -29.5, 0.1);
        QVERIFY(!points->back().measured);
    }

    void steppedOnesAreTriedOnceEach()
    {
        processors::ParameterInfo bits;
        bits.minimum = 1;
        bits.maximum = 4;
        bits.scale = processors::Scale::Integer;
        QCOMPARE(bench::sweepSettings(bits, {0, 1, 4, 50}).size(), std::size_t{4});
    }

    void itCanBeBrokenOff()
    {
        std::stop_source stop;
        int seen = 0;
        bench::MeasureControl control;
        control.cancel = stop.get_token();
        control.progress = [&](const std::string&, double) {
            if (++seen == 2)
                stop.request_stop();
        };
        QCOMPARE(swept("reference:low-pass", "frequency_hz", 100, 1000, 9, control).size(), std::size_t{1});
    }
};

HR_TEST(tst_sweep)
#include "tst_sweep.moc"
