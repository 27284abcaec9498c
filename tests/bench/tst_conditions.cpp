// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/conditions.h"
#include "bench/programme.h"
#include "signal/audio_file.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Conditions;

class tst_conditions : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;

    std::filesystem::path file(const char* name) const
    {
        return std::filesystem::path(m_folder.path().toStdString()) / name;
    }

private slots:
    void whatMakesNoSenseIsNamed_data()
    {
        QTest::addColumn<Conditions>("conditions");
        QTest::addColumn<QString>("key");
        const auto row = [](const char* name, const char* key, const auto& change) {
            Conditions conditions;
            change(conditions);
            QTest::newRow(name) << conditions << QString::fromLatin1(key);
        };
        row("the usual ones", "", [](Conditions&) {});
        row("all at once", "",
            [](Conditions& c) { c = {96000, 64, -20.0, 100.0, 120.0, bench::KeyFeed::Silence, nullptr}; });
        row("no rate", "rate", [](Conditions& c) { c.sample_rate_hz = 0; });
        row("not a rate", "rate", [](Conditions& c) { c.sample_rate_hz = std::nan(""); });
        row("no block", "block", [](Conditions& c) { c.block_frames = 0; });
        row("too long a block", "block", [](Conditions& c) { c.block_frames = 1'000'000; });
        row("far too loud", "level", [](Conditions& c) { c.level_dbfs = 60; });
        row("beyond half the rate", "frequency", [](Conditions& c) { c.frequency_hz = 30000; });
        row("no frequency", "frequency", [](Conditions& c) { c.frequency_hz = 0; });
        row("standing still", "tempo", [](Conditions& c) { c.tempo_bpm = 0; });
    }
    void whatMakesNoSenseIsNamed()
    {
        QFETCH(const Conditions, conditions);
        QFETCH(const QString, key);
        const auto wrong = bench::unfit(conditions);
        QCOMPARE(wrong ? QString::fromStdString(wrong->key) : QString(), key);
        QVERIFY(!wrong || wrong->why.starts_with("takes "));
    }

    void theyAreEqualForWhatIsTakenAlike()
    {
        Conditions other;
        QVERIFY(other == Conditions());
        other.tempo_bpm = 120;
        QVERIFY(!(other == Conditions()));
        const auto sound = test::tone(440, -20, 0.5);
        Conditions with;
        with.programme = *bench::passageOf("one", sound, 48000);
        Conditions again;
        again.programme = *bench::passageOf("the same under another name", sound, 48000);
        QVERIFY(with == again && !(with == Conditions()));
        again.programme = *bench::passageOf("one", test::tone(440, -21, 0.5), 48000);
        QVERIFY(!(with == again));
    }

    void aSectionOfAFileIsRead()
    {
        signal::AudioBuffer sound(2, 96000, 48000); // a second at -20, one at -40 dBFS
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < 96000; ++i)
                sound.channel(c)[i] = static_cast<float>(
                    (i < 48000 ? 0.1 : 0.01) * std::sin(2 * std::numbers::pi * 0.02 * static_cast<double>(i)));
        HR_VERIFY(signal::writeAudioFile(file("two.wav"), sound));
        const auto second = bench::readPassage(file("two.wav"), 1, 2, 96000);
        HR_VERIFY(second);
        QCOMPARE((*second)->sound.sampleRateHz(), 96000.0);
        HR_NEAR((*second)->sound.seconds(), 1, 1e-3);
        HR_NEAR(signal::rmsDbfs(std::as_const((*second)->sound).channel(0)), -40, 0.1);
        QCOMPARE((*second)->title, std::string("two.wav, 1.00 to 2.00 s"));
        const auto whole = bench::readPassage(file("two.wav"), 0, 0, 48000);
        HR_VERIFY(whole);
        QCOMPARE((*whole)->title, std::string("two.wav"));
        QCOMPARE((*whole)->sound.frames(), std::size_t{96000});
    }

    void whatCannotBeTakenIsRefused()
    {
        QVERIFY(!bench::readPassage(file("absent.wav"), 0, 0, 48000));
        HR_VERIFY(signal::writeAudioFile(file("long.wav"), signal::AudioBuffer(1, 8000 * 130, 8000)));
        const auto longer = bench::readPassage(file("long.wav"), 0, 0, 48000);
        QVERIFY(!longer && longer.error().text.find("choose a section") != std::string::npos);
        HR_VERIFY(bench::readPassage(file("long.wav"), 10, 20, 48000));
        const auto beyond = bench::readPassage(file("long.wav"), 500, 510, 48000);
        QVERIFY(!beyond && beyond.error().text.find("130.0 s long") != std::string::npos);
        QVERIFY(!bench::readPassage(file("long.wav"), -1, 10, 48000));
        QVERIFY(!bench::readPassage(file("long.wav"), std::nan(""), 10, 48000));
        QVERIFY(!bench::passageOf("nothing", signal::AudioBuffer(), 48000));
    }

    void everyInputGetsItsSideOfTheProgramme()
    {
        Conditions conditions;
        QCOMPARE(bench::programmeFor(conditions, 3)[2], bench::programme(48000));
        signal::AudioBuffer sides(2, 100, 48000);
        std::ranges::fill(sides.channel(0), 0.5F);
        std::ranges::fill(sides.channel(1), -0.25F);
        conditions.programme = *bench::passageOf("sides", sides, 48000);
        const auto four = bench::programmeFor(conditions, 4);
        QCOMPARE(four[3][50], -0.25);
        QCOMPARE(four[2][50], 0.5);
        QCOMPARE(bench::programmeFor(conditions, 1)[0][50], 0.125); // the mean of both
    }

    /// What a gate leaves depends on what is played to it.
    void testsWithProgrammeTakeThePassage()
    {
        Conditions quiet;
        quiet.programme = *bench::passageOf("quiet", test::tone(997, -60, 4), 48000);
        Conditions loud;
        loud.programme = *bench::passageOf("loud", test::tone(997, -20, 4), 48000);
        const std::vector<processors::Setting> settings{{"threshold_db", -40}, {"range_db", 20}};
        const auto closed = test::readingOf("loudness_shift", "gate", settings, quiet);
        const auto open = test::readingOf("loudness_shift", "gate", settings, loud);
        HR_VERIFY(open);
        HR_VERIFY(closed);
        HR_NEAR(*open->number("shift_lu"), 0, 0.05);
        QVERIFY(!closed->number("shift_lu") || *closed->number("shift_lu") < -15);
        // Left and right of the passage go to their inputs.
        signal::AudioBuffer against = test::tone(500, -20, 2);
        for (float& sample : against.channel(1))
            sample = -sample;
        Conditions sides;
        sides.programme = *bench::passageOf("against each other", against, 48000);
        const auto stereo = test::readingOf("stereo", "gain", {}, sides);
        HR_VERIFY(stereo);
        HR_NEAR(*stereo->number("correlation"), -1, 1e-3);
    }
};

Q_DECLARE_METATYPE(hr::bench::Conditions)
HR_TEST(tst_conditions)
#include "tst_conditions.moc"
