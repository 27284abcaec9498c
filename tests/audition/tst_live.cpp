// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/live/gain_history.h"
#include "audition/live/live_history.h"
#include "audition/live/live_levels.h"
#include "audition/live/live_pitch.h"
#include "audition/live/live_spectrum.h"
#include "audition/live/loop_wave.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using audition::TapBlock;

namespace {

constexpr double tone_rate_hz = 48000;

/// Blocks of a stereo tone from a frame of the source on.
std::vector<TapBlock> blocksOf(double frequency_hz, double left_dbfs, double right_dbfs, std::size_t first,
                               std::size_t frames, bool right_inverted = false)
{
    std::vector<TapBlock> blocks;
    for (std::size_t done = 0; done < frames;) {
        TapBlock block;
        block.source_frame = first + done;
        block.frames = std::min<std::size_t>(frames - done, 200);
        for (std::size_t i = 0; i < block.frames; ++i) {
            const double tone = std::sin(2 * std::numbers::pi * frequency_hz *
                                         static_cast<double>(first + done + i) / tone_rate_hz);
            block.left[i] = static_cast<float>(signal::dbToLinear(left_dbfs) * tone);
            block.right[i] =
                static_cast<float>((right_inverted ? -1 : 1) * signal::dbToLinear(right_dbfs) * tone);
        }
        done += block.frames;
        blocks.push_back(block);
    }
    return blocks;
}

} // namespace

class tst_live : public QObject {
    Q_OBJECT

private slots:
    void gainIsOutAgainstInHoweverFarApartTheyCome()
    {
        audition::GainHistory history(tone_rate_hz, 1.0);
        // A loop of 0.2 s twice, quieter the second time; the output comes 0.1 s later than the input.
        std::vector<TapBlock> in;
        std::vector<TapBlock> out;
        for (int round = 0; round < 2; ++round) {
            for (const TapBlock& block : blocksOf(1000, -20, -20, 0, 9600))
                in.push_back(block);
            for (const TapBlock& block : blocksOf(1000, round ? -29 : -26, round ? -29 : -26, 0, 9600))
                out.push_back(block);
        }
        for (std::size_t i = 0; i < in.size() + 24; ++i) {
            if (i < in.size())
                history.addInput(in[i]);
            if (i >= 24)
                history.addOutput(out[i - 24]);
        }
        const auto& steps = history.steps();
        QCOMPARE(steps.size(), std::size_t{39}); // the last one is still growing
        for (std::size_t i = 0; i < steps.size(); ++i) {
            QCOMPARE(steps[i].source_frame, (i % 20) * 480);
            HR_NEAR(steps[i].in_dbfs, -20, 0.001);
            HR_NEAR(*steps[i].gain_db, i < 20 ? -6 : -9, 0.001);
        }
    }

    void whatIsLostIsPassedOverAndSilenceHasNoGain()
    {
        audition::GainHistory history(tone_rate_hz, 0.1);
        const auto in = blocksOf(1000, -20, -20, 0, 48000);
        const auto out = blocksOf(1000, -23, -23, 0, 48000);
        for (std::size_t i = 0; i < in.size(); ++i) {
            if (i < 50 || i > 100) // what a slow reader has lost
                history.addInput(in[i]);
            if (i < 120 || i > 150)
                history.addOutput(out[i]);
        }
        QCOMPARE(history.steps().size(), history.most());
        for (const auto& step : history.steps())
            HR_NEAR(*step.gain_db, -3, 0.001);
        history.clear();
        for (const TapBlock& block : blocksOf(1000, -100, -100, 0, 9600)) {
            history.addInput(block);
            history.addOutput(block);
        }
        for (const auto& step : history.steps())
            QVERIFY(!step.gain_db);
    }

    void spectrumReadsATonesLevelInItsBand()
    {
        for (const double frequency_hz : {40.0, 1000.0, 9931.0}) {
            audition::LiveSpectrum spectrum(tone_rate_hz);
            for (const TapBlock& block : blocksOf(frequency_hz, -20, -20, 0, 48000)) {
                spectrum.add(block);
                spectrum.update();
            }
            const auto& levels = spectrum.levelsDbfs();
            const auto highest = std::ranges::max_element(levels);
            HR_NEAR(*highest, -20, 0.3);
            const double at_hz = spectrum.frequenciesHz()[static_cast<std::size_t>(highest - levels.begin())];
            QVERIFY(std::abs(std::log2(at_hz / frequency_hz)) < (frequency_hz < 100 ? 0.7 : 1.0 / 12));
            if (frequency_hz > 500)
                QVERIFY(levels[12] < -80); // nothing at 40 Hz
            spectrum.clear();
            QVERIFY(spectrum.levelsDbfs().empty());
        }
    }

    void figuresOfATone()
    {
        audition::LiveLevels live(tone_rate_hz);
        QVERIFY(!live.read().rms_dbfs && !live.read().momentary_lufs);
        for (const TapBlock& block : blocksOf(997, -20, -20, 0, 5 * 48000))
            live.add(block);
        const auto figures = live.read();
        HR_NEAR(*figures.momentary_lufs, -20, 0.1); // EBU Tech 3341: both channels of a 1 kHz sine
        HR_NEAR(*figures.short_term_lufs, -20, 0.1);
        HR_NEAR(*figures.integrated_lufs, -20, 0.1);
        HR_NEAR(*figures.range_lu, 0, 0.15);
        HR_NEAR(*figures.true_peak_dbtp, -20, 0.1);
        HR_NEAR(*figures.peak_dbfs, -20, 0.01);
        HR_NEAR(*figures.rms_dbfs, -20, 0.01);
        HR_NEAR(*figures.crest_db, 3.01, 0.02);
        HR_NEAR(*figures.correlation, 1, 1e-6);
        QVERIFY(live.picture().size() <= 3600);
        for (const TapBlock& block : blocksOf(997, -20, -26, 0, 48000, true))
            live.add(block);
        HR_NEAR(*live.read().correlation, -1, 1e-6);
        for (const TapBlock& block : blocksOf(997, -20, -300, 0, 48000))
            live.add(block);
        QVERIFY(!live.read().correlation); // with silence nothing goes together
        for (const TapBlock& block : blocksOf(997, -300, -300, 0, 48000))
            live.add(block);
        QVERIFY(!live.read().rms_dbfs);
        QVERIFY(live.read().integrated_lufs); // since it began
    }

    void theFundamentalIsFoundAndNamed_data()
    {
        QTest::addColumn<double>("hz");
        QTest::addColumn<QString>("note");
        QTest::newRow("a low drum") << 55.0 << QStringLiteral("A1");
        QTest::newRow("near middle C") << 262.0 << QStringLiteral("C4");
        QTest::newRow("sharp") << 185.0 << QStringLiteral("F♯3");
        QTest::newRow("high") << 1480.0 << QStringLiteral("F♯6");
    }
    void theFundamentalIsFoundAndNamed()
    {
        QFETCH(double, hz);
        QFETCH(QString, note);
        for (const double rate_hz : {44100.0, 96000.0}) {
            audition::LivePitch pitch(rate_hz);
            // With twice the frequency louder than itself, as bells and strings have it.
            const auto frames = static_cast<std::size_t>(0.3 * rate_hz);
            const auto fundamental = signal::sine(hz, 0.1, rate_hz, frames);
            const auto second = signal::sine(2 * hz, 0.2, rate_hz, frames);
            for (std::size_t at = 0; at + 200 <= frames; at += 200) {
                TapBlock block;
                block.frames = 200;
                for (std::size_t i = 0; i < 200; ++i)
                    block.left[i] = block.right[i] = static_cast<float>(fundamental[at + i] + second[at + i]);
                pitch.add(block);
            }
            const auto found = pitch.read();
            QVERIFY(found);
            HR_NEAR(1200 * std::log2(found->hz / hz), 0, 4);
            QCOMPARE(QString::fromStdString(audition::noteOf(found->hz)->name), note);
        }
        HR_NEAR(audition::noteOf(440 * std::pow(2, 0.25 / 12))->cents, 25, 0.01);
    }

    void noiseAndSilenceHaveNoPitch()
    {
        const auto noise = signal::gaussianNoise(0.1, 48000, 5);
        audition::LivePitch of_noise(48000);
        audition::LivePitch of_silence(48000);
        for (std::size_t at = 0; at + 200 <= noise.size(); at += 200) {
            TapBlock block;
            block.frames = 200;
            block.left.fill(0);
            block.right.fill(0);
            of_silence.add(block);
            for (std::size_t i = 0; i < 200; ++i)
                block.left[i] = block.right[i] = static_cast<float>(noise[at + i]);
            of_noise.add(block);
        }
        QVERIFY(!of_noise.read());
        QVERIFY(!of_silence.read());
    }

    void inAndOutLieOverEachOtherAlongTheSection()
    {
        audition::LoopWave wave({1000, 51200}); // a column is 100 frames
        for (const TapBlock& block : blocksOf(1000, -6, -20, 1000, 51200))
            wave.addInput(block);
        for (const TapBlock& block : blocksOf(1000, -12, -20, 1000 + 25600, 25600))
            wave.addOutput(block);
        HR_NEAR(wave.in()[100], signal::dbToLinear(-6), 0.001);
        QCOMPARE(wave.out()[100], 0.0F);
        HR_NEAR(wave.out()[400], signal::dbToLinear(-12), 0.001);
        for (const TapBlock& block : blocksOf(1000, -40, -40, 1000 + 40000, 200)) // another pass, quieter
            wave.addOutput(block);
        HR_NEAR(wave.out()[400], signal::dbToLinear(-40), 0.001);
    }

    void theDifferenceOfSpectraIsWhatItDoes()
    {
        audition::LiveSpectrum in(tone_rate_hz);
        audition::LiveSpectrum out(tone_rate_hz);
        for (const TapBlock& block : blocksOf(1000, -20, -20, 0, 24000))
            in.add(block);
        for (const TapBlock& block : blocksOf(1000, -29, -29, 0, 24000))
            out.add(block);
        in.update();
        out.update();
        const auto difference = audition::differenceDb(in, out);
        const auto loudest = std::ranges::max_element(in.levelsDbfs()) - in.levelsDbfs().begin();
        HR_NEAR(difference[static_cast<std::size_t>(loudest)].value_or(0), -9, 0.01);
    }

    void theFundamentalIsFoundWhereItIsMissing()
    {
        audition::LivePitch pitch(48000);
        std::vector<double> sound(14400);
        for (const double harmonic : {2.0, 3.0, 4.0, 5.0})
            std::ranges::transform(sound, signal::sine(110 * harmonic, 0.1, 48000, sound.size()), sound.begin(),
                                   std::plus<>());
        for (std::size_t at = 0; at + 200 <= sound.size(); at += 200) {
            TapBlock block;
            block.frames = 200;
            for (std::size_t i = 0; i < 200; ++i)
                block.left[i] = block.right[i] = static_cast<float>(sound[at + i]);
            pitch.add(block);
        }
        const auto found = pitch.read();
        QVERIFY(found);
        HR_NEAR(1200 * std::log2(found->hz / 110), 0, 5);
        QVERIFY(!audition::LivePitch(48000).read()); // nothing came yet
        for (const double no_note : {0.0, -1.0, 1e6, std::nan("")})
            QVERIFY(!audition::noteOf(no_note));
        QCOMPARE(audition::noteOf(16.352)->name, std::string("C0"));
    }

    void historyIsBounded()
    {
        audition::LiveLevels levels(tone_rate_hz);
        audition::LiveSpectrum spectrum(tone_rate_hz);
        audition::LiveHistory history;
        QVERIFY(history.spectra().empty());
        for (const TapBlock& block : blocksOf(1000, -20, -20, 0, 48000)) {
            levels.add(block);
            spectrum.add(block);
        }
        spectrum.update();
        for (std::size_t i = 0; i < audition::LiveHistory::most + 50; ++i)
            history.add(levels, spectrum);
        QCOMPARE(history.spectra().size(), audition::LiveHistory::most);
        QCOMPARE(history.loudness().size(), audition::LiveHistory::most);
        HR_NEAR(history.loudness().back().momentary_lufs.value_or(0), -20, 0.2); // both channels
        QCOMPARE(history.spectra().back().size(), spectrum.frequenciesHz().size());
    }

    void aLongerAverageFollowsLater()
    {
        const auto afterTheToneStops = [](double averaged_s) {
            audition::LiveSpectrum spectrum(tone_rate_hz);
            spectrum.setAveraging(averaged_s);
            for (const double level_dbfs : {-20.0, -120.0})
                for (int tick = 0; tick < 30; ++tick) {
                    for (const TapBlock& block : blocksOf(1000, level_dbfs, level_dbfs, 0, 1600))
                        spectrum.add(block);
                    spectrum.update();
                }
            return std::ranges::max(spectrum.levelsDbfs());
        };
        QVERIFY(afterTheToneStops(3) > afterTheToneStops(0.1) + 10);
    }

    void whatLiesOutsideTheSectionIsNotDrawn()
    {
        audition::LoopWave wave({48000, 51200});
        for (const TapBlock& block : blocksOf(1000, -6, -6, 40000, 4000)) // before it: of a section that was
            wave.addInput(block);
        QVERIFY(std::ranges::all_of(wave.in(), [](float peak) { return peak == 0.0F; }));
        QCOMPARE(wave.out().size(), audition::LoopWave::columns);
    }
};

HR_TEST(tst_live)
#include "tst_live.moc"
