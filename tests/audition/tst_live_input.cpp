// SPDX-License-Identifier: GPL-3.0-or-later
//
// What comes in, heard live: how closely it is followed, through whom, and by what it is matched.
#include "audition/live/recent_loudness.h"
#include "audition/played_noise.h"
#include "signal/generators.h"

using namespace hr;
using audition::LivePace;
using audition::RecentInput;
using test::contender;

namespace {

constexpr std::size_t period = 128;

std::vector<float> asFloats(const std::vector<double>& sound)
{
    return {sound.begin(), sound.end()};
}

/// Noise that comes in and is played, period by period; the lanes have their turn between.
class LiveRig {
public:
    explicit LiveRig(std::vector<audition::ContenderSpec> contenders)
    {
        std::vector<float> silence(2 * period);
        engine.render(silence.data(), period); // how much the device takes is known from its first turn on
        engine.applyPending();
        engine.hear(contenders.front().id);
        audition::Scene scene;
        scene.live = input;
        scene.contenders = std::move(contenders);
        engine.setScene(std::move(scene));
        engine.play();
    }

    audition::Engine engine{48000};
    std::shared_ptr<RecentInput> input = std::make_shared<RecentInput>(48000, 2);
    std::vector<float> noise = asFloats(signal::gaussianNoise(0.05, 48000, 3)); // what comes in, over and over
    std::vector<float> left;                                                    // all that was played

    void turn(std::size_t comes_in = period)
    {
        std::vector<float> in(2 * comes_in);
        for (std::size_t i = 0; i < comes_in; ++i)
            in[2 * i] = in[2 * i + 1] = noise[(input->arrived() + i) % noise.size()];
        const std::size_t before = engine.readyFrames();
        input->put(in.data(), comes_in);
        engine.applyPending();
        // The machine may be busy: where lanes play, what came in is waited for.
        for (int waited_ms = 0; comes_in > 0 && engine.readyFrames() == before; ++waited_ms) {
            if (waited_ms == (isPlaying() ? 100 : 2))
                break;
            QTest::qSleep(1);
        }
        std::vector<float> out(2 * period);
        engine.render(out.data(), period);
        for (std::size_t i = 0; i < period; ++i)
            left.push_back(out[2 * i]);
    }
    void turns(int count)
    {
        for (int i = 0; i < count; ++i)
            turn();
    }
    bool isPlaying() const { return engine.isSettled() && engine.liveLagFrames() > 0; }
    bool settle()
    {
        for (int i = 0; i < 3000 && !isPlaying(); ++i)
            turn();
        turns(20);
        return isPlaying();
    }
    /// What is told of it at the moment, less the block that is told from its beginning on.
    int told() const { return static_cast<int>(engine.liveLagFrames()) - static_cast<int>(period); }
    /// By how many frames what was played last is later than what came in last; -1: it is something else.
    int lateBy(double level = 1) const
    {
        constexpr std::size_t compared = 512;
        for (std::size_t late = 0; late < 8192; ++late) {
            double worst = 0;
            for (std::size_t i = 0; i < compared; ++i)
                worst = std::max(
                    worst,
                    std::abs(static_cast<double>(left[left.size() - compared + i]) -
                             level * static_cast<double>(
                                         noise[(input->arrived() + 2 * noise.size() - compared + i - late) %
                                               noise.size()])));
            if (worst < 1e-5)
                return static_cast<int>(late);
        }
        return -1;
    }
};

} // namespace

class tst_live_input : public QObject {
    Q_OBJECT

private slots:
    void asLittleAsPossibleLiesReady()
    {
        LivePace pace(48000);
        QVERIFY(pace.look(LivePace::needed(128) - 1, 128).hold);
        // What comes in at uneven times leaves at the least 500 frames too many: these are let go of.
        std::size_t skipped = 0;
        for (int block = 0; block < 38 && skipped == 0; ++block)
            skipped =
                pace.look(LivePace::needed(128) + 500 + 64 * static_cast<std::size_t>(block % 3), 128).skip;
        QCOMPARE(skipped, std::size_t{500});
        QVERIFY(!pace.isSteady());
        for (int block = 0; block < 38; ++block)
            QCOMPARE(pace.look(LivePace::needed(128) + 128 * static_cast<std::size_t>(block % 2), 128).skip,
                     std::size_t{0});
        QVERIFY(pace.isSteady());
        // Once it has broken off, a period more is kept.
        QVERIFY(pace.look(LivePace::needed(128) - 1, 128).hold);
        for (int block = 0; block < 38; ++block)
            QCOMPARE(pace.look(LivePace::needed(128) + 128 + 60, 128).skip, std::size_t{0});
        QVERIFY(pace.isSteady() && pace.margin() == 128);
    }

    void whatComesInIsHeardAsLateAsIsTold()
    {
        LiveRig rig({contender(1), contender(2, {"reference:added-latency", {}}, {100, 1}),
                     contender(3, {"reference:gain", {}}, {-6}, 2.0)});
        QVERIFY(rig.settle());
        // As it is told at the moment: a machine that pauses may move it.
        QCOMPARE(rig.lateBy(), rig.told());
        QVERIFY(rig.told() > 0 && rig.told() <= static_cast<int>(LivePace::needed(period) +
                                                                 LivePace::spare(period) + period + 64));
        // A processor's own latency comes on top, as it would where it is played.
        rig.engine.hear(2);
        rig.turns(40);
        QCOMPARE(rig.lateBy(), rig.told() + 100);
        QCOMPARE(rig.engine.states()[1].latency_frames, std::size_t{100});
        rig.engine.hear(3);
        rig.turns(40);
        QCOMPARE(rig.lateBy(signal::dbToLinear(-4)), rig.told());
        // Paused and played again it is hardly later, though it went on meanwhile.
        rig.engine.pause();
        rig.turns(100);
        rig.engine.play();
        rig.turns(40);
        QCOMPARE(rig.lateBy(signal::dbToLinear(-4)), rig.told());
        QVERIFY(rig.told() < 1000);
    }

    /// Whenever it comes: what lies ready of it ends where that of the others does.
    void whoComesLaterJoins()
    {
        LiveRig rig({contender(1)});
        for (int i = 0; i < 50; ++i)
            rig.turn(50); // so that the course begins anywhere
        QVERIFY(rig.settle());
        for (audition::ContenderId id = 2; id < 6; ++id) {
            audition::Scene scene = rig.engine.scene();
            scene.contenders.push_back(contender(id, {"reference:gain", {}}, {-6}));
            rig.engine.setScene(scene);
            rig.turn(50);
            for (int i = 0; i < 300 && !rig.engine.isSettled(); ++i)
                rig.turn();
            QVERIFY(rig.engine.isSettled());
            rig.engine.hear(id);
            rig.turns(40);
            QCOMPARE(rig.engine.audible(), id);
            QVERIFY(rig.lateBy(signal::dbToLinear(-6)) > 0);
        }
    }

    void clocksThatDifferNeitherPileUpNorBreakOff()
    {
        LiveRig rig({contender(1)});
        QVERIFY(rig.settle());
        for (int i = 0; i < 600; ++i)
            rig.turn(period + (i % 4 == 0 ? 8 : 0)); // 1.6 % faster
        QVERIFY(rig.lateBy() >= 0);
        QVERIFY(rig.engine.liveLagFrames() < 1000);
        rig.turn(60000); // a great deal at once: what cannot be followed is left out
        for (int i = 0; i < 400; ++i)
            rig.turn();
        QVERIFY(rig.engine.liveLagFrames() < 1000);
        for (int i = 0; i < 100; ++i)
            rig.turn(0); // it stops coming
        QVERIFY(std::all_of(rig.left.end() - 1000, rig.left.end(), [](float sample) { return sample == 0; }));
        QVERIFY(rig.settle());
        QVERIFY(rig.lateBy() >= 0);
        QVERIFY(rig.engine.liveLagFrames() < 1000);
    }

    void fromASourceToTheInputAndBack()
    {
        LiveRig rig({contender(1), contender(2, {"reference:gain", {}}, {-6})});
        QVERIFY(rig.settle());
        const auto source = test::noiseSource();
        audition::Scene scene = rig.engine.scene();
        scene.live.reset();
        scene.source = source;
        scene.loop = source->whole();
        rig.engine.setScene(scene);
        for (int i = 0; i < 3000 && !(rig.engine.isSettled() && rig.engine.liveLagFrames() == 0); ++i)
            rig.turn();
        QCOMPARE(rig.engine.liveLagFrames(), std::size_t{0});
        scene.live = rig.input;
        rig.engine.setScene(scene);
        QVERIFY(rig.settle());
        QVERIFY(rig.lateBy() >= 0);
    }

    void loudnessIsThatOfTheLastTenSeconds()
    {
        audition::RecentLoudness recent(48000);
        QVERIFY(!recent.read());
        const auto play = [&](double level_dbfs, double seconds) {
            const auto exact = signal::sine(1000, signal::dbToLinear(level_dbfs), 48000,
                                            static_cast<std::size_t>(seconds * 48000));
            const auto tone = asFloats(exact);
            for (std::size_t i = 0; i < tone.size(); i += 333)
                recent.add(&tone[i], &tone[i], std::min<std::size_t>(333, tone.size() - i));
        };
        play(-10, 12);
        HR_NEAR(*recent.read(), -10, 0.05); // a tone of 1 kHz on both sides is as loud as its level
        play(-30, 10);
        HR_NEAR(*recent.read(), -30, 0.05);
        play(-200, 5); // the gate leaves out where nothing is played
        HR_NEAR(*recent.read(), -30, 0.2);
        play(-200, 10);
        QVERIFY(!recent.read());
    }
};

HR_TEST(tst_live_input)
#include "tst_live_input.moc"
