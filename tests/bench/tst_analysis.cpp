// SPDX-License-Identifier: GPL-3.0-or-later
//
// The arithmetic that several tests of the bench share, on curves made on paper, and on whatever comes.
#include "bench/arrivals.h"
#include "bench/gain_trace.h"
#include "bench/level_curve.h"
#include "bench/modulation.h"
#include "bench/reverberation.h"
#include "signal/generators.h"
#include "support/fixtures.h"

#include <cmath>
#include <random>

using namespace hr;

class tst_analysis : public QObject {
    Q_OBJECT

    static constexpr double rate_hz = 48000;

    /// Noise that falls by 60 dB in `rt60_s`, over a floor.
    static std::vector<double> decaying(double rt60_s, double floor_db, double seconds)
    {
        auto power = signal::gaussianNoise(1, static_cast<std::size_t>(seconds * rate_hz), 3);
        const double floor = std::pow(10, floor_db / 10);
        for (std::size_t i = 0; i < power.size(); ++i)
            power[i] *= power[i] * (std::pow(10, -6 * static_cast<double>(i) / rate_hz / rt60_s) + floor);
        return power;
    }

private slots:
    void decaysAreReadThroughNoise_data()
    {
        QTest::addColumn<double>("rt60_s");
        QTest::addColumn<double>("floor_db");
        QTest::addColumn<bool>("readable");
        QTest::newRow("clean") << 1.0 << -300.0 << true;
        QTest::newRow("over noise") << 2.0 << -55.0 << true;
        QTest::newRow("noise too near") << 2.0 << -25.0 << false;
        QTest::newRow("hardly falls") << 60.0 << -300.0 << false;
    }
    void decaysAreReadThroughNoise()
    {
        QFETCH(const double, rt60_s);
        QFETCH(const double, floor_db);
        QFETCH(const bool, readable);
        const auto times = bench::decayTimes(decaying(rt60_s, floor_db, 4), rate_hz);
        QCOMPARE(times.t30_s.has_value(), readable);
        if (readable)
            HR_NEAR(*times.t30_s, rt60_s, 0.02 * rt60_s);
    }

    void aGainThatStandsStillIsToldFromOneThatBeginsSlowly()
    {
        std::vector<double> held;
        std::vector<double> slow;
        for (int i = 0; i < 48000; ++i) {
            const double t = i / rate_hz;
            held.push_back(t < 0.03 ? -12 : -12 * std::exp(-(t - 0.03) / 0.1));
            slow.push_back(-12 * (1 + t / 0.1) * std::exp(-t / 0.1)); // two poles, one after the other
        }
        const bench::GainChange change{-12, 0};
        HR_NEAR(*bench::standstillOf(held, change, rate_hz), 0.03, 0.0003);
        HR_NEAR(*bench::timeOf(held, change, 0.632, rate_hz), 0.13, 0.0003);
        QVERIFY(!bench::standstillOf(slow, change, rate_hz));
        QVERIFY(!bench::timeOf(held, {-12, 12}, 0.9, rate_hz));
    }

    /// A step of 20 dB whose answer comes 100 samples later, 6 dB down from then on, through a phase of its own
    /// or not.
    void gainsAreTracedAcrossTheStep_data()
    {
        QTest::addColumn<double>("turn");
        QTest::newRow("sample by sample") << 0.0;
        QTest::newRow("cycle by cycle") << 0.7;
    }
    void gainsAreTracedAcrossTheStep()
    {
        QFETCH(const double, turn);
        std::vector<double> answer;
        for (int i = 0; i < 4800; ++i)
            answer.push_back((i < 100 ? 0.01 : 0.05) * std::sin(2 * M_PI * 1000 / rate_hz * (i - 100) + turn));
        const auto gain = bench::gainTrace(answer, {1000, -40, -20, rate_hz, 100});
        HR_NEAR(gain[30], 0, 0.05);
        HR_NEAR(gain[4000], -6.02, 0.05);
    }

    /// Wherever in a cycle of the tone it begins to recover.
    void aHoldIsFoundBeforeAShortRelease()
    {
        for (double hold_s = 0.05; hold_s < 0.051; hold_s += 0.0001)
            for (const double release_s : {0.005, 0.0114, 0.05}) {
                std::vector<double> answer;
                for (int i = 0; i < 24000; ++i) {
                    const double t = i / rate_hz;
                    const double gain_db = t < hold_s ? 0 : -40 * (1 - std::exp(-(t - hold_s) / release_s));
                    answer.push_back(0.05 * std::pow(10, gain_db / 20) * std::sin(2 * M_PI * 1000 * t));
                }
                const auto gain = bench::gainTrace(answer, {1000, -12, -26.02, rate_hz, 0});
                const auto stood_s = bench::standstillOf(gain, {0, -40}, rate_hz);
                QVERIFY2(stood_s, qPrintable(QStringLiteral("%1 then %2").arg(hold_s).arg(release_s)));
                HR_NEAR(*stood_s, hold_s, 0.0003);
            }
    }

    void arrivalsAreFoundBetweenTheSamples()
    {
        std::vector<std::vector<double>> response(1, std::vector<double>(48000));
        for (const auto& [at, level] : {std::pair(480.0, 1.0), {12000.5, 0.25}})
            for (std::size_t i = 0; i < 48000; ++i) {
                const double x = M_PI * (static_cast<double>(i) - at);
                response[0][i] += level * (std::abs(x) < 1e-9 ? 1 : std::sin(x) / x);
            }
        const auto found = bench::arrivalsIn(response, 48000, rate_hz);
        QCOMPARE(found.list.size(), std::size_t{2});
        HR_NEAR(found.list[0].at, 480, 0.05);
        HR_NEAR(found.list[1].at, 12000.5, 0.05);
        HR_NEAR(10 * std::log10(found.list[1].power / found.list[0].power), -12.04, 0.1);
        QVERIFY(found.fall_db > 30);
        QVERIFY(bench::directSound(found, 481, rate_hz) && !bench::directSound(found, 0, rate_hz));
    }

    /// Silence, constants, single samples, noise of any length: a figure or none, and never one that is not
    /// finite.
    void whateverComesIsAnswered()
    {
        std::mt19937 random(11);
        for (int round = 0; round < 60; ++round) {
            const std::size_t size = 200 + random() % 30000;
            auto curve = signal::gaussianNoise(1, size, random());
            if (round % 4 == 0)
                std::ranges::fill(curve, round % 8 == 0 ? 0.0 : 3.0);
            if (round % 5 == 0)
                std::fill(curve.begin() + static_cast<std::ptrdiff_t>(random() % size), curve.end(), 0.0);
            std::vector<double> power;
            for (const double s : curve)
                power.push_back(s * s);
            const auto times = bench::decayTimes(power, rate_hz);
            QVERIFY(std::isfinite(times.t30_s.value_or(0)) && std::isfinite(times.edt_s.value_or(0)));
            QVERIFY(std::isfinite(bench::denseAfterS(curve, rate_hz).value_or(0)));
            const auto period = bench::periodicityOf(curve, 1000);
            QVERIFY(!period || (std::isfinite(period->rate_hz) && period->explained <= 1));
            QVERIFY(std::isfinite(bench::wowAndFlutterPercent(curve, 1000)));
            const auto arrivals = bench::arrivalsIn({curve}, size, rate_hz);
            QVERIFY(arrivals.list.size() <= 64 && std::isfinite(arrivals.explained(std::nullopt)));
            bench::LevelCurve levels;
            for (std::size_t i = 0; i < 61; ++i)
                levels.emplace_back(static_cast<double>(i) - 60, static_cast<double>(i) - 60 + 5 * curve[i]);
            const auto figures = bench::readLevelCurve(levels);
            QVERIFY(!figures.kind.empty() && std::isfinite(figures.threshold_db.value_or(0)));
        }
    }
};

HR_TEST(tst_analysis)
#include "tst_analysis.moc"
