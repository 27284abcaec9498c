// SPDX-License-Identifier: GPL-3.0-or-later
//
// The signals of EBU Tech 3341 (2016) and Tech 3342 (2016), made here, against their expected answers.
#include "signal/audio_file.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "support/fixtures.h"

using namespace hr;
using signal::AudioBuffer;

namespace {

struct Part {
    double level_dbfs;
    double seconds;
};

/// Stretches of a 1 kHz stereo sine, one level after the other.
AudioBuffer tones(const std::vector<Part>& parts)
{
    std::vector<AudioBuffer> stretches;
    std::size_t frames = 0;
    for (const Part& part : parts) {
        stretches.push_back(test::tone(1000, part.level_dbfs, part.seconds));
        frames += stretches.back().frames();
    }
    AudioBuffer audio(2, frames, 48000);
    std::ptrdiff_t at = 0;
    for (const AudioBuffer& one : stretches) {
        for (std::size_t c = 0; c < 2; ++c)
            std::ranges::copy(one.channel(c), audio.channel(c).begin() + at);
        at += static_cast<std::ptrdiff_t>(one.frames());
    }
    return audio;
}

} // namespace

class tst_loudness : public QObject {
    Q_OBJECT

private slots:
    void integratedLoudnessOfTech3341_data()
    {
        QTest::addColumn<QList<double>>("levels_and_seconds");
        QTest::addColumn<double>("lufs");
        QTest::newRow("case 1") << QList<double>{-23, 20} << -23.0;
        QTest::newRow("case 2") << QList<double>{-33, 20} << -33.0;
        QTest::newRow("case 3") << QList<double>{-36, 10, -23, 60, -36, 10} << -23.0;
        QTest::newRow("case 4") << QList<double>{-72, 10, -36, 10, -23, 60, -36, 10, -72, 10} << -23.0;
        QTest::newRow("case 5") << QList<double>{-26, 20, -20, 20.1, -26, 20} << -23.0;
    }
    void integratedLoudnessOfTech3341()
    {
        QFETCH(QList<double>, levels_and_seconds);
        QFETCH(double, lufs);
        std::vector<Part> parts;
        for (int i = 0; i < levels_and_seconds.size(); i += 2)
            parts.push_back({levels_and_seconds[i], levels_and_seconds[i + 1]});
        HR_NEAR(*signal::measureLoudness(tones(parts)).integrated_lufs, lufs, 0.1);
    }

    void surroundWeightsOfTech3341Case6()
    {
        const double levels[] = {-28, -28, -24, signal::no_level_db, -30, -30}; // L R C LFE Ls Rs
        AudioBuffer audio(6, 48000 * 20, 48000);
        for (std::size_t c = 0; c < 6; ++c)
            if (std::isfinite(levels[c]))
                std::ranges::copy(std::as_const(audio).channel(c).empty()
                                      ? std::span<const float>()
                                      : test::tone(1000, levels[c], 20).channel(0),
                                  audio.channel(c).begin());
        HR_NEAR(*signal::measureLoudness(audio).integrated_lufs, -23, 0.1);
    }

    void shortTermAndMomentaryOfTech3341()
    {
        // Case 9: 1.34 s at -20 and 1.66 s at -30, five times over: constant -23 in any 3 s.
        std::vector<Part> parts;
        for (int i = 0; i < 5; ++i)
            parts.insert(parts.end(), {{-20, 1.34}, {-30, 1.66}});
        HR_NEAR(*signal::measureLoudness(tones(parts)).short_term_max_lufs, -23, 0.1);
        // Case 12: 0.18 s at -20 and 0.22 s at -30: constant -23 in any 400 ms.
        parts.clear();
        for (int i = 0; i < 25; ++i)
            parts.insert(parts.end(), {{-20, 0.18}, {-30, 0.22}});
        HR_NEAR(*signal::measureLoudness(tones(parts)).momentary_max_lufs, -23, 0.1);
    }

    /// A window that falls between steps of 100 ms would read half a LU less.
    void theMomentaryMaximumIsFoundWhereverItFalls()
    {
        signal::AudioBuffer sound(2, 96000, 48000);
        const auto burst = test::tone(1000, -20, 0.4);
        for (std::size_t c = 0; c < 2; ++c)
            std::ranges::copy(burst.channel(c), sound.channel(c).begin() + 48000 + 2640); // 55 ms off
        HR_NEAR(*signal::measureLoudness(sound).momentary_max_lufs, -20, 0.15);
    }

    void truePeakOfTech3341_data()
    {
        QTest::addColumn<double>("divisor");
        QTest::addColumn<double>("phase_deg");
        QTest::addColumn<double>("amplitude");
        QTest::addColumn<double>("dbtp");
        QTest::newRow("case 15") << 4.0 << 0.0 << 0.50 << -6.0;
        QTest::newRow("case 16") << 4.0 << 45.0 << 0.50 << -6.0;
        QTest::newRow("case 17") << 6.0 << 60.0 << 0.50 << -6.0;
        QTest::newRow("case 18") << 8.0 << 67.5 << 0.50 << -6.0;
        QTest::newRow("case 19") << 4.0 << 45.0 << 1.41 << 3.0;
    }
    void truePeakOfTech3341()
    {
        QFETCH(double, divisor);
        QFETCH(double, phase_deg);
        QFETCH(double, amplitude);
        QFETCH(double, dbtp);
        AudioBuffer audio(2, 48000, 48000);
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < audio.frames(); ++i) {
                // Faded, so that no edge adds a peak of its own.
                const double fade = std::min(
                    {1.0, static_cast<double>(i) / 4800, static_cast<double>(audio.frames() - i) / 4800});
                audio.channel(c)[i] = static_cast<float>(
                    fade * amplitude *
                    std::sin(2 * 3.14159265358979 * (static_cast<double>(i) / divisor + phase_deg / 360)));
            }
        const double measured = *signal::measureLoudness(audio).true_peak_dbtp;
        QVERIFY2(measured <= dbtp + 0.2 && measured >= dbtp - 0.4, qPrintable(QString::number(measured)));
    }

    void passingOverQuietStretchesChangesNothing()
    {
        // Bursts of noise of many levels, against libebur128 fed with everything.
        const std::size_t frames = 96021;
        const auto noise = signal::gaussianNoise(0.2, 2 * frames, 5);
        std::vector<float> interleaved(2 * frames);
        for (std::size_t i = 0; i < interleaved.size(); ++i)
            interleaved[i] =
                static_cast<float>(noise[i] * std::pow(std::sin(static_cast<double>(i) / 7000), 8));
        auto* plain = ebur128_init(2, 48000, EBUR128_MODE_TRUE_PEAK);
        ebur128_add_frames_float(plain, interleaved.data(), frames);
        double left = 0;
        double right = 0;
        ebur128_true_peak(plain, 0, &left);
        ebur128_true_peak(plain, 1, &right);
        ebur128_destroy(&plain);
        signal::TruePeakMeter meter(2, 48000);
        for (std::size_t at = 0; at < frames; at += 1000)
            meter.add(&interleaved[2 * at], std::min<std::size_t>(1000, frames - at));
        HR_NEAR(meter.peak(), std::max(left, right), 1e-9);
    }

    void rangeOfTech3342_data()
    {
        QTest::addColumn<QList<double>>("levels");
        QTest::addColumn<double>("range_lu");
        QTest::newRow("case 1") << QList<double>{-20, -30} << 10.0;
        QTest::newRow("case 2") << QList<double>{-20, -15} << 5.0;
        QTest::newRow("case 3") << QList<double>{-40, -20} << 20.0;
        QTest::newRow("case 4") << QList<double>{-50, -35, -20, -35, -50} << 15.0;
    }
    void rangeOfTech3342()
    {
        QFETCH(QList<double>, levels);
        QFETCH(double, range_lu);
        std::vector<Part> parts;
        for (const double level : levels)
            parts.push_back({level, 20});
        HR_NEAR(*signal::measureLoudness(tones(parts)).range_lu, range_lu, 1);
    }

    void nothingToMeasureIsEmpty()
    {
        const auto silence = signal::measureLoudness(AudioBuffer(2, 48000, 48000));
        QVERIFY(!silence.integrated_lufs && !silence.momentary_max_lufs && !silence.true_peak_dbtp);
        const auto brief = signal::measureLoudness(test::tone(1000, -20, 1));
        QVERIFY(brief.integrated_lufs && !brief.short_term_max_lufs && !brief.range_lu);
        QVERIFY(!signal::measureLoudness(test::tone(1000, -20, 0.2)).momentary_max_lufs);
    }

    void aFileReadsAsItsSound()
    {
        QTemporaryDir folder;
        const auto path = std::filesystem::path(folder.path().toStdString()) / "tone.wav";
        HR_VERIFY(signal::writeAudioFile(path, test::tone(1000, -23, 5, 44100)));
        const auto measured = signal::measureFileLoudness(path);
        HR_VERIFY(measured);
        HR_NEAR(*measured->loudness.integrated_lufs, -23, 0.1);
        QCOMPARE(measured->sample_rate_hz, 44100.0);
        HR_NEAR(measured->seconds, 5, 1e-3);
        HR_NEAR(*measured->loudness.sample_peak_dbfs, -23, 0.01);
    }
};

HR_TEST(tst_loudness)
#include "tst_loudness.moc"
