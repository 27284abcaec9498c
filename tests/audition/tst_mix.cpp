// SPDX-License-Identifier: GPL-3.0-or-later
//
// How much of a treatment is heard beside the source, at which level that goes in, and from where on.
#include "audition/played_noise.h"

using namespace hr;
using test::contender;
using test::crossfade;
using test::DrivenEngine;
using test::late;

class tst_mix : public test::PlayedNoise {
    Q_OBJECT

private slots:
    void aMixOfTreatmentAndSourceIsInStepAndGlides()
    {
        auto spec = gain(1, 12);
        spec.mix = audition::WetDry::insert(50);
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {spec}));
        (void)driven.pull(4800);
        const double half = signal::linearToDb(0.5 + 0.5 * signal::dbToLinear(12));
        playsTheNoise(driven, half, "half of it");
        const std::uint32_t other_generation = 7;
        driven.engine.setMix(1, other_generation, {});
        (void)driven.pull(9600);
        playsTheNoise(driven, half, "what was meant for another");
        driven.engine.setMix(1, 1, audition::WetDry::insert(0));
        const auto gliding = test::side(driven.pull(9600), 0);
        const auto steepest = [](const std::vector<float>& sound) {
            float most = 0;
            for (std::size_t i = 1; i < sound.size(); ++i)
                most = std::max(most, std::abs(sound[i] - sound[i - 1]));
            return most;
        };
        QVERIFY(steepest(gliding) < 2.6F * steepest(test::side(driven.pull(48000), 0))); // it was 8 dB louder
        playsTheNoise(driven, 0, "nothing of it");
    }

    /// What comes late, told or not, does not comb with the source beside it.
    void aMixIsLinedUpByTheLatencyThatWasFound()
    {
        for (const double reported : {1.0, 0.0}) {
            auto spec = contender(1, {"reference:added-latency", {}}, {700, reported});
            spec.mix = audition::WetDry::sendAndReturn(0.5);
            DrivenEngine driven;
            QVERIFY(driven.begin(m_noise, {spec}));
            (void)driven.pull(9600);
            playsTheNoise(driven, signal::linearToDb(1.5), "one and a half of it");
        }
    }

    void aFailedOneIsSilentHoweverMuchOfTheSourceIsBesideIt()
    {
        auto spec = contender(1, test::faultyAt("exit-in-run"), {0});
        spec.mix = audition::WetDry::insert(50);
        DrivenEngine driven;
        driven.engine.hear(1);
        driven.engine.setScene({m_noise, m_noise->whole(), {spec}});
        (void)driven.settle();
        driven.engine.play();
        QVERIFY(test::waitForFault(driven, 1));
        (void)driven.pull(9600);
        for (const float sample : driven.pull(4800))
            QCOMPARE(sample, 0.0F);
    }

    void theLevelOfTheSourceIsThatOfWhatGoesIn()
    {
        DrivenEngine driven;
        driven.engine.hear(1);
        audition::Section quieter = m_noise->whole();
        quieter.gain = static_cast<float>(signal::dbToLinear(-9));
        driven.engine.setScene({m_noise, quieter, {gain(1, 0)}});
        QVERIFY(driven.settle());
        driven.engine.play();
        (void)driven.pull(9600);
        playsTheNoise(driven, -9, "quieter");
        auto scene = driven.engine.scene();
        scene.loop.gain = 1;
        driven.engine.setScene(scene);
        QVERIFY(!driven.pullThrough(9600).empty());
        playsTheNoise(driven, 0, "as it is");
    }

    void aSwitchFromTheBeginningChangesBothAtOneFrame()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {gain(1, 0), gain(2, -12)}));
        (void)driven.pull(9600);
        const std::size_t from = driven.engine.position();
        driven.engine.hearFrom(2, 0);
        const auto out = driven.pullThrough(9600);
        QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
        // Until it changes over, the first one where it is; then the second one from the beginning.
        std::size_t goes_on = 0;
        const auto first = [&](std::size_t i) {
            return m_sound.channel(0)[(from + i + m_noise->frames() - late) % m_noise->frames()];
        };
        while (goes_on < out.size() / 2 && std::abs(out[2 * goes_on] - first(goes_on)) < 1e-6F)
            ++goes_on;
        QVERIFY(goes_on > 0 && goes_on + crossfade + 4800 < out.size() / 2);
        const std::size_t at = driven.engine.position();
        isTheNoise({out.end() - 9600, out.end()}, at - 4800, -12, "from the beginning");
        QCOMPARE(at, out.size() / 2 - goes_on + late);
        // Thought better of before it came to it.
        driven.engine.hearFrom(1, 24000);
        driven.engine.hear(2);
        QVERIFY(!driven.pullThrough(9600).empty());
        QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
    }

    void aSwitchInTimeIsAtTheFrameOfTheBar_data()
    {
        QTest::addColumn<double>("bar_frames");
        QTest::addColumn<std::size_t>("from");        // frames played before it is asked for
        QTest::addColumn<std::size_t>("switched_at"); // frames played from the beginning of the section
        const auto row = [](const char* what, double bar_frames, std::size_t from, std::size_t switched_at) {
            QTest::addRow("%s", what) << bar_frames << from << switched_at;
        };
        row("the next bar", 12000, 14000, 24000);
        row("of a length that is no whole frames", 12100.25, 14000, 24201);
        row("where a block begins as well", 12100.25, 24201 - 14 * 700, 24201);
        row("far from the beginning of the section", 40000, 14000, 40000);
        row("a bar longer than the section: where it starts over", 1e6, 14000, 48000);
    }
    void aSwitchInTimeIsAtTheFrameOfTheBar()
    {
        QFETCH(const double, bar_frames);
        QFETCH(const std::size_t, from);
        QFETCH(const std::size_t, switched_at);
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {gain(1, 0), gain(2, -12)}));
        driven.engine.setBar(bar_frames);
        (void)driven.pull(from, 700);
        driven.engine.hear(2);
        const auto out = driven.pull(switched_at - from + 6000, 700);
        const std::size_t heard_at = switched_at - from + late;
        const auto frame = [&out](std::size_t i) { return out.begin() + static_cast<std::ptrdiff_t>(2 * i); };
        isTheNoise({out.begin(), frame(heard_at)}, from, 0, "before the bar");
        isTheNoise({frame(heard_at + crossfade), out.end()}, from + heard_at + crossfade, -12, "behind it");
        driven.engine.setBar(0);
        driven.engine.hear(1);
        (void)driven.pull(late + crossfade);
        playsTheNoise(driven, 0, "at once");
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }
};

HR_TEST(tst_mix)
#include "tst_mix.moc"
