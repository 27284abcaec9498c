// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/matching.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"
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
        const auto louder = measureLoop(m_band, section, {{"reference:gain", {}}, {gain_db}});
        HR_VERIFY(louder);
        HR_NEAR(*louder->levels.loudness_lufs - *reference.levels.loudness_lufs, gain_db, 0.01);
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
        HR_NEAR(*measureLoop(source, {0, 96000}).levels.loudness_lufs, -10, 0.1);
        HR_NEAR(*measureLoop(source, {96000, 96000}).levels.loudness_lufs, -30, 0.1);
    }

    void aShortLoopIsMeasuredOverSeveralRounds()
    {
        HR_NEAR(*measureLoop(Source(test::tone(1000, -18, 0.1)), {0, 4800}).levels.loudness_lufs, -18, 0.1);
    }

    void aDynamicProcessorMatchesWithinATenth()
    {
        // Matched by what was measured, the rendered loop reads the same loudness as the source.
        const auto location = test::specimenAt("cordage-leveller");
        auto instance = hosting::openInstance(location);
        HR_VERIFY(instance);
        const std::vector<double> values{-35, 6, 6, 5, 100, 10};
        const auto through = measureLoop(m_band, m_band.whole(), {location, values});
        HR_VERIFY(through);
        HR_VERIFY((*instance)->start({48000, 256}, values));
        HR_VERIFY((*instance)->process(test::soundOf(m_band))); // once round to settle
        auto rendered = (*instance)->process(test::soundOf(m_band));
        HR_VERIFY(rendered);
        const double reference = *measureLoop(m_band, m_band.whole()).levels.loudness_lufs;
        const double gain = std::pow(10, (reference - *through->levels.loudness_lufs) / 20);
        for (float& sample : rendered->samples())
            sample *= static_cast<float>(gain);
        HR_NEAR(*signal::measureLoudness(*rendered).integrated_lufs, reference, 0.1);
    }

    void eachBasisReadsItsOwn()
    {
        // A tone of -20 dBFS at 1 kHz beside one of -26 dBFS at 8 kHz.
        auto sound = test::tone(1000, -20, 4);
        const auto high = test::tone(8000, -26, 4);
        for (std::size_t i = 0; i < sound.samples().size(); ++i)
            sound.samples()[i] += high.samples()[i];
        const Source source(sound);
        const audition::MatchRule rule{audition::Basis::Band, {500, 2000}};
        const auto read = measureLoop(source, source.whole(), rule).levels;
        HR_NEAR(*read.by(audition::Basis::Rms), -20 + 10 * std::log10(1 + std::pow(10, -0.6)), 0.01);
        HR_NEAR(*read.by(audition::Basis::Peak), -16.57, 0.05); // of 0.1 sin x + 0.05 sin 8 x
        HR_NEAR(*read.by(audition::Basis::Band),
                *measureLoop(Source(test::tone(1000, -20, 4)), {0, 192000}).levels.loudness_lufs, 0.05);
        QVERIFY(!measureLoop(source, source.whole()).levels.band_lufs);
        // The same through a processor, 6 dB louder by each.
        const auto louder = measureLoop(source, source.whole(), {{"reference:gain", {}}, {6}}, rule);
        for (const auto basis :
             {audition::Basis::Loudness, audition::Basis::Band, audition::Basis::Rms, audition::Basis::Peak})
            HR_NEAR(*louder->levels.by(basis) - *read.by(basis), 6, 0.02);
    }

    void aTailIsMeasuredOnceItFillsTheLoop()
    {
        // A reverb of three seconds over one of drums: what is heard once it has gone round twenty times.
        const Source drums(demo::deckDrums());
        const Section loop{0, 48000};
        const hosting::Location reverb{"reference:noise-reverb", {}};
        const std::vector<double> values{3, 20};
        const auto found = measureLoop(drums, loop, {reverb, values});
        HR_VERIFY(found);
        auto instance = hosting::openInstance(reverb, {.channels = hosting::Channels::Stereo});
        HR_VERIFY((*instance)->start({48000, 256}, values));
        signal::AudioBuffer fed(2, 48000 * 20, 48000);
        drums.read(loop, 0, fed.channel(0).data(), fed.channel(1).data(), fed.frames());
        const auto heard = (*instance)->process(fed);
        HR_VERIFY(heard);
        signal::AudioBuffer last(2, 48000 * 10, 48000);
        for (std::size_t c = 0; c < 2; ++c)
            std::ranges::copy(heard->channel(c).last(last.frames()), last.channel(c).begin());
        HR_NEAR(*found->levels.loudness_lufs, *signal::measureLoudness(last).integrated_lufs, 0.1);
        QVERIFY(found->spread_lu < 0.1);
    }

    void whatVariesSaysByHowMuch()
    {
        // 12 dB up and down every four seconds, over a loop of three.
        const Source tone(test::tone(1000, -20, 3));
        const auto varies = measureLoop(tone, tone.whole(), {{"reference:tremolo", {}}, {0.11, 24}});
        HR_VERIFY(varies);
        QVERIFY2(varies->spread_lu > 0.5, qPrintable(QString::number(varies->spread_lu)));
    }

    void aLongSectionIsMeasuredOnce()
    {
        signal::AudioBuffer audio(2, 48000 * 70, 48000);
        const auto tone = test::tone(1000, -20, 70);
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < audio.frames(); ++i)
                audio.channel(c)[i] = tone.channel(c)[i] * (i < audio.frames() / 2 ? 1.0F : 0.5F);
        const Source source(audio);
        const auto found = measureLoop(source, source.whole(), {{"reference:gain", {}}, {-3}});
        HR_VERIFY(found);
        HR_NEAR(*found->levels.loudness_lufs, *measureLoop(source, source.whole()).levels.loudness_lufs - 3,
                0.01);
        HR_NEAR(found->spread_lu, 0, 0.01);
    }

    /// Half of a gain of 12 dB beside half of the source, and the same through what comes 2000 samples late:
    /// were the source not lined up with it, they would not add up.
    void aTreatmentIsMixedWithTheSourceInStep()
    {
        const double source = *measureLoop(m_band, m_band.whole()).levels.loudness_lufs;
        const auto loudness = [this](const hosting::Location& location, std::vector<double> values,
                                     audition::WetDry mix) {
            return *measureLoop(m_band, m_band.whole(), {location, std::move(values), mix})
                        ->levels.loudness_lufs;
        };
        const double half = signal::linearToDb(0.5 + 0.5 * signal::dbToLinear(12));
        HR_NEAR(loudness({"reference:gain", {}}, {12}, audition::WetDry::insert(50)) - source, half, 0.01);
        HR_NEAR(loudness({"reference:gain", {}}, {-6}, audition::WetDry::sendAndReturn(2)) - source,
                signal::linearToDb(1 + 2 * signal::dbToLinear(-6)), 0.01);
        HR_NEAR(loudness({"reference:added-latency", {}}, {2000, 0}, audition::WetDry::insert(30)) - source, 0,
                0.01);
        HR_NEAR(loudness({"reference:gain", {}}, {12}, audition::WetDry::insert(0)) - source, 0, 0.001);
    }

    void silenceHasNoLoudnessAndFaultsComeBack()
    {
        const Source silence(signal::AudioBuffer(2, 48000, 48000));
        QVERIFY(!measureLoop(silence, silence.whole()).levels.loudness_lufs);
        const auto failed = measureLoop(m_band, m_band.whole(), {test::faultyAt("exit-in-run"), {0}});
        QVERIFY(!failed);
        QCOMPARE(failed.error().cause, hosting::Cause::Exit);
    }

    void cancellingEndsSoon()
    {
        std::stop_source stop;
        stop.request_stop();
        const auto cancelled =
            measureLoop(m_band, m_band.whole(), {{"reference:gain", {}}, {0}}, {}, stop.get_token());
        QVERIFY(!cancelled && isCancelled(cancelled.error()));
    }

    void aMixIsMeasuredInLongSectionsToo()
    {
        const auto noise = signal::gaussianNoise(0.05, 70 * 48000, 4);
        const Source source(signal::onChannels(noise, 2, 48000));
        const double plain = *measureLoop(source, source.whole()).levels.loudness_lufs;
        for (const double reported : {0.0, 1.0}) {
            const auto mixed =
                measureLoop(source, source.whole(),
                            {{"reference:added-latency", {}}, {3000, reported}, audition::WetDry::insert(50)});
            HR_VERIFY(mixed);
            HR_NEAR(*mixed->levels.loudness_lufs, plain, 0.02); // in step; out of it, noise would lose 3 dB
        }
    }

    void theLevelOfTheSourceMovesWhatReactsToIt()
    {
        Section quieter = m_band.whole();
        const audition::Treatment gate{
            {"reference:gate", {}},
            processors::nearestValues(test::infoOf("reference:gate"), {{"threshold_db", -30}})};
        const double loud = *measureLoop(m_band, quieter, gate)->levels.loudness_lufs;
        quieter.gain = static_cast<float>(signal::dbToLinear(-20));
        HR_NEAR(*measureLoop(m_band, quieter).levels.loudness_lufs,
                *measureLoop(m_band, m_band.whole()).levels.loudness_lufs - 20, 0.01);
        QVERIFY(measureLoop(m_band, quieter, gate)->levels.loudness_lufs.value_or(-200) < loud - 22);
    }
};

HR_TEST(tst_matching)
#include "tst_matching.moc"
