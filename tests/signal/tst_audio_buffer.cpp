// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/resample.h"
#include "support/fixtures.h"

using namespace hr;
using signal::AudioBuffer;

class tst_audio_buffer : public QObject {
    Q_OBJECT

private slots:
    void sliceIsSilentOutside()
    {
        AudioBuffer audio(1, 4, 48000);
        for (std::size_t i = 0; i < 4; ++i)
            audio.channel(0)[i] = static_cast<float>(i + 1);
        const AudioBuffer part = signal::slice(audio, 2, 4);
        QCOMPARE(std::vector<float>(part.channel(0).begin(), part.channel(0).end()),
                 (std::vector<float>{3, 4, 0, 0}));
        QCOMPARE(*std::ranges::max_element(signal::slice(audio, 9, 4).samples()), 0.0F);
    }

    void manyChannelsFoldToTwo_data()
    {
        QTest::addColumn<int>("channels");
        QTest::addColumn<float>("left");
        QTest::addColumn<float>("right");
        // Channel n holds n + 1; odd ones fold left, even ones right, scaled to keep full scale.
        QTest::newRow("mono is doubled") << 1 << 1.0F << 1.0F;
        QTest::newRow("stereo stays") << 2 << 1.0F << 2.0F;
        QTest::newRow("six") << 6 << (1.0F + 3 + 5) / 3 << (2.0F + 4 + 6) / 3;
        QTest::newRow("three") << 3 << (1.0F + 3) / 2 << 2.0F / 2;
    }
    void manyChannelsFoldToTwo()
    {
        QFETCH(int, channels);
        AudioBuffer audio(static_cast<std::size_t>(channels), 8, 48000);
        for (std::size_t c = 0; c < audio.channels(); ++c)
            std::ranges::fill(audio.channel(c), static_cast<float>(c + 1));
        const AudioBuffer stereo = signal::toStereo(audio);
        QCOMPARE(stereo.channels(), std::size_t{2});
        QTEST(stereo.channel(0)[3], "left");
        QTEST(stereo.channel(1)[3], "right");
    }

    void resamplingKeepsToneAndLength()
    {
        const AudioBuffer at44 = test::tone(1000, -6, 1, 44100);
        const AudioBuffer at48 = signal::resampled(at44, 48000);
        QCOMPARE(at48.frames(), std::size_t{48000});
        QCOMPARE(at48.sampleRateHz(), 48000.0);
        // Away from the ends, where there is nothing to interpolate from.
        const auto middle = std::as_const(at48).channel(0).subspan(4800, 38400);
        HR_NEAR(20 * std::log10(test::amplitudeAt(middle, 1000, 48000)), -6, 0.001);
        QCOMPARE(signal::resampled(at44, 44100).frames(), at44.frames());
    }
};

HR_TEST(tst_audio_buffer)
#include "tst_audio_buffer.moc"
