// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/source.h"
#include "demo_data.h"
#include "signal/audio_file.h"
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
        QCOMPARE((*source)->audio().channels(), std::size_t{2});
        QCOMPARE((*source)->frames(), std::size_t{48000});
        QVERIFY((*source)->remark().find("6 channels mixed down") != std::string::npos);
        QVERIFY((*source)->remark().find("44100 Hz") != std::string::npos);
        QVERIFY(!Source::load(file.parent_path(), 48000));
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
