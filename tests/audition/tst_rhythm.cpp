// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/generated_source.h"
#include "audition/rhythm.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "sources.h"
#include "support/fixtures.h"

using namespace hr;
using audition::findRhythm;
using audition::Source;

class tst_rhythm : public QObject {
    Q_OBJECT

    /// Bursts of noise at a tempo, the first of each four louder.
    static signal::AudioBuffer beats(double bpm, double seconds, double rate_hz)
    {
        const auto frames = static_cast<std::size_t>(seconds * rate_hz);
        const auto noise = signal::gaussianNoise(0.1, frames, 3);
        std::vector<double> samples(frames);
        for (std::size_t beat = 0;; ++beat) {
            const auto at = static_cast<std::size_t>(static_cast<double>(beat) * 60 / bpm * rate_hz);
            if (at >= frames)
                break;
            for (std::size_t i = at; i < frames; ++i)
                samples[i] += noise[i] * (beat % 4 == 0 ? 1 : 0.6) *
                              std::exp(-static_cast<double>(i - at) / (0.03 * rate_hz));
        }
        return signal::onChannels(samples, 2, rate_hz);
    }

private slots:
    void aTempoIsFound_data()
    {
        QTest::addColumn<double>("bpm");
        QTest::addColumn<double>("rate_hz");
        for (const double bpm : {72.0, 97.3, 120.0, 150.0})
            QTest::addRow("%g", bpm) << bpm << 44100.0;
        QTest::newRow("133.7 at another rate") << 133.7 << 96000.0;
    }
    void aTempoIsFound()
    {
        QFETCH(double, bpm);
        QFETCH(double, rate_hz);
        const Source source(beats(bpm, 16, rate_hz));
        const auto rhythm = findRhythm(source, source.whole());
        QVERIFY(rhythm.tempo_bpm);
        HR_NEAR(*rhythm.tempo_bpm, bpm, 0.005 * bpm);
        QVERIFY(rhythm.certainty > 0.6);
    }

    void theBandsOwnTempoIsFoundOrHalfOrTwiceOfIt()
    {
        const Source band(demo::brassBand());
        const auto rhythm = findRhythm(band, band.whole());
        QVERIFY(rhythm.tempo_bpm);
        const double octaves = std::log2(*rhythm.tempo_bpm / 96);
        HR_NEAR(octaves, std::round(octaves), 0.01);
    }

    void whereNothingRecursNoneIsMadeUp()
    {
        for (const char* name : {"generated:white-noise", "generated:silence", "generated:tone"}) {
            const Source source(*audition::generatedSound(name, 48000));
            const auto rhythm = findRhythm(source, source.whole());
            QVERIFY2(!rhythm.tempo_bpm || rhythm.certainty < 0.3, name);
        }
    }

    void onsetsAreFoundToAMillisecondAndSnappedTo()
    {
        const double rate_hz = 48000;
        const Source source(beats(100, 6, rate_hz));
        const auto rhythm = findRhythm(source, source.whole());
        QVERIFY(rhythm.onsets.size() >= 9 && rhythm.onsets.size() <= 11);
        const std::size_t third = 3 * 28800;
        const std::size_t snapped = audition::snappedToOnset(rhythm, third + 2000, rate_hz);
        HR_NEAR(static_cast<double>(snapped), static_cast<double>(third), 48);
        QCOMPARE(audition::snappedToOnset(rhythm, third + 14400, rate_hz), third + 14400); // none is near
        QCOMPARE(audition::snappedToBar(100, third, rate_hz), std::size_t{4 * 28800});
        QCOMPARE(audition::snappedToBar(100, 40000, rate_hz), std::size_t{0});
    }

    void generatedSoundsHaveTheirLevelAndRepeatWithoutASeam()
    {
        for (const auto& sound : audition::generatedSounds()) {
            const auto loaded = audition::loadSource(std::string(sound.name), 44100);
            HR_VERIFY(loaded);
            const auto audio = test::soundOf(**loaded);
            QCOMPARE(audio.seconds(), audition::generated_s);
            const auto left = audio.channel(0);
            const double level_db = signal::rmsDbfs(std::span<const float>(left));
            if (sound.name.ends_with("noise") || sound.name.ends_with("tone"))
                HR_NEAR(level_db, audition::generated_level_dbfs, 0.01);
            if (sound.name.ends_with("noise") || sound.name.ends_with("clicks"))
                continue;
            QVERIFY(std::abs(left.front() - left.back()) < 0.03F); // as large as its steps are
        }
        QVERIFY(!audition::generatedSound("generated:brown-noise", 48000));
        QVERIFY(!audition::loadSource("generated:brown-noise", 48000));
    }

    void shortAndCancelledSectionsSayLittle()
    {
        const Source source(beats(100, 4, 48000));
        const auto moment = findRhythm(source, {0, 2000});
        QVERIFY(!moment.tempo_bpm && moment.onsets.size() <= 1);
        std::stop_source stop;
        stop.request_stop();
        const auto none = findRhythm(source, source.whole(), stop.get_token());
        QVERIFY(!none.tempo_bpm && none.onsets.empty());
        QCOMPARE(audition::snappedToOnset(none, 1234, 48000), std::size_t{1234});
    }

    void onsetsOfALaterSectionAreFramesOfTheSource()
    {
        const Source source(beats(120, 8, 48000));
        const auto rhythm = findRhythm(source, {96000 - 4800, 96000});
        QVERIFY(!rhythm.onsets.empty());
        for (const std::size_t onset : rhythm.onsets) {
            const double beat = static_cast<double>(onset) / 24000;
            HR_NEAR(beat, std::round(beat), 0.01);
            QVERIFY(onset >= 96000 - 4800 && onset < 192000);
        }
    }
};

HR_TEST(tst_rhythm)
#include "tst_rhythm.moc"
