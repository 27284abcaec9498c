// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/biquad.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::signal;

class tst_filters : public QObject {
    Q_OBJECT

    static double db(const Biquad& f, double hz) { return 20 * std::log10(std::abs(f.response(hz, 48000))); }

private slots:
    void designsHitTheirDefiningPoints_data()
    {
        QTest::addColumn<double>("actual");
        QTest::addColumn<double>("expected");
        const Biquad peak = peaking(1000, 6, 2, 48000);
        QTest::newRow("peak at its centre") << db(peak, 1000) << 6.0;
        QTest::newRow("peak far below") << db(peak, 1) << 0.0;
        QTest::newRow("low shelf at 0 Hz") << db(lowShelf(200, -9, 0.7071, 48000), 0.01) << -9.0;
        QTest::newRow("low shelf in the middle") << db(lowShelf(200, -9, 0.7071, 48000), 200) << -4.5;
        QTest::newRow("low shelf above") << db(lowShelf(200, -9, 0.7071, 48000), 23999) << 0.0;
        QTest::newRow("high shelf at Nyquist") << db(highShelf(4000, 5, 0.7071, 48000), 23999.9) << 5.0;
        QTest::newRow("high shelf in the middle") << db(highShelf(4000, 5, 0.7071, 48000), 4000) << 2.5;
        QTest::newRow("low pass at its corner") << db(lowPass(3000, std::sqrt(0.5), 48000), 3000) << -3.0103;
        QTest::newRow("high pass at its corner") << db(highPass(80, std::sqrt(0.5), 48000), 80) << -3.0103;
        QTest::newRow("high pass an octave below") << db(highPass(80, std::sqrt(0.5), 48000), 40) << -12.3045;
    }
    void designsHitTheirDefiningPoints()
    {
        QFETCH(double, actual);
        QFETCH(double, expected);
        HR_NEAR(actual, expected, 0.002);
    }

    void butterworthOfAnyOrderIsDown3dBAtItsCorner_data()
    {
        QTest::addColumn<int>("order");
        for (const int order : {2, 4, 6, 8})
            QTest::addRow("order %d", order) << order;
    }
    void butterworthOfAnyOrderIsDown3dBAtItsCorner()
    {
        QFETCH(int, order);
        double at_corner = 0;
        for (int k = 0; k < order / 2; ++k)
            at_corner += db(lowPass(1000, butterworthQ(k, order), 48000), 1000);
        HR_NEAR(at_corner, -3.0103, 1e-3);
    }

    void whatRunsIsWhatTheResponseSays()
    {
        const Biquad filter = peaking(2000, -8, 1.5, 48000);
        BiquadState state;
        std::vector<float> out;
        const AudioBuffer in = test::tone(1500, 0, 1);
        for (const float x : in.channel(0))
            out.push_back(static_cast<float>(state.next(filter, static_cast<double>(x))));
        // The first tenth is the filter settling; the rest is 1350 whole cycles.
        const auto settled = std::span<const float>(out).subspan(4800);
        HR_NEAR(linearToDb(test::amplitudeAt(settled, 1500, 48000)), db(filter, 1500), 1e-3);
    }

    void levelsFollowAes17()
    {
        const AudioBuffer full = test::tone(997, 0, 1);
        const AudioBuffer quiet = test::tone(997, -20, 1);
        HR_NEAR(rmsDbfs(full.channel(0)), 0, 0.001);
        HR_NEAR(peakDbfs(full.channel(0)), 0, 0.01);
        HR_NEAR(rmsDbfs(quiet.channel(0)), -20, 0.001);
        const std::vector<float> square(1000, 1.0F);
        HR_NEAR(rmsDbfs(std::span<const float>(square)), 3.0103, 1e-4);
        QCOMPARE(rmsDbfs(std::span<const float>()), no_level_db);
        QCOMPARE(linearToDb(0), no_level_db);
        HR_NEAR(dbToLinear(-6), 0.501187, 1e-6);
    }
};

HR_TEST(tst_filters)
#include "tst_filters.moc"
