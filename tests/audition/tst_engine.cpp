// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/driven_engine.h"
#include "processors/settings.h"
#include "signal/levels.h"

#include <cstdlib>
#include <new>

using namespace hr;
using audition::ContenderId;
using audition::ContenderSpec;
using audition::Engine;
using audition::Source;
using test::contender;
using test::DrivenEngine;

namespace {

/// Allocations of this thread, for the callback that must make none.
thread_local int allocations = 0;

} // namespace

void* operator new(std::size_t size)
{
    ++allocations;
    if (void* memory = std::malloc(size))
        return memory;
    throw std::bad_alloc();
}
void operator delete(void* memory) noexcept
{
    std::free(memory);
}
void operator delete(void* memory, std::size_t) noexcept
{
    std::free(memory);
}

class tst_engine : public QObject {
    Q_OBJECT

    static std::shared_ptr<const Source> toneSource(double seconds = 1)
    {
        return std::make_shared<Source>(test::tone(480, -20, seconds)); // 100 frames a cycle: seamless
    }
    static ContenderSpec gain(ContenderId id, double gain_db)
    {
        return contender(id, {"reference:gain", {}}, {gain_db});
    }
    static double levelDb(const std::vector<float>& interleaved, std::size_t first = 0)
    {
        const auto left = test::side(interleaved, 0);
        return signal::linearToDb(test::amplitudeAt(std::span<const float>(left).subspan(first), 480, 48000));
    }
    /// Largest change from one frame to the next.
    static double largestStep(const std::vector<float>& interleaved)
    {
        double largest = 0;
        for (std::size_t i = 2; i < interleaved.size(); ++i)
            largest = std::max(largest, static_cast<double>(std::abs(interleaved[i] - interleaved[i - 2])));
        return largest;
    }

    processors::ProcessorInfo m_equaliser;

    /// At its defaults it is the source itself.
    ContenderSpec flatEqualiser(ContenderId id) const
    {
        return contender(id, test::specimenAt("tidepool-equaliser"), processors::defaultValues(m_equaliser));
    }

private slots:
    void initTestCase()
    {
        const auto instance = hosting::openInstance(test::specimenAt("tidepool-equaliser"));
        HR_VERIFY(instance);
        m_equaliser = (*instance)->info();
    }

    void whatIsHeardIsTheSourceItself()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        const auto sound = test::soundOf(*source);
        QVERIFY(driven.begin(source, {contender(1)}));
        const auto out = driven.pull(96000, 512); // more than a round of the loop
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
        // Past the fade and the limiter's delay it is the file, sample for sample, over the seam too.
        const std::size_t delay = signal::SafetyLimiter::latency_frames;
        for (std::size_t i = 2000; i < 96000; ++i)
            QCOMPARE(out[2 * i], sound.channel(0)[(i - delay) % source->frames()]);
    }

    void switchingIsACrossfadeWithoutAGap()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1), gain(2, -12), gain(3, 6)}));
        (void)driven.pull(4800);
        std::vector<float> all;
        for (const ContenderId id :
             {1U, 2U, 3U, 1U, 3U, 2U, 7U}) { // of the last there is none: nothing changes
            driven.engine.hear(id);
            const auto out = driven.pull(4800);
            HR_NEAR(levelDb(out, 1600), id == 1 ? -20 : id == 3 ? -14 : -32, 0.05);
            all.insert(all.end(), out.begin(), out.end());
        }
        // No step beyond the tone's own largest, at its loudest, and what 10 ms of fading adds.
        const double own = signal::dbToLinear(-14) * 2 * M_PI * 480 / 48000;
        QVERIFY2(largestStep(all) < own * 1.05 + signal::dbToLinear(-14) / 480,
                 qPrintable(QString::number(largestStep(all))));
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void matchingGainsGlide()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1)}));
        (void)driven.pull(4800);
        driven.engine.setGain(1, 1, -9);
        const auto out = driven.pull(9600);
        HR_NEAR(levelDb(out, 4800), -29, 0.05);
        QVERIFY(largestStep(out) < signal::dbToLinear(-20) * 2 * M_PI * 480 / 48000 * 1.02);
    }

    void aParameterIsHeardWithinSixtyMilliseconds()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1), gain(2, 0)}));
        driven.engine.hear(2);
        (void)driven.pull(9600);
        driven.engine.setParameter(2, 0, -40);
        const auto out = driven.pull(9600);
        std::size_t last_loud = 0;
        for (std::size_t i = 0; i < 9600; ++i)
            if (std::abs(out[2 * i]) > 0.05F)
                last_loud = i;
        QVERIFY2(last_loud < 48 * 60, qPrintable(QString::number(static_cast<double>(last_loud) / 48)));
        QVERIFY(last_loud > 0);
    }

    void thirdPartyProcessorsPlayBesideTheReferenceInStep()
    {
        // A flat equaliser is the source itself: switching to it must not move the sound by a sample.
        DrivenEngine driven;
        const auto source = toneSource();
        const auto sound = test::soundOf(*source);
        QVERIFY(driven.begin(source, {contender(1), flatEqualiser(2)}));
        (void)driven.pull(4800);
        driven.engine.hear(2);
        const auto out = driven.pull(48000, 256);
        const std::size_t delay = signal::SafetyLimiter::latency_frames;
        for (std::size_t i = 1000; i < 48000; ++i)
            HR_NEAR(out[2 * i], sound.channel(0)[(4800 + i - delay) % source->frames()], 1e-6);
    }

    void aLatencyThatIsNotReportedIsTakenOutAllTheSame()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        const auto sound = test::soundOf(*source);
        QVERIFY(driven.begin(source, {contender(1), contender(2, {"reference:added-latency", {}}, {300, 0})}));
        (void)driven.pull(4800);
        driven.engine.hear(2);
        const auto out = driven.pull(9600);
        const std::size_t delay = signal::SafetyLimiter::latency_frames;
        for (std::size_t i = 1000; i < 9600; ++i)
            HR_NEAR(out[2 * i], sound.channel(0)[(4800 + i - delay) % source->frames()], 1e-6);
    }

    void aLatencyThatChangesWhilePlayingIsFollowed_data()
    {
        QTest::addColumn<int>("before");
        QTest::addColumn<int>("after");
        QTest::newRow("more") << 64 << 1500;
        QTest::newRow("less") << 1500 << 64;
    }
    void aLatencyThatChangesWhilePlayingIsFollowed()
    {
        QFETCH(int, before);
        QFETCH(int, after);
        DrivenEngine driven;
        const auto source = toneSource();
        const auto sound = test::soundOf(*source);
        QVERIFY(driven.begin(source, {contender(1, {"reference:added-latency", {}}, {before * 1.0, 1})}));
        (void)driven.pull(4800);
        driven.engine.setParameter(1, 0, after);
        (void)driven.pull(9600);
        const auto out = driven.pull(9600);
        const std::size_t delay = signal::SafetyLimiter::latency_frames;
        for (std::size_t i = 0; i < 9600; ++i)
            HR_NEAR(out[2 * i], sound.channel(0)[(14400 + i - delay) % source->frames()], 1e-6);
    }

    void eightLanesBesideTheReferenceStayInStep()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        const auto sound = test::soundOf(*source);
        std::vector<ContenderSpec> contenders{contender(1)};
        for (ContenderId id = 2; id <= 9; ++id) // half of them in workers, all with another latency
            contenders.push_back(
                id % 2 ? contender(id, {"reference:added-latency", {}}, {100.0 * static_cast<double>(id), 1})
                       : flatEqualiser(id));
        QVERIFY(driven.begin(source, contenders));
        (void)driven.pull(4800);
        const std::size_t delay = signal::SafetyLimiter::latency_frames;
        for (ContenderId id = 1; id <= 9; ++id) {
            driven.engine.hear(id);
            const auto out = driven.pull(4800);
            // Through the switch, too: all of them are the same sound at the same place.
            for (std::size_t i = 0; i < 4800; ++i)
                HR_NEAR(out[2 * i], sound.channel(0)[(4800 * id + i - delay) % source->frames()], 1e-5);
        }
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void aCrashingLaneIsSilentAndTheOthersPlayOn()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1), contender(2, test::faultyAt("crash-in-run"), {0}),
                                      contender(3, test::specimenAt("stormglass"), {250}), gain(4, -6)}));
        (void)driven.pull(9600);
        const auto states = driven.engine.states();
        QVERIFY(!states[0].fault && states[1].fault && states[2].fault && !states[3].fault);
        QCOMPARE(states[1].fault->phase, hosting::Phase::Run);
        QCOMPARE(states[2].fault->phase, hosting::Phase::Start);
        driven.engine.hear(4);
        HR_NEAR(levelDb(driven.pull(9600), 4800), -26, 0.05);
        driven.engine.hear(2);
        QVERIFY(levelDb(driven.pull(9600), 4800) < -150);
    }

    void seekingAndLoopsLandWhereTheyShould()
    {
        signal::AudioBuffer steps(2, 48000, 48000);
        for (std::size_t c = 0; c < 2; ++c)
            for (std::size_t i = 0; i < 48000; ++i)
                steps.channel(c)[i] = static_cast<float>(i / 4800) * 0.05F; // ten stairs
        const auto source = std::make_shared<Source>(steps);
        DrivenEngine driven;
        QVERIFY(driven.begin(source, {contender(1)}));
        (void)driven.pull(1000);
        driven.engine.seek(7 * 4800);
        QVERIFY(driven.settle());
        auto out = driven.pull(2400);
        HR_NEAR(out[2 * 2000], 0.35, 1e-6);
        driven.engine.setScene({source, {2 * 4800, 4800}, driven.engine.scene().contenders});
        QVERIFY(driven.settle());
        out = driven.pull(12000);
        for (std::size_t i = 2000; i < 12000; ++i)
            HR_NEAR(out[2 * i], 0.10, 1e-6); // never leaves the section
        QVERIFY(driven.engine.position() >= 2 * 4800 && driven.engine.position() < 3 * 4800);
    }

    void pausingFadesAndHolds()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1)}));
        (void)driven.pull(4800);
        driven.engine.pause();
        const auto out = driven.pull(9600);
        QVERIFY(levelDb(out, 4800) < -150);
        QVERIFY(largestStep(out) < signal::dbToLinear(-20) * 2 * M_PI * 480 / 48000 * 1.2);
        const std::size_t held = driven.engine.position();
        (void)driven.pull(4800);
        QCOMPARE(driven.engine.position(), held);
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void runningDryIsAFadeAndGoesOnWhereItWas()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1)}));
        std::vector<float> all = driven.pull(4800);
        std::vector<float> block(2 * 128);
        for (int i = 0; i < 100000 && driven.engine.underruns() == 0; ++i) { // faster than the lane can follow
            driven.engine.render(block.data(), 128);
            all.insert(all.end(), block.begin(), block.end());
        }
        QVERIFY(driven.engine.underruns() > 0);
        const auto after = driven.pull(9600);
        all.insert(all.end(), after.begin(), after.end());
        HR_NEAR(levelDb(after, 4800), -20, 0.05);
        QVERIFY2(largestStep(all) < signal::dbToLinear(-20) * 2 * M_PI * 480 / 48000 * 1.2,
                 qPrintable(QString::number(largestStep(all))));
    }

    void theCallbackAllocatesNothing()
    {
        DrivenEngine driven;
        const auto source = toneSource();
        QVERIFY(driven.begin(source, {contender(1), gain(2, -3), gain(3, 24)}));
        std::vector<float> block(2 * 256);
        int made = 0;
        for (int i = 0; i < 400; ++i) {
            if (i % 20 == 0)
                driven.engine.hear(1 + static_cast<ContenderId>(i / 20) % 3);
            if (i == 100)
                driven.engine.seek(1000);
            if (i == 200)
                driven.engine.setScene({source, source->whole(), {contender(1), gain(3, 24), gain(4, 2)}});
            driven.engine.applyPending();
            QTest::qSleep(1);
            const int before = allocations;
            driven.engine.render(block.data(), 256);
            made += allocations - before;
        }
        QCOMPARE(made, 0);
    }

    void whatIsListenedToIsTheSameForEveryone_data()
    {
        using audition::Listened;
        QTest::addColumn<int>("listened");
        QTest::addColumn<bool>("quieter");
        QTest::addColumn<double>("left");
        QTest::addColumn<double>("right");
        const auto row = [](const char* name, Listened listened, bool quieter, double left, double right) {
            QTest::newRow(name) << static_cast<int>(listened) << quieter << left << right;
        };
        row("stereo", Listened::Stereo, false, 0.5, 0.2);
        row("mono", Listened::Mono, false, 0.35, 0.35);
        row("left", Listened::Left, false, 0.5, 0.5);
        row("right", Listened::Right, false, 0.2, 0.2);
        row("side", Listened::Side, false, 0.15, 0.15);
        row("quieter", Listened::Stereo, true, 0.05, 0.02);
    }
    void whatIsListenedToIsTheSameForEveryone()
    {
        QFETCH(const int, listened);
        QFETCH(const bool, quieter);
        QFETCH(const double, left);
        QFETCH(const double, right);
        signal::AudioBuffer steady(2, 48000, 48000);
        std::ranges::fill(steady.channel(0), 0.5F);
        std::ranges::fill(steady.channel(1), 0.2F);
        DrivenEngine driven;
        QVERIFY(driven.begin(std::make_shared<Source>(steady), {contender(1)}));
        driven.pull(4800);
        driven.engine.setMonitor({.listened = static_cast<audition::Listened>(listened), .quieter = quieter});
        const auto out = driven.pull(9600);
        for (std::size_t i = 1; i < 9600; ++i) // it glides
            QVERIFY(std::abs(out[2 * i] - out[2 * (i - 1)]) < 0.005F);
        HR_NEAR(static_cast<double>(out[2 * 9599]), left, 1e-4);
        HR_NEAR(static_cast<double>(out[2 * 9599 + 1]), right, 1e-4);
    }

    void polarityIsTurnedAndTheLowEndMadeMono()
    {
        signal::AudioBuffer wide(2, 48000, 48000); // low on the left, high on the right
        std::ranges::copy(test::tone(50, -12, 1).channel(0), wide.channel(0).begin());
        std::ranges::copy(test::tone(5000, -12, 1).channel(0), wide.channel(1).begin());
        DrivenEngine driven;
        QVERIFY(driven.begin(std::make_shared<Source>(wide), {contender(1)}));
        (void)driven.pull(4800);
        const auto plain = driven.pull(48000);
        driven.engine.setMonitor({.inverted = true});
        (void)driven.pull(48000);
        const auto inverted = driven.pull(48000);
        for (std::size_t i = 0; i < inverted.size(); ++i)
            HR_NEAR(inverted[i], -plain[i], 1e-4);
        driven.engine.setMonitor({.mono_below_hz = 500});
        (void)driven.pull(48000);
        const auto mono = driven.pull(48000);
        const auto level = [](const std::vector<float>& out, std::size_t side) {
            return signal::rmsDbfs(std::span<const float>(test::side(out, side)));
        };
        HR_NEAR(level(mono, 0), -18, 0.1); // half of the low tone on both sides
        // The high one stays where it was, beside the other half.
        HR_NEAR(level(mono, 1), signal::powerToDb(std::pow(10, -1.2) + std::pow(10, -1.8)), 0.1);
    }

    void oneBandIsHeardAloneWithoutAClick()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(toneSource(), {contender(1)}));
        (void)driven.pull(960); // fades in
        const auto plain = driven.pull(9600);
        const auto heardIn = [&](std::optional<audition::Band> band) {
            audition::Monitor monitor;
            monitor.band = band;
            driven.engine.setMonitor(monitor);
            const auto out = driven.pull(24000);
            return std::pair(levelDb(out, 12000), largestStep(out));
        };
        const double own_step = largestStep(plain);
        const auto [inside_db, inside_step] = heardIn(audition::Band{100, 4000});
        HR_NEAR(inside_db, levelDb(plain), 0.1);
        const auto [outside_db, outside_step] = heardIn(audition::Band{2000, 8000});
        HR_NEAR(outside_db - levelDb(plain), -49.5, 1); // 24 dB an octave
        const auto [above_db, above_step] = heardIn(audition::Band{20, 120});
        HR_NEAR(above_db - levelDb(plain), -48, 1);
        const auto [whole_db, whole_step] = heardIn(std::nullopt);
        HR_NEAR(whole_db, levelDb(plain), 0.001);
        for (const double step : {inside_step, outside_step, above_step, whole_step})
            QVERIFY2(step < 1.5 * own_step, qPrintable(QString::number(step / own_step)));
    }

    void whatHarmsIsSilencedAndSaid_data()
    {
        QTest::addColumn<double>("gain");
        QTest::addColumn<double>("offset");
        QTest::addColumn<QString>("said");
        QTest::newRow("an offset") << 0.0 << 0.4 << "40 % of full scale (DC)";
        QTest::newRow("a small one") << 0.0 << 0.2 << QString();
        QTest::newRow("a scream") << 9999.0 << 0.0 << "screams at 60 dBFS";
        QTest::newRow("loud alone") << 60.0 << 0.0 << QString();
    }
    void whatHarmsIsSilencedAndSaid()
    {
        QFETCH(double, gain);
        QFETCH(double, offset);
        QFETCH(QString, said);
        DrivenEngine driven;
        QVERIFY(driven.begin(toneSource(),
                             {contender(1), contender(2, {"lv2:urn:honest-rack:tests:harms", test::odd_bundle},
                                                      {gain, offset}, -60)}));
        (void)driven.pull(48000);
        const auto fault = driven.engine.states()[1].fault;
        QCOMPARE(fault.has_value(), !said.isEmpty());
        QVERIFY2(!fault || QString::fromStdString(hosting::sentence(*fault)).contains(said),
                 fault ? hosting::sentence(*fault).c_str() : "");
        HR_NEAR(levelDb(driven.pull(4800)), -20, 0.1); // the other goes on
    }

    void aJumpIsFadedTo()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(toneSource(), {gain(1, -30), gain(2, 0)}));
        (void)driven.pull(4800);
        driven.engine.hear(2, true);
        const auto out = driven.pull(24000);
        HR_NEAR(levelDb({out.begin(), out.begin() + 9600}), -20 - 18, 3); // a tenth of a second: still faint
        HR_NEAR(levelDb(out, 20000), -20, 0.05);
        driven.engine.hear(1); // at once, as ever
        HR_NEAR(levelDb(driven.pull(4800), 960), -50, 0.1);
    }

    void theLimiterSpeaksUp()
    {
        DrivenEngine driven;
        const auto source = std::make_shared<Source>(test::tone(480, -2, 1));
        QVERIFY(driven.begin(source, {contender(1), gain(2, 12)}));
        (void)driven.pull(4800);
        QVERIFY(!driven.engine.takeLimiterActed());
        driven.engine.hear(2);
        const auto out = driven.pull(4800);
        QVERIFY(driven.engine.takeLimiterActed());
        for (const float sample : out)
            QVERIFY(std::abs(sample) <= signal::SafetyLimiter::ceiling);
    }

    void withoutSourceThereIsSilence()
    {
        DrivenEngine driven;
        driven.engine.setScene({nullptr, {}, {contender(1)}});
        driven.engine.play();
        for (const float sample : driven.pull(512))
            QCOMPARE(sample, 0.0F);
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }
};

HR_TEST(tst_engine)
#include "tst_engine.moc"
