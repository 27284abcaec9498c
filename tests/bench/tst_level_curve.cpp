// SPDX-License-Identifier: GPL-3.0-or-later
//
// Curves drawn from formulas, against the figures they were drawn with.
#include "bench/level_curve.h"
#include "support/fixtures.h"

using namespace hr;
using bench::KneeModel;

namespace {

bench::LevelCurve curveOf(const KneeModel& model)
{
    bench::LevelCurve curve;
    for (double in = -60; in <= 0; ++in)
        curve.emplace_back(in, in + model.gainDb(in));
    return curve;
}

} // namespace

class tst_level_curve : public QObject {
    Q_OBJECT

private slots:
    void figuresComeBack_data()
    {
        QTest::addColumn<bool>("below");
        QTest::addColumn<double>("threshold_db");
        QTest::addColumn<double>("slope");
        QTest::addColumn<double>("knee_db");
        QTest::addColumn<double>("makeup_db");
        QTest::addColumn<double>("range_db");
        QTest::addColumn<QString>("kind");
        QTest::addColumn<double>("ratio");
        QTest::newRow("4:1") << false << -24.0 << 0.25 << 6.0 << 0.0 << 200.0 << "compressor" << 4.0;
        QTest::newRow("gentle, wide knee")
            << false << -35.0 << 1 / 1.3 << 18.0 << 4.5 << 200.0 << "compressor" << 1.3;
        QTest::newRow("hard knee") << false << -12.5 << 0.1 << 0.0 << -2.0 << 200.0 << "compressor" << 10.0;
        QTest::newRow("ends at 8 dB") << false << -40.0 << 0.25 << 3.0 << 0.0 << 8.0 << "compressor" << 4.0;
        QTest::newRow("limiter") << false << -10.0 << 0.0 << 2.0 << 0.0 << 200.0 << "limiter" << 0.0;
        QTest::newRow("1:2 below") << true << -30.0 << 2.0 << 5.0 << 0.0 << 200.0 << "expander" << 2.0;
        QTest::newRow("1:3 down to 20 dB") << true << -20.0 << 3.0 << 0.0 << 0.0 << 20.0 << "expander" << 3.0;
        QTest::newRow("lifts what is quiet") << true << -30.0 << 0.5 << 4.0 << 0.0 << 10.0 << "upward" << 2.0;
    }
    void figuresComeBack()
    {
        QFETCH(bool, below);
        QFETCH(double, threshold_db);
        QFETCH(double, slope);
        QFETCH(double, knee_db);
        QFETCH(double, makeup_db);
        QFETCH(double, range_db);
        QFETCH(QString, kind);
        QFETCH(double, ratio);
        const auto curve = curveOf({below, threshold_db, slope, knee_db, makeup_db, range_db});
        const auto figures = bench::readLevelCurve(curve);
        QCOMPARE(QString::fromStdString(figures.kind), kind);
        HR_NEAR(*figures.threshold_db, threshold_db, 0.2);
        HR_NEAR(*figures.knee_db, knee_db, 1);
        HR_NEAR(*figures.makeup_db, makeup_db, 0.2);
        QCOMPARE(figures.ratio.has_value(), ratio > 0);
        if (ratio > 0)
            HR_NEAR(*figures.ratio, ratio, 0.02 * ratio);
        double most = 0;
        for (const auto& [in, out] : curve)
            most = std::max(most, std::abs(out - in - makeup_db));
        HR_NEAR(*figures.range_db, most, 0.2);
        QVERIFY(figures.misfit_db < 0.02);
    }

    /// 8:1 above -30 dBFS and the dry sound beside it: no knee model, and a very wide one fits from the loud
    /// end.
    void aBlendIsTold_data()
    {
        QTest::addColumn<double>("blend");
        for (const double blend : {0.3, 0.5, 0.7, 0.9})
            QTest::addRow("%g", blend) << blend;
    }
    void aBlendIsTold()
    {
        QFETCH(const double, blend);
        bench::LevelCurve curve;
        for (double in = -60; in <= 0; ++in) {
            const double wet_db = -7.0 / 8 * std::max(0.0, in + 30);
            curve.emplace_back(in, in + 20 * std::log10(1 - blend + blend * std::pow(10, wet_db / 20)));
        }
        const auto figures = bench::readLevelCurve(curve);
        QCOMPARE(figures.kind, std::string("compressor"));
        HR_NEAR(*figures.makeup_db, 0, 0.1);
        QVERIFY(figures.misfit_db > 0.05); // which is flagged
    }

    /// Between two steps knees of many widths look the same; the level at the threshold tells them apart.
    void aSharpKneeBetweenTwoStepsIsTold()
    {
        for (const double knee_db : {0.0, 0.3, 0.6, 0.9}) {
            const bench::KneeModel model{false, -19.5, 0.25, knee_db, 3, 200};
            const auto curve = curveOf(model);
            const auto first = bench::readLevelCurve(curve);
            HR_NEAR(*first.threshold_db, -19.5, 0.01);
            const auto figures = bench::refined(
                first, curve, {{*first.threshold_db, *first.threshold_db + model.gainDb(*first.threshold_db)}});
            HR_NEAR(*figures.knee_db, knee_db, 0.05);
            HR_NEAR(*figures.threshold_db, -19.5, 0.01);
            HR_NEAR(*figures.ratio, 4, 0.01);
        }
    }

    /// 4:1 from near the lowest level on, until it has taken 9 dB: both ends are level, and the quiet one is at
    /// 0 dB.
    void aRangeThatIsSoonUsedUpIsTold()
    {
        for (const double threshold_db : {-57.0, -55.0, -52.0}) {
            const auto figures = bench::readLevelCurve(curveOf({false, threshold_db, 0.25, 0.7, 0, 9}));
            QCOMPARE(figures.kind, std::string("compressor"));
            HR_NEAR(*figures.threshold_db, threshold_db, 0.1);
            QVERIFY(!figures.other_end_nearer);
        }
        QVERIFY(bench::readLevelCurve(curveOf({false, -58.9, 0.25, 0.2, 0, 9})).other_end_nearer);
        QVERIFY(!bench::readLevelCurve(curveOf({false, -20, 0.5, 0, 10, 200})).other_end_nearer); // made up
    }

    void aStraightLineHasOnlyItsGain()
    {
        const auto figures = bench::readLevelCurve(curveOf({false, 0, 1, 0, -7, 200}));
        QCOMPARE(figures.kind, std::string("linear"));
        HR_NEAR(*figures.makeup_db, -7, 1e-9);
        QVERIFY(!figures.threshold_db && !figures.ratio && !figures.knee_db && !figures.range_db);
    }

    void aJumpIsAGateAndIsToBeBisected()
    {
        bench::LevelCurve curve;
        for (double in = -60; in <= 0; ++in)
            curve.emplace_back(in, in < -40 ? in - 30 : in);
        const std::pair jump(-41.0, -40.0);
        QCOMPARE(bench::steepPart(curve), std::optional(jump));
        const auto figures = bench::readJump(curve, jump);
        QCOMPARE(figures.kind, std::string("gate"));
        QCOMPARE(figures.jump, std::optional(jump));
        HR_NEAR(*figures.range_db, 30, 1e-9);
        QVERIFY(!figures.ratio && !figures.knee_db);
        curve[20].second -= 12; // half open
        QCOMPARE(bench::steepPart(curve), std::optional(std::pair(-41.0, -39.0)));
        curve[30].second -= 4; // and something else
        QVERIFY(!bench::steepPart(curve));
    }

    /// Six slopes that are over within a step or two, with what is measured between the steps.
    void aShortSteepSlopeIsTold()
    {
        for (const double ratio : {6.0, 10.0})
            for (const double threshold_db : {-40.0, -39.7, -39.4}) {
                const bench::KneeModel model{true, threshold_db, ratio, 0, 0, 9};
                auto curve = curveOf(model);
                QVERIFY(bench::steepPart(curve));
                for (const double in : {-41.75, -41.5, -41.25, -40.75, -40.5, -40.25, -39.75, -39.5, -39.25})
                    curve.emplace_back(in, in + model.gainDb(in));
                std::ranges::sort(curve);
                const auto figures = bench::readLevelCurve(curve);
                QCOMPARE(figures.kind, std::string("expander"));
                HR_NEAR(*figures.threshold_db, threshold_db, 0.1);
                HR_NEAR(*figures.ratio, ratio, 0.01 * ratio);
            }
    }
};

HR_TEST(tst_level_curve)
#include "tst_level_curve.moc"
