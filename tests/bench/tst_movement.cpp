// SPDX-License-Identifier: GPL-3.0-or-later
//
// What moves by itself, against movers with known answers.
#include "bench/extent.h"
#include "bench/modulation.h"
#include "signal/generators.h"
#include "support/fixtures.h"

#include <cmath>
#include <numbers>

using namespace hr;

class tst_movement : public QObject {
    Q_OBJECT

private slots:
    void aTremoloIsRead_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<double>("depth_db");
        QTest::addColumn<double>("sample_rate_hz");
        QTest::newRow("usual") << 5.0 << 6.0 << 48000.0;
        QTest::newRow("slow and deep") << 0.1 << 30.0 << 44100.0;
        QTest::newRow("fast and shallow") << 19.3 << 0.8 << 96000.0;
        QTest::newRow("very fast") << 63.0 << 12.0 << 44100.0;
    }
    void aTremoloIsRead()
    {
        QFETCH(const double, rate_hz);
        QFETCH(const double, depth_db);
        QFETCH(const double, sample_rate_hz);
        bench::Conditions conditions;
        conditions.sample_rate_hz = sample_rate_hz;
        const auto reading =
            test::readingOf("movement", "tremolo", {{"rate_hz", rate_hz}, {"depth_db", depth_db}}, conditions);
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("amplitude_rate_hz"), rate_hz, 0.005 * rate_hz);
        HR_NEAR(*reading->number("amplitude_depth_db"), depth_db, 0.01 * depth_db);
        HR_NEAR(*reading->number("stereo_phase_deg"), 0, 0.1);
        HR_NEAR(*reading->number("randomness"), 0, 0.01);
        QVERIFY(!reading->number("pitch_rate_hz") && !reading->number("notch_count"));
    }

    void shapesOfMovementHaveTheirDepth_data()
    {
        QTest::addColumn<QString>("shape");
        QTest::addColumn<double>("rate_hz");
        for (const char* shape : {"triangle", "sine", "square"})
            for (const double rate_hz : {0.7, 5.3, 14.0, 23.0, 36.0})
                QTest::addRow("%s at %.1f Hz", shape, rate_hz) << QString::fromLatin1(shape) << rate_hz;
    }
    /// From full scale down to half of it, 6.02 dB, to a quarter of the allowed error.
    void shapesOfMovementHaveTheirDepth()
    {
        QFETCH(const QString, shape);
        QFETCH(const double, rate_hz);
        constexpr double sample_rate_hz = 48000;
        constexpr std::size_t cycle_frames = 24;
        std::vector<double> tone(static_cast<std::size_t>(12 * sample_rate_hz));
        for (std::size_t i = 0; i < tone.size(); ++i) {
            const double turns = 0.123 + static_cast<double>(i) / sample_rate_hz * rate_hz;
            const double part = turns - std::floor(turns);
            const double up = shape == QStringLiteral("triangle") ? 2 * std::abs(part - 0.5)
                              : shape == QStringLiteral("sine")
                                  ? 0.5 + 0.5 * std::cos(2 * std::numbers::pi * part)
                                  : part < 0.5;
            tone[i] = (0.5 + 0.5 * up) * std::sin(2 * std::numbers::pi * static_cast<double>(i) /
                                                  static_cast<double>(cycle_frames));
        }
        const auto curves = bench::demodulated(tone, cycle_frames, sample_rate_hz, rate_hz < 10 ? 4 : 2);
        const auto swing = bench::extentOf(curves.level_db, curves.rate_hz, rate_hz);
        HR_NEAR(swing.highest - swing.lowest, 6.0206, 0.005 * 6.0206);
    }

    /// What interpolates between samples ripples; a round top is no corner for it, at which more was cut off.
    void rippleIsNoCorner()
    {
        std::vector<double> curve(12000);
        for (std::size_t i = 0; i < curve.size(); ++i) {
            const double angle = 2 * std::numbers::pi * 5.079 * static_cast<double>(i) / 1000;
            const double delay_samples = 4.5 * std::sin(angle);
            curve[i] = std::cos(angle) + 0.002 * std::cos(2 * std::numbers::pi * delay_samples);
        }
        HR_NEAR(bench::extentOf(curve, 1000, 5.079).highest, 1.002, 0.002);
    }

    /// Of some values a period, and no whole number of them.
    void aFastMovementHasItsRate()
    {
        std::vector<double> curve(12000);
        for (const double rate_hz : {23.7, 63.0, 87.4, 141.0}) {
            for (std::size_t i = 0; i < curve.size(); ++i)
                curve[i] = std::sin(2 * std::numbers::pi * rate_hz * static_cast<double>(i) / 1000);
            const auto period = bench::periodicityOf(curve, 1000);
            QVERIFY2(period && period->explained > 0.99, qPrintable(QString::number(rate_hz)));
            HR_NEAR(period->rate_hz, rate_hz, 0.001 * rate_hz);
        }
    }

    void aVibratoIsRead_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<double>("cents");
        QTest::newRow("usual") << 5.0 << 20.0;
        QTest::newRow("slow and deep") << 0.5 << 100.0;
        QTest::newRow("fast and shallow") << 20.0 << 4.0;
        QTest::newRow("very fast") << 63.0 << 12.0;
    }
    void aVibratoIsRead()
    {
        QFETCH(const double, rate_hz);
        QFETCH(const double, cents);
        const auto reading =
            test::readingOf("movement", "vibrato", {{"rate_hz", rate_hz}, {"depth_cents", cents}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("pitch_rate_hz"), rate_hz, 0.005 * rate_hz);
        HR_NEAR(*reading->number("pitch_depth_cents"), cents, 0.01 * cents);
        QVERIFY(!reading->number("amplitude_rate_hz"));
    }

    /// A sine of 4 Hz is not weighted at all; 0.4 Hz by 15 dB.
    void wowAndFlutterIsWeighted()
    {
        for (const auto& [hz, weight_db] : {std::pair(4.0, 0.0), {0.4, -15.0}, {20.0, -5.9}}) {
            const auto wave = signal::sine(hz, 0.001, 1000, 20000);
            const double percent = 0.1 * std::pow(10, weight_db / 20);
            HR_NEAR(bench::wowAndFlutterPercent(wave, 1000), percent, 0.01 * percent);
        }
    }

    void sidesMoveApart()
    {
        const auto reading = test::readingOf("movement", test::specimenAt("swell"), {{"apart_deg", 90}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("stereo_phase_deg"), 90, 0.5);
    }

    /// Six all-passes make three notches.
    void aPhasersNotchesAreCountedAndFollowed()
    {
        const auto reading = test::readingOf("movement", test::specimenAt("eddy"));
        HR_VERIFY(reading);
        QCOMPARE(reading->number("notch_count"), std::optional(3.0));
        HR_NEAR(*reading->number("amplitude_rate_hz"), 0.3, 0.003);
        const auto& path = reading->series.at("notch_1").points;
        const auto [low, high] = std::ranges::minmax(path, {}, [](const auto& point) { return point.second; });
        QVERIFY(high.second > 4 * low.second);
    }

    void whatStandsStillHasNoMovement_data()
    {
        QTest::addColumn<QString>("id");
        for (const char* id :
             {"gain", "compressor", "gate", "noise-reverb", "feedback-delay", "hard-clip", "peak-filter"})
            QTest::newRow(id) << id;
    }
    void whatStandsStillHasNoMovement()
    {
        QFETCH(const QString, id);
        const auto reading = test::readingOf("movement", qPrintable(id));
        HR_VERIFY(reading);
        for (const auto& [key, value] : reading->figures.items())
            QVERIFY2(value.is_null() && !reading->reasons.at(key).empty(), key.c_str());
    }

    /// 300 Hz seen a thousand times a second is the same again after ten values, which are three periods.
    void aShortLagMayBeSeveralPeriods()
    {
        std::vector<double> curve(12000);
        for (const double rate_hz : {60.0, 90.0, 200.0, 300.0, 333.0}) {
            for (std::size_t i = 0; i < curve.size(); ++i)
                curve[i] =
                    -20 *
                    std::log10(1.5 + std::sin(2 * std::numbers::pi * rate_hz * static_cast<double>(i) / 1000));
            HR_NEAR(bench::periodicityOf(curve, 1000)->rate_hz, rate_hz, 0.001 * rate_hz);
        }
    }

    /// Three dips a period, hardly uneven: the fundamental is next to nothing.
    void sidesAreApartByAllOfTheirPeriod()
    {
        const auto dipped = [](double turns) {
            double value = 0;
            for (const double dip : {0.0, 0.33, 0.66})
                value -= 20 * std::exp(-std::pow(std::remainder(turns - dip, 1.0) / 0.03, 2));
            return value;
        };
        for (const double apart_deg : {0.0, 30.0, 90.0, 180.0}) {
            std::vector<double> left;
            std::vector<double> right;
            for (int i = 0; i < 12000; ++i) {
                left.push_back(dipped(i / 1250.0));
                right.push_back(dipped(i / 1250.0 - apart_deg / 360));
            }
            HR_NEAR(bench::apartDeg(left, right, 1000, 0.8), apart_deg, 1);
        }
    }

    void noiseMovesAtNoRate()
    {
        const auto noise = signal::gaussianNoise(1, 12000, 5);
        const auto period = bench::periodicityOf(noise, 1000);
        QVERIFY(!period || period->explained < 0.3);
        // A narrow dip once a period: few of its harmonics are small.
        std::vector<double> dips(12000);
        for (std::size_t i = 0; i < dips.size(); ++i)
            dips[i] = -20 * std::exp(-std::pow(std::remainder(static_cast<double>(i) - 900, 1700.0) / 40, 2));
        const auto found = bench::periodicityOf(dips, 1000);
        QVERIFY(found && found->explained > 0.95);
        HR_NEAR(found->rate_hz, 1 / 1.7, 0.002);
    }
};

HR_TEST(tst_movement)
#include "tst_movement.moc"
