// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/generators.h"
#include "signal/transform.h"
#include "support/fixtures.h"

#include <thread>

using namespace hr;

class tst_transform : public QObject {
    Q_OBJECT

private slots:
    void forwardThenInverseIsTheSame_data()
    {
        QTest::addColumn<int>("size");
        for (const int size : {1, 2, 7, 100, 1024, 4801})
            QTest::addRow("%d", size) << size;
    }
    void forwardThenInverseIsTheSame()
    {
        QFETCH(int, size);
        const auto noise = signal::gaussianNoise(1, static_cast<std::size_t>(size), 1);
        const auto back = signal::inverseTransform(signal::forwardTransform(noise), noise.size());
        for (std::size_t i = 0; i < noise.size(); ++i)
            HR_NEAR(back[i], noise[i], 1e-12);
    }

    void aSineOfWholeCyclesIsOneBin()
    {
        const auto bins = signal::forwardTransform(signal::sine(100, 0.5, 1000, 1000));
        for (std::size_t k = 0; k < bins.size(); ++k)
            HR_NEAR(std::abs(bins[k]), k == 100 ? 250.0 : 0.0, 1e-9);
    }

    void fastSizesAreProductsOfSmallPrimes()
    {
        QCOMPARE(signal::fastSize(1), std::size_t{1});
        QCOMPARE(signal::fastSize(7), std::size_t{8});
        QCOMPARE(signal::fastSize(1001), std::size_t{1024});
        QCOMPARE(signal::fastSize(1025), std::size_t{1080});
    }

    void deconvolutionFindsADelayAndItsGain()
    {
        const auto sweep = signal::exponentialSweep(10, 23000, 0.5, 48000, 96000);
        std::vector<double> answer(96000 + 4800);
        for (std::size_t i = 0; i < sweep.size(); ++i)
            answer[i + 321] += 0.25 * sweep[i];
        const auto response = signal::deconvolve(answer, sweep);
        const auto largest = std::ranges::max_element(response) - response.begin();
        QCOMPARE(static_cast<int>(largest), 321);
        // The sweep's skirts reach almost to 24 kHz: next to nothing of the pulse is missing.
        HR_NEAR(response[321], 0.25, 0.0005);
    }

    void transformsRunOnSeveralThreads()
    {
        const auto noise = signal::gaussianNoise(1, 1 << 14, 9);
        const auto alone = signal::forwardTransform(noise);
        std::atomic<int> wrong{0};
        {
            std::vector<std::jthread> threads;
            for (int i = 0; i < 4; ++i)
                threads.emplace_back([&] {
                    for (int k = 0; k < 20; ++k)
                        wrong += signal::forwardTransform(noise) != alone;
                });
        }
        QCOMPARE(wrong.load(), 0);
    }
};

HR_TEST(tst_transform)
#include "tst_transform.moc"
