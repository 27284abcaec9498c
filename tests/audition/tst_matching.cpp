// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/matching.h"
#include "processors/settings.h"
#include "signal/loudness.h"
#include "sources.h"
#include "support/fixtures.h"

using namespace hr;
using audition::measureLoop;
using audition::Section;
using audition::Source;

class tst_matching : public QObject {
    Q_OBJECT

    const Source m_band{demo::brassBand()};

private slots:
    void everythingComesDownToTheQuietest()
    {
        const auto gains = audition::matchingGainsDb({-20.0, -14.5, std::nullopt, -23.0});
        QCOMPARE(gains, (std::vector<double>{-3.0, -8.5, 0.0, 0.0}));
        QCOMPARE(audition::matchingGainsDb({std::nullopt}), std::vector<double>{0.0});
    }

    void aGainIsFoundExactly_data()
    {
        QTest::addColumn<double>("gain_db");
        for (const double gain : {-20.0, -0.5, 0.0, 3.3, 12.0})
            QTest::addRow("%g dB", gain) << gain;
    }
    void aGainIsFoundExactly()
    {
        QFETCH(double, gain_db);
        const Section section{48000, 3 * 48000};
        const auto reference = measureLoop(m_band, section);
        const auto louder = measureLoop(m_band, section, {"reference:gain", {}}, std::vector<double>{gain_db});
        HR_VERIFY(louder);
        HR_NEAR(*louder->loudness_lufs - *reference.loudness_lufs, gain_db, 0.01);
        HR_NEAR(louder->spread_lu, 0, 0.01);
    }

    void theSectionThatIsHeardIsMeasured()
    {
        // Loud in the first half, 20 dB less in the second.
        signal::AudioBuffer audio(2, 96000 * 2, 48000);
        const auto loud = test::tone(1000, -10, 2);
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < audio.frames(); ++i)
                audio.channel(c)[i] = loud.channel(c)[i % 96000] * (i < 96000 ? 1.0F : 0.1F);
        const Source source(audio);
        HR_NEAR(*measureLoop(source, {0, 96000}).loudness_lufs, -10, 0.1);
        HR_NEAR(*measureLoop(source, {96000, 96000}).loudness_lufs, -30, 0.1);
    }

    void aShortLoopIsMeasuredOverSeveralRounds()
    {
        HR_NEAR(*measureLoop(Source(test::tone(1000, -18, 0.1)), {0, 4800}).loudness_lufs, -18, 0.1);
    }

    void aDynamicProcessorMatchesWithinATenth()
    {
        // Matched by what was measured, the rendered loop reads the same loudness as the source.
        const auto location = test::specimenAt("cordage-leveller");
        auto instance = hosting::openInstance(location);
        HR_VERIFY(instance);
        const std::vector<double> values{-35, 6, 6, 5, 100, 10};
        const auto through = measureLoop(m_band, m_band.whole(), location, values);
        HR_VERIFY(through);
        HR_VERIFY((*instance)->start({48000, 256}, values));
        HR_VERIFY((*instance)->process(test::soundOf(m_band))); // once round to settle
        auto rendered = (*instance)->process(test::soundOf(m_band));
        HR_VERIFY(rendered);
        const double reference = *measureLoop(m_band, m_band.whole()).loudness_lufs;
        const double gain = std::pow(10, (reference - *through->loudness_lufs) / 20);
        for (float& sample : rendered->samples())
            sample *= static_cast<float>(gain);
        HR_NEAR(*signal::measureLoudness(*rendered).integrated_lufs, reference, 0.1);
    }

    void silenceHasNoLoudnessAndFaultsComeBack()
    {
        const Source silence(signal::AudioBuffer(2, 48000, 48000));
        QVERIFY(!measureLoop(silence, silence.whole()).loudness_lufs);
        const auto failed =
            measureLoop(m_band, m_band.whole(), test::faultyAt("exit-in-run"), std::vector<double>{0});
        QVERIFY(!failed);
        QCOMPARE(failed.error().cause, hosting::Cause::Exit);
    }

    void cancellingEndsSoon()
    {
        std::stop_source stop;
        stop.request_stop();
        const auto cancelled = measureLoop(m_band, m_band.whole(), {"reference:gain", {}},
                                           std::vector<double>{0}, stop.get_token());
        QVERIFY(!cancelled && isCancelled(cancelled.error()));
    }
};

HR_TEST(tst_matching)
#include "tst_matching.moc"
