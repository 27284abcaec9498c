// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/compare_on.h"
#include "bench/programme.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"
#include "support/fixtures.h"

#include <numbers>

using namespace hr;

class tst_compare : public QObject {
    Q_OBJECT

    signal::AudioBuffer m_music;

    signal::AudioBuffer through(const std::string& name, const std::vector<processors::Setting>& settings) const
    {
        auto instance =
            hosting::openInstance({"reference:" + name, {}}, {.channels = hosting::Channels::Stereo});
        const auto values = *processors::resolveSettings((*instance)->info(), {}, settings);
        return *audition::heardThrough(**instance, values, m_music);
    }
    /// Later by parts of a sample, in the circle.
    signal::AudioBuffer delayed(double samples) const
    {
        std::vector<double> sound(m_music.channel(0).begin(), m_music.channel(0).end());
        auto bins = signal::forwardTransform(sound);
        for (std::size_t k = 0; k < bins.size(); ++k)
            bins[k] *= std::polar(1.0, -2 * std::numbers::pi * static_cast<double>(k) * samples /
                                           static_cast<double>(sound.size()));
        return signal::onChannels(signal::inverseTransform(bins, sound.size()), 2, 48000);
    }

private slots:
    void initTestCase() { m_music = signal::onChannels(bench::programme(48000), 2, 48000); }

    void latencyAndLevelAreNoDifference()
    {
        const auto found = audition::compare(through("gain", {{"gain_db", 0}}),
                                             through("added-latency", {{"latency_samples", 500}}));
        QCOMPARE(found.offset_samples, 500.0);
        QVERIFY(found.same);
        const auto quieter = audition::compare(m_music, through("gain", {{"gain_db", -7}}));
        HR_NEAR(*quieter.gain_db, 7, 0.001);
        QVERIFY(quieter.same);
        HR_NEAR(*quieter.response_difference_db, 0, 0.001);
    }

    void partsOfASampleAreFound()
    {
        const auto found = audition::compare(m_music, delayed(12.37));
        HR_NEAR(found.offset_samples, 12.37, 1e-3);
        QVERIFY2(found.same, qPrintable(QString::number(*found.residual_db)));
    }

    void aSteadyToneIsNotMoved()
    {
        // A whole number of half periods fits: it matches itself as well when moved, and turned over.
        const auto found = audition::compare(test::tone(440, -20, 2), test::tone(440, -26, 2));
        QCOMPARE(found.offset_samples, 0.0);
        QVERIFY(found.same);
        HR_NEAR(*found.gain_db, 6, 1e-3);
    }

    void aDifferenceHasItsSize()
    {
        // A peak of 3 dB differs by that much in its band; noise at -60 dBFS leaves just that.
        const auto peak =
            audition::compare(m_music, through("peak-filter", {{"frequency_hz", 1000}, {"gain_db", 3}}));
        QVERIFY(!peak.same);
        HR_NEAR(*peak.response_difference_db, 3, 1);
        const auto noisy = audition::compare(m_music, through("added-noise", {{"noise_dbfs", -60}}));
        HR_NEAR(*noisy.residual_db, -60 - signal::rmsDbfs(std::span<const float>(m_music.channel(0))), 0.2);
        QVERIFY(!noisy.same);
    }

    void silenceIsTheSameAsSilenceOnly()
    {
        const signal::AudioBuffer silence(2, 48000, 48000);
        QVERIFY(audition::compare(silence, silence).same);
        const auto found = audition::compare(signal::AudioBuffer(test::tone(1000, -20, 1)), silence);
        QVERIFY(!found.same && !found.gain_db && !found.residual_db);
    }

    /// The same only where no sound shows a difference; silence against sound shows more than any.
    void theSoundThatShowsMostDecides()
    {
        const auto tone = test::tone(1000, -20, 1);
        const auto louder = test::tone(1000, -14, 1);
        const auto other = test::tone(1300, -20, 1);
        const auto near = through("added-noise", {{"noise_dbfs", -80}});
        QVERIFY(audition::mostApart({tone, tone}, {tone, louder}).comparison.same);
        const auto most = audition::mostApart({m_music, tone, tone}, {near, other, tone});
        QCOMPARE(most.on, std::size_t{1});
        QVERIFY(!most.comparison.same);
        const signal::AudioBuffer silence(tone.channels(), tone.frames(), tone.sampleRateHz());
        QCOMPARE(audition::mostApart({tone, tone}, {other, silence}).on, std::size_t{1});
    }

    void aFolderWithoutSoundsGivesTheProgramme()
    {
        const QTemporaryDir folder;
        const auto none = audition::soundsIn(folder.path().toStdString());
        QVERIFY(none.size() == 1 && none[0].sound.frames() > 48000);
        for (const char* name : {"b.wav", "a.wav", "c.txt"})
            HR_VERIFY(signal::writeAudioFile(folder.filePath(QString::fromLatin1(name)).toStdString(),
                                             test::tone(440, -20, 1)));
        const auto two = audition::soundsIn(folder.path().toStdString());
        QVERIFY(two.size() == 2 && two[0].file.stem() == "a" && two[1].file.stem() == "b");
        const auto heard = audition::heardOn(two, {"reference:gain", {}}, {});
        HR_VERIFY(heard);
        QCOMPARE(heard->size(), std::size_t{2});
        QVERIFY(!audition::heardOn(two, {"reference:nobody", {}}, {}));
    }
};

HR_TEST(tst_compare)
#include "tst_compare.moc"
