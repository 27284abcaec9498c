// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/convolver.h"
#include "signal/generators.h"
#include "support/fixtures.h"

#include <algorithm>

using namespace hr;

class tst_convolver : public QObject {
    Q_OBJECT

private slots:
    void isTheSumOfAllThatCameBefore_data()
    {
        QTest::addColumn<int>("length");
        for (const int length : {1, 512, 700, 8192, 8193, 30'000}) // at and beyond each size of block
            QTest::addRow("%d", length) << length;
    }
    void isTheSumOfAllThatCameBefore()
    {
        QFETCH(const int, length);
        const auto response = signal::gaussianNoise(0.01, static_cast<std::size_t>(length), 3);
        const auto input = signal::onChannels(signal::gaussianNoise(0.1, 40'000, 4), 1, 48000);
        const auto in = input.channel(0);
        std::vector<float> out(in.size());
        signal::Convolver convolver;
        convolver.setResponse(response);
        for (std::size_t at = 0, count = 1; at < in.size(); at += count, count = 1 + count * 7 % 997) {
            count = std::min(count, in.size() - at);
            convolver.process(&in[at], &out[at], count);
        }
        for (std::size_t n = 0; n < in.size(); n += 61) {
            double sum = 0;
            for (std::size_t k = 0; k <= std::min(n, response.size() - 1); ++k)
                sum += response[k] * static_cast<double>(in[n - k]);
            HR_NEAR(out[n], sum, 1e-6);
        }
    }

    void aNewResponseForgetsThePast()
    {
        signal::Convolver convolver;
        convolver.setResponse(std::vector<double>(20'000, 1.0));
        const std::vector<float> loud(10'000, 1.0F);
        std::vector<float> out(loud.size());
        convolver.process(loud.data(), out.data(), loud.size());
        convolver.setResponse(std::vector<double>(20'000, 1.0));
        const std::vector<float> silence(loud.size());
        convolver.process(silence.data(), out.data(), silence.size());
        QVERIFY(std::ranges::all_of(out, [](float sample) { return sample == 0; }));
    }
};

HR_TEST(tst_convolver)
#include "tst_convolver.moc"
