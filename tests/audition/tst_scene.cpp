// SPDX-License-Identifier: GPL-3.0-or-later
//
// Scenes that change while they play, captured and compared sample by sample.
#include "audition/played_noise.h"
#include "audition/rendered.h"
#include "signal/audio_file.h"

using namespace hr;
using audition::ContenderSpec;
using audition::Scene;
using audition::Section;
using audition::Source;
using audition::TapBlock;
using audition::TapPoint;
using test::contender;
using test::crossfade;
using test::DrivenEngine;
using test::late;
using test::noiseSource;
using test::waitForFault;

class tst_scene : public test::PlayedNoise {
    Q_OBJECT

private slots:
    void whatIsHeardGoesOnThroughEveryChangeOfTheOthers()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6, -3), gain(3, 2)}));
        driven.engine.hear(2);
        std::size_t at = 4800;
        (void)driven.pull(at);
        const std::vector<std::pair<const char*, std::vector<ContenderSpec>>> changes{
            {"another joins", {contender(1), gain(2, -6, -3), gain(3, 2), slow(4)}},
            {"they are put in another order", {slow(4), gain(3, 2), gain(2, -6, -3), contender(1)}},
            {"one leaves", {slow(4), gain(2, -6, -3), contender(1)}},
            {"one is replaced", {slow(4, 2), gain(2, -6, -3), contender(1)}},
            {"one is replaced and another joins", {slow(4, 3), gain(2, -6, -3), slow(5), contender(1)}},
            {"all others leave", {gain(2, -6, -3)}},
            {"they come back under other identities", {contender(11), gain(2, -6, -3), slow(14), gain(13, 2)}},
        };
        for (const auto& [what, contenders] : changes) {
            driven.engine.setScene({m_noise, m_noise->whole(), contenders});
            const auto out = driven.pullThrough(4800);
            isTheNoise(out, at, -9, what);
            QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
            at += out.size() / 2;
            for (const auto& state : driven.engine.states())
                QVERIFY2(state.plays, what);
        }
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void whatIsHeardIsReplacedWithoutAGap()
    {
        // Both builds sound alike, so the change itself must not be heard at all.
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6)}));
        driven.engine.hear(2);
        (void)driven.pull(4800);
        ContenderSpec other = contender(2, {"reference:added-latency", {}}, {700, 1}, -6.0);
        other.generation = 2;
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), other}});
        isTheNoise(driven.pullThrough(9600), 4800, -6, "heard one replaced");
        // And when it leaves, the last it could have been heard for is faded, and nothing else takes its place.
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1)}});
        const auto out = driven.pullThrough(4800);
        QCOMPARE(driven.engine.audible(), audition::no_contender);
        for (std::size_t i = out.size() - 2000; i < out.size(); ++i)
            QCOMPARE(out[i], 0.0F);
        driven.engine.hear(1);
        QVERIFY(levelDb(driven.pull(4800)) > -30);
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    /// Whoever is heard, the rest goes on beside it; alone, it is heard as it is.
    void theRestIsHeardBesideWhoeverIsHeard()
    {
        const QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("rest.wav")).toStdString();
        HR_VERIFY(signal::writeAudioFile(file, m_sound, signal::SampleFormat::Float32));
        DrivenEngine driven;
        const auto rest = contender(9, audition::renderedAt(file));
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6), rest}));
        driven.engine.hear(1);
        std::size_t at = 4800;
        (void)driven.pull(at);
        const auto hears = [&](double level_db, const char* what) {
            (void)driven.pull(4800); // the change itself
            at += 4800;
            isTheNoise(driven.pull(4800), at, level_db, what);
            at += 4800;
        };
        hears(0, "alone");
        driven.engine.setAccompaniment(9);
        hears(6.020599913279624, "twice the same");
        driven.engine.hear(2);
        hears(20 * std::log10(1 + std::pow(10, -6 / 20.0)), "another in the same company");
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), gain(2, -6), gain(3, 2), rest}});
        hears(20 * std::log10(1 + std::pow(10, -6 / 20.0)), "while one joins");
        driven.engine.hear(9);
        hears(0, "only the rest");
        driven.engine.hear(2);
        driven.engine.setAccompaniment(audition::no_contender);
        hears(-6, "alone again");
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void whatWasRenderedBeforeIsHeardInStep()
    {
        const QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("rendered.wav")).toStdString();
        auto half = m_sound;
        for (std::size_t c = 0; c < 2; ++c)
            for (float& sample : half.channel(c))
                sample *= 0.5F;
        HR_VERIFY(signal::writeAudioFile(file, half, signal::SampleFormat::Float32));
        DrivenEngine driven;
        const auto rendered = contender(2, audition::renderedAt(file));
        QVERIFY(driven.begin(m_noise, {contender(1), rendered}));
        driven.engine.hear(2);
        (void)driven.pull(4800);
        playsTheNoise(driven, -6.020599913279624, "what was rendered");
        driven.engine.seek(30000);
        (void)driven.pullThrough(4800);
        playsTheNoise(driven, -6.020599913279624, "from elsewhere");
        // With half of the source beside it.
        driven.engine.setMix(2, 1, audition::WetDry::insert(50));
        (void)driven.pull(24000);
        playsTheNoise(driven, signal::linearToDb(0.75), "with the source");
        const auto gone =
            contender(3, audition::renderedAt(folder.filePath(QStringLiteral("none.wav")).toStdString()));
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), rendered, gone}});
        QVERIFY(waitForFault(driven, 3));
    }

    void aRenderedFileThatEndsIsSilent()
    {
        const QTemporaryDir folder;
        const std::filesystem::path file = folder.filePath(QStringLiteral("short.wav")).toStdString();
        HR_VERIFY(signal::writeAudioFile(file, signal::onChannels(std::vector<double>(1000, 0.5), 2, 48000),
                                         signal::SampleFormat::Float32));
        const auto rendered = audition::RenderedSound::open(audition::renderedAt(file), 48000);
        HR_VERIFY(rendered);
        std::vector<float> left(3000, 9);
        std::vector<float> right(3000, 9);
        (*rendered)->read({500, 2000}, 0, left.data(), right.data(), 3000);
        for (std::size_t i = 0; i < left.size(); ++i)
            QCOMPARE(left[i], i % 2000 < 500 ? 0.5F : 0.0F);
        QCOMPARE(left, right);
    }

    static double levelDb(const std::vector<float>& out)
    {
        return signal::linearToDb(std::sqrt(std::inner_product(out.begin(), out.end(), out.begin(), 0.0) /
                                            static_cast<double>(out.size())));
    }

    void theCourseChangesAtOneFrame_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addRow("source") << 0;
        QTest::addRow("loop") << 1;
        QTest::addRow("position") << 2;
        QTest::addRow("source and build") << 3;
    }
    void theCourseChangesAtOneFrame()
    {
        QFETCH(const int, kind);
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6, -3), slow(3)}));
        driven.engine.hear(2);
        (void)driven.pull(4800);
        const auto second = kind == 0 || kind == 3 ? noiseSource(2) : m_noise;
        const auto after = test::soundOf(*second);
        Scene scene = driven.engine.scene();
        scene.source = second;
        const Section loop = kind == 1 ? Section{20000, 15000} : second->whole();
        scene.loop = loop;
        if (kind == 3)
            scene.contenders[1] = {2, 2, {"reference:added-latency", {}}, {64, 0}, -9.0};
        const std::size_t to = kind == 1 ? 20000 : kind == 2 ? 33000 : 0;
        if (kind == 2)
            driven.engine.seek(to);
        else
            driven.engine.setScene(scene, to);
        const auto out = driven.pullThrough(9600);
        QVERIFY(!out.empty());
        // Where it changed over: up to there it is what was before, from the end of the crossfade on what
        // comes.
        const double level = signal::dbToLinear(-9);
        const auto before = [&](std::size_t i) {
            return level * m_sound.channel(0)[(4800 + i - late) % 48000];
        };
        std::size_t change = 0;
        while (std::abs(out[2 * change] - before(change)) < 1e-6)
            ++change;
        --change; // the first frame of the crossfade may be too close to tell
        const auto isAfterFrom = [&](std::size_t began) {
            for (std::size_t i = began + crossfade + 1; i < out.size() / 2; ++i)
                if (std::abs(out[2 * i] -
                             level * after.channel(
                                         0)[loop.first + (to - loop.first + i - began) % loop.frames]) > 1e-6)
                    return false;
            return true;
        };
        std::size_t began = change > 8 ? change - 8 : 0;
        while (began <= change + 1 && !isAfterFrom(began))
            ++began;
        QVERIFY2(began <= change + 1, "what comes does not begin where what was ends");
        for (std::size_t i = 0; i < crossfade; ++i) { // linear, from one to the other
            const double share = static_cast<double>(i + 1) / crossfade;
            const double expected =
                (1 - share) * before(began + i) +
                share * level * after.channel(0)[loop.first + (to - loop.first + i) % loop.frames];
            HR_NEAR(out[2 * (began + i)], expected, 1e-5);
        }
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void aStepAfterAGentleSwitchLeavesNoHole_data()
    {
        QTest::addColumn<int>("frames");
        QTest::newRow("in the middle of the switch") << 4800;
        QTest::newRow("once it is over") << 24000;
    }
    void aStepAfterAGentleSwitchLeavesNoHole()
    {
        QFETCH(int, frames);
        // All sound alike: whatever fades into whatever, the sum is the same throughout.
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, 0)}));
        std::size_t at = 4800;
        (void)driven.pull(at);
        driven.engine.hear(2, true);
        isTheNoise(driven.pull(static_cast<std::size_t>(frames)), at, 0, "the switch", 2e-5);
        at += static_cast<std::size_t>(frames);
        for (std::uint32_t generation = 2; generation < 5; ++generation) { // as stepping through presets does
            auto next = gain(2, 0);
            next.generation = generation;
            driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), next}});
            const auto out = driven.pull(9600);
            isTheNoise(out, at, 0, "the step", 2e-5);
            at += out.size() / 2;
        }
        isTheNoise(driven.pull(24000), at, 0, "afterwards", 2e-5);
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void whatIsTappedIsOfOneCourseAtATime()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, 0)}));
        const auto reader = driven.engine.listen(TapPoint::Output, 2, 4096);
        std::size_t jumps = 0;
        std::optional<std::size_t> expected;
        constexpr std::size_t seeks = 12;
        for (std::size_t i = 0; i < seeks; ++i) {
            driven.engine.seek(3000 * i + 500);
            (void)driven.pullThrough(2048);
            TapBlock block;
            while (reader->take(block)) {
                for (std::size_t k = 0; k < block.frames; ++k)
                    QCOMPARE(block.left[k], m_sound.channel(0)[(block.source_frame + k) % m_noise->frames()]);
                jumps += expected && block.source_frame != *expected;
                expected = (block.source_frame + block.frames) % m_noise->frames();
            }
        }
        QVERIFY2(jumps <= seeks, qPrintable(QString::number(jumps))); // back and forth would be more
    }

    void nothingIsLoadedForAnotherCourse()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), slow(2)}));
        driven.engine.hear(2);
        (void)driven.pullThrough(4800);
        auto& pool = hosting::WorkerPool::shared();
        const auto location = slow(2).location;
        QTRY_VERIFY_WITH_TIMEOUT(!pool.wantsSpare(location, hosting::Channels::Stereo), 20000);
        const std::size_t loads = pool.loads();
        for (std::size_t i = 0; i < 5; ++i) {
            if (i % 2)
                driven.engine.seek(1000 * i);
            else
                driven.engine.setScene({m_noise, {1000 * i, 24000}, driven.engine.scene().contenders});
            QVERIFY(!driven.pullThrough(480).empty());
            QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
        }
        // Under other settings, which a preset has, it is the same processor.
        auto preset = slow(2, 2);
        preset.location.preset = "another";
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), preset}});
        QVERIFY(!driven.pullThrough(480).empty());
        QCOMPARE(pool.loads(), loads);
        QCOMPARE(driven.engine.underruns(), std::size_t{0});
    }

    void aSeekDuringOpeningIsKept()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), slow(2)}));
        (void)driven.pull(4800);
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), slow(2, 2)}});
        driven.engine.seek(30000);
        isTheNoise(driven.pull(9600), 4800, 0, "until it is open");
        QVERIFY(!driven.engine.isSettled());
        QCOMPARE(driven.engine.position(), std::size_t{30000});
        QVERIFY(!driven.pullThrough(512).empty());
        QVERIFY(driven.engine.position() >= 30000 && driven.engine.position() < 32000);
        playsTheNoise(driven, 0, "after the seek");
    }

    void seeksAndScenesOneAfterTheOtherEndWithTheLast()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6)}));
        const auto other = noiseSource(2);
        for (std::size_t i = 0; i < 60; ++i) {
            (void)driven.pull(i % 3 * 64);
            if (i % 2)
                driven.engine.seek(700 * i);
            else
                driven.engine.setScene(
                    {i % 4 ? other : m_noise, m_noise->whole(), {contender(1), gain(2 + i % 5, -6)}}, 100 * i);
        }
        driven.engine.setScene({m_noise, m_noise->whole(), {gain(9, 0), contender(1)}}, 1000);
        QVERIFY(!driven.pullThrough(512).empty());
        playsTheNoise(driven, 0, "the last one");
    }

    void aFaultStaysWithWhoHadIt()
    {
        DrivenEngine driven;
        const auto crashing = contender(2, test::faultyAt("crash-in-run"), {0});
        QVERIFY(driven.begin(m_noise, {contender(1), crashing, gain(3, 0)}));
        QVERIFY(waitForFault(driven, 2));
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), gain(3, 0)}});
        QVERIFY(!driven.pullThrough(4800).empty());
        for (const auto& state : driven.engine.states())
            QVERIFY(!state.fault);
        // Nor does its successor inherit it.
        auto sound = gain(2, 0);
        sound.generation = 2;
        driven.engine.setScene({m_noise, m_noise->whole(), {contender(1), sound, gain(3, 0)}});
        QVERIFY(!driven.pullThrough(4800).empty());
        QVERIFY(!driven.engine.states()[1].fault && driven.engine.states()[1].plays);
        driven.engine.setGain(2, 1, -40); // of the one before: comes too late
        driven.engine.hear(2);
        (void)driven.pull(4800);
        playsTheNoise(driven, 0, "the successor's gain");
    }

    void whoHasNoGainYetIsNotHeard()
    {
        DrivenEngine driven;
        auto unmatched = gain(2, 6);
        unmatched.gain_db.reset();
        QVERIFY(driven.begin(m_noise, {contender(1), unmatched}));
        driven.engine.hear(2);
        (void)driven.pull(4800);
        playsTheNoise(driven, 0, "still the first");
        QCOMPARE(driven.engine.audible(), audition::ContenderId{1});
        driven.engine.setGain(2, 1, -6);
        (void)driven.pull(4800);
        QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
        playsTheNoise(driven, 0, "at its own gain");
    }

    void aSuccessorWaitsForItsOwnGain()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {gain(1, -6, -3)}));
        (void)driven.pull(4800);
        ContenderSpec other = gain(1, -12);
        other.generation = 2;
        other.gain_db.reset();
        driven.engine.setScene({m_noise, m_noise->whole(), {other}});
        for (int i = 0; i < 10; ++i, QTest::qSleep(20))
            playsTheNoise(driven, -9, "until it is matched");
        driven.engine.setGain(1, 2, -1);
        QVERIFY(!driven.pullThrough(512).empty());
        playsTheNoise(driven, -13, "at its own gain");
    }

    void anEngineIsMadeAgainAtAnotherRate()
    {
        Scene scene;
        {
            DrivenEngine driven;
            QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6, -3)}));
            driven.engine.hear(2);
            (void)driven.pull(4800);
            scene = driven.engine.scene();
            scene.source = noiseSource(1, 96000, 96000);
            scene.loop = scene.source->whole();
        }
        DrivenEngine driven(96000);
        driven.engine.hear(2);
        driven.engine.setScene(scene, 9600);
        QVERIFY(driven.settle());
        driven.engine.play();
        QCOMPARE(driven.engine.position(), std::size_t{9600});
        (void)driven.pull(9600);
        QCOMPARE(driven.engine.audible(), audition::ContenderId{2});
        HR_NEAR(levelDb(driven.pull(48000)), signal::linearToDb(0.05) - 9, 0.3);
    }
};

HR_TEST(tst_scene)
#include "tst_scene.moc"
