// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/phasor.h"
#include "support/fixtures.h"

using namespace hr;

class tst_generators : public QObject {
    Q_OBJECT

private slots:
    void stretchesOfASineJoin()
    {
        const auto whole = signal::sine(777.7, 0.5, 48000, 10000);
        auto joined = signal::sine(777.7, 0.5, 48000, 3333);
        const auto rest = signal::sine(777.7, 0.5, 48000, 10000 - 3333, 3333);
        joined.insert(joined.end(), rest.begin(), rest.end());
        QCOMPARE(joined, whole);
    }

    void aSineStaysExactAfterHours()
    {
        const std::size_t hours = std::size_t{48000} * 3600 * 5;
        const auto late = signal::sine(1000, 1, 48000, 48, hours);
        const auto early = signal::sine(1000, 1, 48000, 48);
        for (std::size_t i = 0; i < early.size(); ++i)
            HR_NEAR(late[i], early[i], 1e-6);
    }

    void aTurningToneIsASineAndACosine()
    {
        const double cycles_a_sample = 0.3125 + 0x1p-20; // its multiples are exact
        signal::Phasor tone(cycles_a_sample, 1000003);
        for (std::size_t n = 1000003; n < 1001003; ++n) {
            const auto now = tone.next();
            const double cycles = cycles_a_sample * static_cast<double>(n);
            const double phase = 2 * std::numbers::pi * (cycles - std::floor(cycles));
            QVERIFY(std::abs(now - std::polar(1.0, phase)) < 3e-14);
        }
    }

    void theSweepPassesEveryFrequencyOnce()
    {
        // Counting zero crossings: by the middle of a logarithmic sweep it is at the geometric mean.
        const auto sweep = signal::exponentialSweep(20, 20000, 0.5, 48000, 480000);
        const auto crossings = [&](std::size_t first, std::size_t count) {
            int n = 0;
            for (std::size_t i = first + 1; i < first + count; ++i)
                n += (sweep[i - 1] < 0) != (sweep[i] < 0);
            return n;
        };
        // 28 cycles of 20 Hz in a growth constant: 1.4 s, so it ends after 1.4 ln 1000 = 9.67 s.
        HR_NEAR(crossings(232105 - 4800, 9600) / 2.0 / 0.2, 632.5, 20);
        HR_NEAR(crossings(464200 - 1200, 960) / 2.0 / 0.02, 20000, 700);
        QVERIFY(std::abs(sweep.front()) < 1e-6 && std::abs(sweep.back()) < 1e-2);
        HR_NEAR(signal::peakDbfs(std::span<const double>(sweep)), -6.02, 0.01);
    }

    void noiseIsGaussianWhiteAndRepeatable()
    {
        const auto noise = signal::gaussianNoise(0.1, 200000, 42);
        QCOMPARE(noise, signal::gaussianNoise(0.1, 200000, 42));
        QVERIFY(noise != signal::gaussianNoise(0.1, 200000, 43));
        HR_NEAR(std::sqrt(signal::meanSquare(std::span<const double>(noise))), 0.1, 0.001);
        double fourth = 0;
        double neighbours = 0;
        for (std::size_t i = 1; i < noise.size(); ++i) {
            fourth += std::pow(noise[i] / 0.1, 4) / static_cast<double>(noise.size());
            neighbours += noise[i] * noise[i - 1] / 0.01 / static_cast<double>(noise.size());
        }
        HR_NEAR(fourth, 3, 0.1);      // kurtosis of the normal distribution
        HR_NEAR(neighbours, 0, 0.01); // no memory from sample to sample
    }
};

HR_TEST(tst_generators)
#include "tst_generators.moc"
