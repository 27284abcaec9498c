// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/difference.h"
#include "audition/driven_engine.h"
#include "audition/fairness.h"
#include "audition/mix_loudness.h"
#include "audition/output_guard.h"
#include "bench/subject.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "sources.h"

using namespace hr;
using audition::Basis;
using audition::differenceOf;
using audition::Source;
using audition::Treatment;
using test::contender;
using test::DrivenEngine;

namespace {

const Treatment untreated;

Treatment gain(double gain_db)
{
    return {{"reference:gain", {}}, {gain_db}};
}
Treatment delayed(double samples, bool reported)
{
    return {{"reference:added-latency", {}}, {samples, reported ? 1.0 : 0.0}};
}

} // namespace

class tst_difference : public QObject {
    Q_OBJECT

    const std::shared_ptr<const Source> m_band = std::make_shared<Source>(demo::brassBand());

    static double levelDb(const std::vector<float>& interleaved)
    {
        return signal::rmsDbfs(std::span<const float>(interleaved));
    }

private slots:
    void whatIsEqualHasNone_data()
    {
        QTest::addColumn<Treatment>("treatment");
        QTest::addColumn<double>("gain_db");
        QTest::addColumn<double>("offset_samples");
        QTest::newRow("itself") << untreated << 0.0 << 0.0;
        QTest::newRow("louder, matched") << gain(7) << -7.0 << 0.0;
        QTest::newRow("a latency that is reported") << delayed(500, true) << 0.0 << 0.0;
        QTest::newRow("a small one that is not") << delayed(30, false) << 0.0 << 0.0;
    }
    void whatIsEqualHasNone()
    {
        QFETCH(Treatment, treatment);
        QFETCH(double, gain_db);
        QFETCH(double, offset_samples);
        const auto found = differenceOf(*m_band, {48000, 96001}, untreated, treatment);
        HR_VERIFY(found);
        QVERIFY(*found);
        HR_NEAR((*found)->offset_samples, offset_samples, 1e-3);
        QVERIFY((*found)->levelDb(gain_db).value_or(-200) < -110);
    }

    /// Told from one amount, measured at all others: what turns the polarity, rings, echoes, rides a level.
    void theLoudnessOfAnyAmountIsToldFromOne_data()
    {
        QTest::addColumn<Treatment>("treatment");
        QTest::addColumn<double>("allowed_lu"); // what only sounds in the pauses is told less well
        const auto row = [](const char* name, const hosting::Location& at, double allowed_lu,
                            const std::vector<processors::Setting>& set = {}) {
            auto subject = bench::Subject::open(at, {}, {});
            if (!subject)
                qFatal("%s", hosting::sentence(subject.error()).c_str());
            const auto values = processors::resolveSettings(subject->info(), {}, set);
            if (!values)
                qFatal("%s", values.error().text.c_str());
            QTest::newRow(name) << Treatment{at, *values} << allowed_lu;
        };
        const auto reference = [](const char* name) {
            return hosting::Location{std::string("reference:") + name, {}};
        };
        row("louder by 12 dB", reference("gain"), 0.03, {{"gain_db", 12}});
        row("late, and not told", reference("added-latency"), 0.03, {{"latency_samples", 900}});
        row("a bell", reference("peak-filter"), 0.1, {{"gain_db", 15}});
        row("a compressor", reference("compressor"), 0.1, {{"threshold_db", -40}, {"makeup_db", 12}});
        row("a clip", reference("hard-clip"), 0.05, {{"clip_dbfs", -30}});
        row("echoes", test::specimenAt("double-quay"), 0.15, {{"blend_percent", 100}});
    }
    void theLoudnessOfAnyAmountIsToldFromOne()
    {
        QFETCH(Treatment, treatment);
        QFETCH(double, allowed_lu);
        const audition::Section loop{48000, 192000};
        const double source_lufs = *audition::measureLoop(*m_band, loop).levels.loudness_lufs;
        for (const auto& known :
             {audition::WetDry{}, audition::WetDry::insert(35), audition::WetDry::sendAndReturn(0.5)}) {
            treatment.mix = known;
            const auto difference = differenceOf(*m_band, loop, untreated, treatment);
            HR_VERIFY(difference);
            const auto told = audition::MixLoudness::from(known, **difference);
            QVERIFY(told);
            for (const double percent : {10.0, 60.0, 100.0}) {
                treatment.mix = audition::WetDry::insert(percent);
                const auto measured = audition::measureLoop(*m_band, loop, treatment);
                HR_VERIFY(measured);
                HR_NEAR(source_lufs + told->levelDb(treatment.mix).value(), *measured->levels.loudness_lufs,
                        allowed_lu);
            }
        }
    }

    void whatCancelsHasNoLoudness()
    {
        audition::Difference turned;
        turned.loud_ratio = 1;
        turned.loud_common = -1;
        const auto told = audition::MixLoudness::from({}, turned);
        QVERIFY(told && !told->levelDb(audition::WetDry::insert(50)));
        HR_NEAR(*told->levelDb(audition::WetDry::insert(100)), 0, 1e-9);
        QVERIFY(!audition::MixLoudness::from(audition::WetDry::insert(0), turned)); // nothing of it was there
    }

    void itsLevelIsThatOfWhatWasAdded()
    {
        // At half the level the difference is half the reference; without matching it is what the gain adds.
        const auto found = differenceOf(*m_band, m_band->whole(), untreated, gain(-6.0206));
        HR_NEAR(*(*found)->levelDb(0), -6.02, 0.01);
        HR_NEAR(*(*found)->levelDb(6.0206 + 6.0206), 0, 0.01);
        // Any candidate can be the reference.
        const auto between = differenceOf(*m_band, m_band->whole(), gain(-6.0206), gain(-12.0412));
        HR_NEAR(*(*between)->levelDb(0), -6.02, 0.01);
        // An echo that is another sound, as loud as the source, is as far away as it is loud.
        const Source noise(signal::onChannels(signal::gaussianNoise(0.1, 96000, 3), 2, 48000));
        const auto echo =
            differenceOf(noise, noise.whole(), untreated, {{"reference:feedback-delay", {}}, {100, -60, 100}});
        HR_NEAR(*(*echo)->levelDb(0), 0, 0.1);
    }

    void aLongSectionIsJudgedByItsBeginning()
    {
        const Source noise(signal::onChannels(signal::gaussianNoise(0.1, 48000 * 30, 3), 2, 48000));
        const auto found = differenceOf(noise, noise.whole(), untreated, gain(-6.0206));
        HR_NEAR(*(*found)->levelDb(0), -6.02, 0.01);
    }

    void silenceAndFaultsHaveNoDifference()
    {
        const Source silence(signal::AudioBuffer(2, 48000, 48000));
        const auto none = differenceOf(silence, silence.whole(), untreated, gain(0));
        QVERIFY(none && !*none);
        QVERIFY(!differenceOf(*m_band, m_band->whole(), untreated, {test::faultyAt("exit-in-run"), {0}}));
    }

    void whatIsHeardOfItselfIsSilence()
    {
        DrivenEngine driven;
        // Lanes find a latency by themselves: this one is thought to be 25 samples, a quarter of a cycle,
        // later.
        auto shifted = contender(3, delayed(40, false).location, delayed(40, false).values, 0);
        shifted.offset_samples = 25;
        driven.engine.setReference(1);
        const auto tone = std::make_shared<Source>(test::tone(480, -20, 1)); // 100 frames a cycle: seamless
        QVERIFY(
            driven.begin(tone, {contender(1, {}, {}, -3), contender(2, gain(6).location, {6}, -9), shifted}));
        QVERIFY(levelDb(driven.pull(9600)) > -40);
        driven.engine.hearDifference(true);
        (void)driven.pull(960); // the crossfade
        for (const audition::ContenderId id : {1, 2}) {
            driven.engine.hear(id);
            (void)driven.pull(960);
            QVERIFY2(levelDb(driven.pull(9600)) < -120, qPrintable(QString::number(id)));
        }
        // Two tones a quarter of a cycle apart, and after that in step: 20 log10(1 - 10^(-3 / 20)).
        driven.engine.hear(3);
        (void)driven.pull(960);
        HR_NEAR(levelDb(driven.pull(24000)), -20 + 10 * std::log10(1 + std::pow(10, -0.3)), 0.02);
        driven.engine.setOffset(3, 1, 0);
        (void)driven.pull(960);
        HR_NEAR(levelDb(driven.pull(24000)), -20 + 20 * std::log10(1 - std::pow(10, -0.15)), 0.02);
    }

    void withoutAReferenceNothingIsHeard()
    {
        DrivenEngine driven;
        driven.engine.setReference(9);
        driven.engine.hearDifference(true);
        const auto tone = std::make_shared<Source>(test::tone(480, -20, 1)); // 100 frames a cycle: seamless
        QVERIFY(driven.begin(tone, {contender(1, {}, {}, 0)}));
        (void)driven.pull(960);
        QVERIFY(std::ranges::all_of(driven.pull(4800), [](float s) { return s == 0; }));
    }

    void partsOfASampleAreReadAsTheyShould()
    {
        struct Tone {
            double frequency_hz;
            audition::Frame peek(std::size_t at) const
            {
                const auto s = static_cast<float>(
                    std::sin(2 * std::numbers::pi * frequency_hz / 48000 * static_cast<double>(at)));
                return {s, -s};
            }
        };
        for (const double hz : {50.0, 997.0, 12000.0, 21000.0})
            for (const double offset : {0.37, -47.5, 12.0}) {
                audition::Shift shift;
                shift.set(static_cast<float>(offset));
                for (std::size_t at = 0; at < 50; ++at) {
                    const double expected =
                        std::sin(2 * std::numbers::pi * hz / 48000 *
                                 (static_cast<double>(at + audition::Shift::lead_frames) + offset));
                    HR_NEAR(shift.of(Tone{hz}, at).left, expected, 0.0012);
                    HR_NEAR(shift.of(Tone{hz}, at).right, -expected, 0.0012);
                }
            }
    }

    void aBandIsFlatInsideAndFallsBy24DbAnOctave_data()
    {
        QTest::addColumn<double>("frequency_hz");
        QTest::addColumn<double>("level_db");
        QTest::addColumn<double>("allowed_db");
        QTest::newRow("inside") << 1000.0 << 0.0 << 0.02;
        QTest::newRow("at the lower edge") << 200.0 << -3.01 << 0.02;
        QTest::newRow("at the upper edge") << 5000.0 << -3.01 << 0.05;
        QTest::newRow("an octave below") << 100.0 << -24.1 << 0.1;
        QTest::newRow("two octaves below") << 50.0 << -48.2 << 0.2;
    }
    void aBandIsFlatInsideAndFallsBy24DbAnOctave()
    {
        QFETCH(double, frequency_hz);
        QFETCH(double, level_db);
        QFETCH(double, allowed_db);
        auto tone = test::tone(frequency_hz, 0, 1);
        audition::BandFilter filter({200, 5000}, 48000);
        filter.process(tone.channel(0).data(), tone.frames(), 0);
        const auto settled = std::span<const float>(tone.channel(0)).subspan(24000);
        HR_NEAR(signal::rmsDbfs(settled), level_db, allowed_db);
        // An edge that is no frequency of this rate is left out.
        auto open = test::tone(frequency_hz, 0, 1);
        audition::BandFilter({0, 40000}, 48000).process(open.channel(0).data(), open.frames(), 0);
        HR_NEAR(signal::rmsDbfs(std::span<const float>(open.channel(0))), 0, 0.01);
    }

    void anOffsetThatTheSourceHasIsNotTheProcessors()
    {
        std::vector<float> offset(480, 0.5F);
        std::vector<float> none(480, 0.0F);
        audition::OutputGuard guard(48000);
        for (int i = 0; i < 400; ++i)
            QVERIFY(!guard.look({offset.data(), none.data()}, {offset.data(), none.data()}, 480));
        std::optional<hosting::Fault> fault;
        int stretches = 0;
        for (; stretches < 400 && !fault; ++stretches)
            fault = guard.look({none.data(), none.data()}, {none.data(), offset.data()}, 480);
        QVERIFY2(fault && stretches > 50 && stretches < 100, qPrintable(QString::number(stretches)));
        guard.reset();
        QVERIFY(!guard.look({none.data(), none.data()}, {none.data(), offset.data()}, 480));
    }

    void gainsFollowTheBasisAndTheHand()
    {
        const auto part = [](double lufs, double rms, std::optional<double> by_hand = {}) {
            return audition::Part{{{lufs, std::nullopt, rms, -1.0}, 0.02}, by_hand};
        };
        const std::vector parts{part(-20, -18), part(-17, -21), part(-23, -10, 2.0)};
        const auto loudness = audition::fairnessOf(parts, Basis::Loudness, 0);
        QCOMPARE(loudness.gains_db, (std::vector{0.0, -3.0, 2.0}));
        QCOMPARE(loudness.matched_db[2], 0.0);
        QCOMPARE(*loudness.common_lufs, -20.0);
        QCOMPARE(*loudness.apart_lu[2], -1.0);
        HR_NEAR(loudness.withinLu(parts), 1.02, 1e-9);
        const auto rms = audition::fairnessOf(parts, Basis::Rms, 1);
        QCOMPARE(rms.gains_db, (std::vector{-3.0, 0.0, 2.0}));
        QCOMPARE(*rms.common_lufs, -17.0);
        const auto none = audition::fairnessOf(parts, Basis::None, 0);
        QCOMPARE(none.gains_db, (std::vector{0.0, 0.0, 2.0}));
        QCOMPARE(*none.apart_lu[1], 3.0);
        // A reference that is silent leaves the quietest to compare with.
        const std::vector<audition::Part> silent{{}, part(-17, -21), part(-25, -21, 0.0)};
        QCOMPARE(*audition::fairnessOf(silent, Basis::Loudness, 0).common_lufs, -25.0);
    }
};

HR_TEST(tst_difference)
#include "tst_difference.moc"
