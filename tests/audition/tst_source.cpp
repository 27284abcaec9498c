// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/source.h"
#include "demo_data.h"
#include "signal/audio_file.h"
#include "signal/finite.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "sources.h"
#include "support/fixtures.h"

using namespace hr;
using audition::Section;
using audition::Source;

class tst_source : public QObject {
    Q_OBJECT

private slots:
    void aSectionRepeatsWithoutSeam()
    {
        signal::AudioBuffer counting(2, 100, 48000);
        for (std::size_t i = 0; i < 100; ++i)
            counting.channel(0)[i] = counting.channel(1)[i] = static_cast<float>(i);
        const Source source(counting);
        std::vector<float> left(25);
        std::vector<float> right(25);
        source.read({90, 10}, 7, left.data(), right.data(), 25);
        for (std::size_t i = 0; i < 25; ++i)
            QCOMPARE(left[i], static_cast<float>(90 + (7 + i) % 10));
    }

    void sectionsAreBroughtInside_data()
    {
        QTest::addColumn<int>("first");
        QTest::addColumn<int>("frames");
        QTest::addColumn<int>("fitted_first");
        QTest::addColumn<int>("fitted_frames");
        QTest::newRow("inside") << 100 << 300 << 100 << 300;
        QTest::newRow("too long") << 100 << 5000 << 0 << 1000;
        QTest::newRow("beyond the end") << 900 << 300 << 700 << 300;
        QTest::newRow("too short") << 500 << 1 << 500 << 64;
        QTest::newRow("far away") << 100000 << 10 << 936 << 64;
    }
    void sectionsAreBroughtInside()
    {
        QFETCH(int, first);
        QFETCH(int, frames);
        const Section section =
            audition::fitted({static_cast<std::size_t>(first), static_cast<std::size_t>(frames)}, 1000, 64);
        QTEST(static_cast<int>(section.first), "fitted_first");
        QTEST(static_cast<int>(section.frames), "fitted_frames");
        QCOMPARE(audition::fitted({0, 5}, 3, 64), (Section{0, 3}));
    }

    void filesAreMadeStereoAtTheEnginesRate()
    {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.path().toStdString() + "/six.wav";
        HR_VERIFY(signal::writeAudioFile(file, signal::AudioBuffer(6, 44100, 44100)));
        const auto source = Source::load(file, 48000);
        HR_VERIFY(source);
        QCOMPARE((*source)->frames(), std::size_t{48000});
        QVERIFY((*source)->remark().find("6 channels mixed down") != std::string::npos);
        QVERIFY((*source)->remark().find("44100 Hz") != std::string::npos);
        QVERIFY(!Source::load(file.parent_path(), 48000));
    }

    void aLongFileIsStreamedAsIfItWereLoaded_data()
    {
        QTest::addColumn<double>("file_rate_hz");
        QTest::newRow("same rate") << 48000.0;
        QTest::newRow("converted") << 44100.0;
        QTest::newRow("a rate without much in common") << 47999.0;
    }
    void aLongFileIsStreamedAsIfItWereLoaded()
    {
        QFETCH(double, file_rate_hz);
        QTemporaryDir folder;
        const std::filesystem::path file = folder.path().toStdString() + "/noise.wav";
        const auto noise = signal::gaussianNoise(0.1, static_cast<std::size_t>(4.3 * file_rate_hz), 5);
        HR_VERIFY(signal::writeAudioFile(file, signal::onChannels(noise, 2, file_rate_hz)));
        const auto loaded = Source::load(file, 48000);
        const auto streamed = Source::load(file, 48000, 1);
        HR_VERIFY(loaded);
        HR_VERIFY(streamed);
        QCOMPARE((*streamed)->frames(), (*loaded)->frames());
        const Section loop{1000, (*loaded)->frames() - 1000}; // over its end and round again
        std::vector<float> one(300000);
        std::vector<float> other(one.size());
        std::vector<float> right(one.size());
        (*loaded)->read(loop, 150000, one.data(), right.data(), one.size());
        for (std::size_t i = 0; i < other.size(); i += 1000)
            (*streamed)->read(loop, 150000 + i, other.data() + i, right.data() + i, 1000);
        for (std::size_t i = 0; i < one.size(); ++i)
            HR_NEAR(static_cast<double>(other[i]), static_cast<double>(one[i]), 1e-6);
        QTRY_VERIFY((*streamed)->overviewIsWhole());
        for (std::size_t i = 0; i < Source::overview_columns; ++i)
            QVERIFY((*streamed)->overview()[i] > 0.05F);
        QVERIFY((*streamed)->problem().empty());
    }

    void whatIsWrongFurtherOnIsSaidAndSilent()
    {
        QTemporaryDir folder;
        const std::filesystem::path file = folder.path().toStdString() + "/damaged.wav";
        auto audio = test::tone(440, -6, 4);
        audio.channel(0)[2 * 48000 + 17] = std::numeric_limits<float>::quiet_NaN();
        HR_VERIFY(signal::writeAudioFile(file, audio));
        const auto source = Source::load(file, 48000, 1);
        HR_VERIFY(source);
        std::vector<float> left(4 * 48000);
        std::vector<float> right(left.size());
        (*source)->read((*source)->whole(), 0, left.data(), right.data(), left.size());
        QVERIFY(signal::allFinite(left));
        QVERIFY(left[48000 + 100] != 0.0F);
        QVERIFY((*source)->problem().find("not finite at 2 s") != std::string::npos);
    }

    void demoSourcesAreSeamlessAndAtALevel_data()
    {
        QTest::addColumn<int>("which");
        for (std::size_t i = 0; i < demo::demoSources().size(); ++i)
            QTest::newRow(demo::demoSources()[i].file.c_str()) << static_cast<int>(i);
    }
    void demoSourcesAreSeamlessAndAtALevel()
    {
        QFETCH(int, which);
        const auto audio = demo::demoSources()[static_cast<std::size_t>(which)].make();
        QCOMPARE(audio.sampleRateHz(), 48000.0);
        QVERIFY(audio.seconds() >= 8 && audio.seconds() <= 16);
        const auto loudness = signal::measureLoudness(audio);
        QVERIFY(*loudness.integrated_lufs > -24 && *loudness.integrated_lufs < -18);
        QVERIFY(*loudness.true_peak_dbtp < -1);
        // The step over the seam is no larger than steps elsewhere.
        for (std::size_t c = 0; c < 2; ++c) {
            const auto samples = audio.channel(c);
            float largest = 0;
            for (std::size_t i = 1; i < samples.size(); ++i)
                largest = std::max(largest, std::abs(samples[i] - samples[i - 1]));
            QVERIFY(std::abs(samples.front() - samples.back()) <= largest);
        }
    }
};

HR_TEST(tst_source)
#include "tst_source.moc"
