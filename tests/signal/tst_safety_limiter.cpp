// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/safety_limiter.h"
#include "support/fixtures.h"

#include <limits>

using namespace hr;
using signal::SafetyLimiter;

class tst_safety_limiter : public QObject {
    Q_OBJECT

private slots:
    void restsBitForBit()
    {
        signal::AudioBuffer audio = test::tone(440, -1.5, 0.5);
        const signal::AudioBuffer before = audio;
        SafetyLimiter limiter;
        limiter.process(audio.channel(0).data(), audio.channel(1).data(), audio.frames());
        QVERIFY(!limiter.takeActed());
        for (std::size_t i = SafetyLimiter::latency_frames; i < audio.frames(); ++i)
            QCOMPARE(audio.channel(0)[i], before.channel(0)[i - SafetyLimiter::latency_frames]);
    }

    void holdsWhateverComes_data()
    {
        QTest::addColumn<float>("value");
        for (const float value : {1.0F, 10.0F, 1e6F, -3e38F, std::numeric_limits<float>::infinity(),
                                  std::numeric_limits<float>::quiet_NaN()})
            QTest::addRow("%g", static_cast<double>(value)) << value;
    }
    void holdsWhateverComes()
    {
        QFETCH(float, value);
        signal::AudioBuffer audio = test::tone(440, -20, 0.1);
        audio.channel(1)[2000] = value;
        SafetyLimiter limiter;
        limiter.process(audio.channel(0).data(), audio.channel(1).data(), audio.frames());
        QVERIFY(limiter.takeActed());
        QVERIFY(!limiter.takeActed());
        for (const float sample : audio.samples())
            QVERIFY(std::isfinite(sample) && std::abs(sample) <= SafetyLimiter::ceiling);
    }

    void letsGoAgainAfterAPeak()
    {
        signal::AudioBuffer audio = test::tone(440, -20, 2);
        audio.channel(0)[1000] = 4.0F;
        const signal::AudioBuffer before = audio;
        SafetyLimiter limiter;
        limiter.process(audio.channel(0).data(), audio.channel(1).data(), audio.frames());
        const std::size_t late = audio.frames() - 10;
        QCOMPARE(audio.channel(0)[late], before.channel(0)[late - SafetyLimiter::latency_frames]);
    }
};

HR_TEST(tst_safety_limiter)
#include "tst_safety_limiter.moc"
