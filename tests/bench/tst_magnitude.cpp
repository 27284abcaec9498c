// SPDX-License-Identifier: GPL-3.0-or-later
//
// The figures read off a magnitude whose answers are worked out by hand.
#include "bench/magnitude.h"
#include "support/fixtures.h"

#include <cmath>

using namespace hr;
using bench::readMagnitude;

namespace {

constexpr double noise_rate_hz = 48000;

/// A bell in dB over log frequency, with a half-gain bandwidth of exactly `octaves`.
double bell(double f, double centre, double gain_db, double octaves)
{
    const double distance = std::log2(f / centre) / (octaves / 2);
    return gain_db * std::pow(0.5, distance * distance);
}

} // namespace

class tst_magnitude : public QObject {
    Q_OBJECT

private slots:
    void aFlatLineHasOnlyAPassband()
    {
        const auto figures = readMagnitude([](double) { return -3.25; }, noise_rate_hz);
        HR_NEAR(figures.passband_db, -3.25, 1e-9);
        QVERIFY(!figures.corner_low_hz && !figures.corner_high_hz && !figures.slope_low_db_per_octave);
        QVERIFY(figures.peaks.empty() && figures.notches.empty());
    }

    void straightSlopesHaveTheirCorners()
    {
        // Flat, falling 12 dB an octave below 200 Hz and 24 above 2 kHz: -3.01 dB is a quarter of an
        // octave beyond the one and an eighth beyond the other.
        const auto figures = readMagnitude(
            [](double f) {
                return f < 200 ? 12 * std::log2(f / 200) : f > 2000 ? -24 * std::log2(f / 2000) : 0;
            },
            noise_rate_hz);
        HR_NEAR(*figures.corner_low_hz, 200 * std::exp2(-3.0103 / 12), 0.2);
        HR_NEAR(*figures.corner_high_hz, 2000 * std::exp2(3.0103 / 24), 2);
        HR_NEAR(*figures.slope_low_db_per_octave, 12, 1e-6);
        HR_NEAR(*figures.slope_high_db_per_octave, 24, 1e-6);
    }

    void slopesThatLeaveTheBandAreEmpty()
    {
        const auto low =
            readMagnitude([](double f) { return f < 30 ? 12 * std::log2(f / 30) : 0; }, noise_rate_hz);
        QVERIFY(low.corner_low_hz && !low.slope_low_db_per_octave); // a quarter of 25 Hz is below 10 Hz
        const auto high =
            readMagnitude([](double f) { return f > 8000 ? -12 * std::log2(f / 8000) : 0; }, noise_rate_hz);
        QVERIFY(high.corner_high_hz && !high.slope_high_db_per_octave);
        // A corner of 39.8 Hz may as well be 40 Hz: its octave ends at the edge of the band.
        const double bend_hz = 39.8 * std::exp2(3.0103 / 12);
        const auto edge = readMagnitude([&](double f) { return f < bend_hz ? 12 * std::log2(f / bend_hz) : 0; },
                                        noise_rate_hz);
        HR_NEAR(*edge.slope_low_db_per_octave, 12, 1e-6);
    }

    void theOutermostCrossingIsTheCorner()
    {
        // A deep notch inside the band is not a corner.
        const auto figures = readMagnitude([](double f) { return bell(f, 1000, -30, 0.5); }, noise_rate_hz);
        QVERIFY(!figures.corner_low_hz && !figures.corner_high_hz);
        QCOMPARE(figures.notches.size(), std::size_t{1});
    }

    void bellsAreFoundWithTheirWidth_data()
    {
        QTest::addColumn<double>("centre_hz");
        QTest::addColumn<double>("gain_db");
        QTest::addColumn<double>("octaves");
        QTest::newRow("broad peak") << 1000.0 << 6.0 << 1.0;
        QTest::newRow("narrow peak") << 90.0 << 12.0 << 0.1;
        QTest::newRow("high peak") << 15000.0 << 3.0 << 0.3;
        QTest::newRow("notch") << 3000.0 << -18.0 << 0.2;
        QTest::newRow("just enough") << 500.0 << 0.6 << 0.3;
        // The search goes in steps of 1/2880 of an octave; both its neighbours are below half of this one.
        const auto searched = bench::logarithmicGrid(10, 0.485 * noise_rate_hz, 2880);
        QTest::newRow("between two steps")
            << std::sqrt(searched[20000] * searched[20001]) * 1.000002 << 12.0 << 0.0002;
    }
    void bellsAreFoundWithTheirWidth()
    {
        QFETCH(double, centre_hz);
        QFETCH(double, gain_db);
        QFETCH(double, octaves);
        const auto figures =
            readMagnitude([&](double f) { return bell(f, centre_hz, gain_db, octaves); }, noise_rate_hz);
        const auto& list = gain_db > 0 ? figures.peaks : figures.notches;
        QCOMPARE(list.size(), std::size_t{1});
        QVERIFY((gain_db > 0 ? figures.notches : figures.peaks).empty());
        HR_NEAR(list[0].frequency_hz, centre_hz, 0.002 * centre_hz);
        HR_NEAR(list[0].gain_db, gain_db - figures.passband_db, 0.01);
        const double q = 1 / (std::exp2(octaves / 2) - std::exp2(-octaves / 2));
        HR_NEAR(*list[0].q, q, 0.03 * q);
    }

    /// Between two points of the grid it goes deeper than anything that was measured.
    void whatHasNoBottomIsNoNotch()
    {
        const auto notch = [](double f) {
            const double off = 30 * (f / 1000 - 1000 / f);
            return 10 * std::log10(off * off / (1 + off * off) + 1e-17);
        };
        QVERIFY(bench::readMagnitude(notch, 48000).notches.empty());
        const auto shallow = [&](double f) { return std::max(notch(f), -40.0); };
        QCOMPARE(bench::readMagnitude(shallow, 48000).notches.size(), std::size_t{1});
    }

    void rippleIsNoPeak()
    {
        const auto figures = readMagnitude(
            [](double f) { return 0.04 * std::sin(40 * std::log2(f)) + bell(f, 700, 5, 1); }, noise_rate_hz);
        QCOMPARE(figures.peaks.size(), std::size_t{1});
    }

    void aTieOfPassbandsGoesToTheLouder()
    {
        // Two plateaus of the same length: half the octaves at -20, half at 0 dB.
        const double middle = std::sqrt(20 * 0.45 * noise_rate_hz);
        const auto figures = readMagnitude([&](double f) { return f < middle ? -20.0 : 0.0; }, noise_rate_hz);
        HR_NEAR(figures.passband_db, 0, 0.05);
    }

    void gridsIncludeBothEnds()
    {
        const auto grid = bench::logarithmicGrid(20, 20000, 3);
        QCOMPARE(grid.front(), 20.0);
        HR_NEAR(grid.back(), 20000, 1e-6);
        QVERIFY(std::ranges::is_sorted(grid));
        QVERIFY(std::log2(grid[1] / grid[0]) <= 1.0 / 3 + 1e-9);
    }
};

HR_TEST(tst_magnitude)
#include "tst_magnitude.moc"
