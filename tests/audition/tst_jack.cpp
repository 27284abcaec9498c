// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is heard, captured from a real audio server and compared with what was to be heard.
#include "audition/driven_engine.h"
#include "audition/input_device.h"
#include "audition/jack_programs.h"
#include "audition/output_device.h"
#include "audition/recent_input.h"
#include "hosting/thread_priority.h"
#include "signal/generators.h"
#include "signal/levels.h"

#include <QElapsedTimer>
#include <QProcess>

using namespace hr;
using audition::Engine;
using audition::Source;
using test::Player;
using test::Recorder;

class tst_jack : public QObject {
    Q_OBJECT

    bool m_may_keep_deadlines = false;
    std::unique_ptr<QProcess> m_server;

    void startServer(int rate_hz = 48000, int period_frames = 256, bool real_time = true)
    {
        stopServer();
        m_server = std::make_unique<QProcess>();
        // In real time where that is allowed: else its own clock is late every now and then.
        const QString pace =
            real_time && m_may_keep_deadlines ? QStringLiteral("-R -P 10") : QStringLiteral("-r");
        m_server->start(QStringLiteral("jackd"), QStringLiteral("%1 -d dummy -r %2 -p %3")
                                                     .arg(pace)
                                                     .arg(rate_hz)
                                                     .arg(period_frames)
                                                     .split(QLatin1Char(' ')));
        QVERIFY2(m_server->waitForStarted(5000), "jackd is not installed");
        // It answers once its socket is there.
        QTRY_VERIFY_WITH_TIMEOUT(audition::openDevice({"JACK", ""}).has_value(), 15000);
    }
    void stopServer()
    {
        if (!m_server)
            return;
        m_server->terminate();
        m_server->waitForFinished(5000);
    }

    void killServer()
    {
        m_server->kill();
        m_server->waitForFinished(5000);
        test::forgetKilledJackServer();
    }

    /// Where `needle` begins in `hay`, sample for sample; -1 where it does not.
    static int find(const std::vector<float>& hay, std::span<const float> needle)
    {
        const auto found = std::search(hay.begin(), hay.end(), needle.begin(), needle.end());
        return found == hay.end() ? -1 : static_cast<int>(found - hay.begin());
    }

    /// Keeps the engine going until the recorder has `needle`; where it begins, -1 after ten seconds.
    static int heardAt(Engine& engine, Recorder& recorder, std::span<const float> needle)
    {
        QElapsedTimer clock;
        clock.start();
        while (clock.elapsed() < 10000) {
            engine.applyPending();
            QTest::qWait(20);
            if (const int at = find(recorder.taken(), needle); at >= 0)
                return at;
            if (recorder.isBroken())
                return -1;
        }
        return -1;
    }

    static constexpr double halved_db = -6.020599913279624;

    /// What a candidate at half of it puts out for these frames of the source.
    static std::vector<float> halved(std::span<const float> sound)
    {
        std::vector<float> half;
        for (const float sample : sound)
            half.push_back(static_cast<float>(static_cast<double>(sample) * signal::dbToLinear(halved_db)));
        return half;
    }

    enum class Run { Good, Disturbed, Wrong };

    /// Whether the machine kept a thread waiting that only sleeps, and is of the lanes' kind, for half of what
    /// they are filled ahead: then they may run dry without any doing of ours, and no server need notice.
    class Control {
    public:
        bool wasKept() const { return m_kept; }

    private:
        std::atomic<bool> m_kept{false};
        std::jthread m_thread{[this](const std::stop_token& stop) {
            hosting::setPriority(hosting::Priority::Playback);
            while (!stop.stop_requested()) {
                const auto before = std::chrono::steady_clock::now();
                std::this_thread::sleep_for(std::chrono::milliseconds(2));
                if (std::chrono::steady_clock::now() - before > std::chrono::milliseconds(20))
                    m_kept = true;
            }
        }};
    };
    using Course = bool (*)(Engine&, Recorder&, const std::shared_ptr<const Source>&,
                            const signal::AudioBuffer&);

    /// Plays the source and a candidate at half of it to the server, records them, and lets `course` judge.
    static Run play(const signal::AudioBuffer& noise, Course course)
    {
        const auto source = std::make_shared<Source>(noise);
        Engine engine(noise.sampleRateHz());
        auto device = audition::openDevice({"JACK", ""});
        if (!device || (*device)->choice().system != "JACK" || (*device)->rateHz() != noise.sampleRateHz() ||
            !(*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); })) {
            qInfo("no server at this rate");
            return Run::Wrong;
        }
        Recorder recorder;
        if (!recorder.open() || !recorder.connectTo("Honest Rack")) {
            qInfo("nothing can be recorded");
            return Run::Wrong;
        }
        const Control control;
        engine.hear(1);
        engine.setScene({source, source->whole(), {test::contender(1), halving()}});
        engine.play();
        const bool right = course(engine, recorder, source, noise);
        engine.pause();
        const std::size_t xruns = (*device)->xruns();
        device->reset();
        if (right && engine.underruns() == 0)
            return Run::Good;
        const bool disturbed = recorder.isBroken() || xruns > 0 || control.wasKept();
        qInfo("heard %s; %zu underruns, %zu xruns%s%s", right ? "as it was to be" : "otherwise",
              engine.underruns(), xruns, recorder.isBroken() ? ", the recorder was late" : "",
              control.wasKept() ? ", a thread that only sleeps was kept" : "");
        return disturbed ? Run::Disturbed : Run::Wrong;
    }

    static audition::ContenderSpec halving() { return test::contender(2, {"reference:gain", {}}, {halved_db}); }

    /// The source, then the candidate, found again sample for sample, and in step: the candidate continues
    /// where the source would have been.
    static bool switches(Engine& engine, Recorder& recorder, const std::shared_ptr<const Source>& /*source*/,
                         const signal::AudioBuffer& noise)
    {
        const auto left = noise.channel(0);
        const int untreated = heardAt(engine, recorder, left.subspan(2000, 2000));
        engine.hear(2);
        const int treated = heardAt(engine, recorder, halved(left.subspan(8000, 2000)));
        return untreated >= 0 && treated > untreated &&
               (treated - untreated) % static_cast<int>(noise.frames()) == 6000;
    }

    /// The candidate goes on, without a gap, while others come, move, are replaced and go.
    static bool goesOn(Engine& engine, Recorder& recorder, const std::shared_ptr<const Source>& source,
                       const signal::AudioBuffer& noise)
    {
        const auto half = halved(noise.channel(0));
        engine.hear(2);
        const int begun = heardAt(engine, recorder, std::span(half).subspan(8000, 2000));
        if (begun < 0)
            return false;
        const auto slow = test::contender(3, test::faultyAt("slow-to-start"), {0});
        auto other = slow;
        other.generation = 2;
        for (const std::vector<audition::ContenderSpec>& contenders :
             {std::vector{test::contender(1), halving(), slow},
              {slow, halving(), test::contender(1)},
              {other, halving(), test::contender(1)},
              {halving()},
              {test::contender(4), halving(), slow}}) {
            engine.setScene({source, source->whole(), contenders});
            const auto settled = [&engine] {
                engine.applyPending();
                return engine.isSettled();
            };
            if (!QTest::qWaitFor(settled, 10000))
                return false;
        }
        (void)heardAt(engine, recorder,
                      std::span(half).subspan(8000, 2000)); // and what was last is recorded too
        const auto recorded = recorder.taken();
        for (std::size_t i = static_cast<std::size_t>(begun); i < recorded.size(); ++i)
            if (recorded[i] != half[(8000 + i - static_cast<std::size_t>(begun)) % half.size()])
                return false;
        return true;
    }

private slots:
    void initTestCase()
    {
        qputenv("JACK_NO_AUDIO_RESERVATION", "1");
        test::useOwnJackServer();
        std::thread([this] { m_may_keep_deadlines = hosting::requestRealtime(); }).join();
        startServer();
    }

    /// What another program plays, sample for sample, on both sides; and nothing is older than what is kept.
    void whatComesFromOutsideIsKept()
    {
        const auto noise = signal::gaussianNoise(0.1, 4000, 5);
        Player player(std::vector<float>(noise.begin(), noise.end()));
        QVERIFY(player.open());
        const auto inputs = audition::jackInputs();
        const audition::DeviceChoice machine{"JACK", "tide machine"};
        QVERIFY(std::ranges::find(inputs, machine) != inputs.end());
        QVERIFY(!audition::openInput({"JACK", "nobody"}).value()->start([](const float*, std::size_t) {}));
        QVERIFY(!audition::openInput({"silent", ""}));
        audition::RecentInput recent(48000, 0.5); // outlives what fills it
        auto input = audition::openInput(machine);
        HR_VERIFY(input);
        HR_VERIFY((*input)->start(
            [&](const float* interleaved, std::size_t frames) { recent.put(interleaved, frames); }));
        QTRY_VERIFY_WITH_TIMEOUT(recent.arrived() > 30000, 10000);
        const auto sound = recent.last(60);
        QCOMPARE(sound.frames(), std::size_t{24000});
        const std::vector<float> heard(sound.channel(1).begin(), sound.channel(1).end());
        const std::vector<float> needle(noise.begin() + 500, noise.begin() + 3500);
        QVERIFY(find(heard, needle) >= 0);
        QVERIFY(recent.since(recent.arrived()).frames() == 0 && recent.takePeak() > 0.1F);
    }

    /// Another program plays, we play it on through who is heard, and a third records: as late as is told.
    void whatComesInIsPlayedAsLateAsIsTold()
    {
        const auto noise = signal::gaussianNoise(0.1, 30000, 6);
        Player player(std::vector<float>(noise.begin(), noise.end()));
        QVERIFY(player.open());
        Engine engine(48000);
        const auto recent = std::make_shared<audition::RecentInput>(48000);
        const auto device = audition::openDevice({"JACK", "system"});
        const auto input = audition::openInput({"JACK", "tide machine"});
        HR_VERIFY(device);
        HR_VERIFY(input);
        HR_VERIFY((*input)->start(
            [&](const float* interleaved, std::size_t frames) { recent->put(interleaved, frames); }));
        HR_VERIFY((*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); }));
        engine.hear(1);
        engine.setScene({nullptr, {}, {test::contender(1)}, recent});
        engine.play();
        const auto plays = [&] {
            engine.applyPending();
            return engine.isSettled() && engine.audible() == 1;
        };
        QTRY_VERIFY_WITH_TIMEOUT(plays(), 10000);
        Recorder recorder; // what the other program plays on the left, what we play on the right
        QVERIFY(recorder.open() && recorder.connectTo("tide machine:out", "Honest Rack:left"));
        // Where the machine interrupts it breaks off and goes on: some stretch of a tenth of a second is whole.
        int late = -1;
        for (int again = 0; again < 10 && late < 0; ++again) {
            QTest::qWait(800);
            const auto ours = recorder.takenRight();
            auto theirs = recorder.taken();
            theirs.erase(theirs.begin(),
                         theirs.begin() + static_cast<std::ptrdiff_t>(ours.size() - noise.size()));
            const int at = find(theirs, std::span(ours).last(4800));
            late = at < 0 ? -1 : static_cast<int>(noise.size()) - 4800 - at;
        }
        const auto told = static_cast<int>(engine.liveLagFrames());
        // Which of two programs has its turn first in a period is the server's.
        QVERIFY2(late > 0 && std::abs(late - told) <= 256,
                 qPrintable(QStringLiteral("late by %1, told %2").arg(late).arg(told)));
        QVERIFY(told < 2000);                                   // usually 500
        QCOMPARE((*device)->latencyFrames(), std::size_t{512}); // of this server, two periods
        QVERIFY((*input)->latencyFrames() <= 256);
    }

    void cleanupTestCase() { stopServer(); }

    void whatIsHeardIsWhatWasToBeHeard_data()
    {
        QTest::addColumn<int>("rate_hz");
        QTest::addColumn<int>("period_frames");
        QTest::addColumn<bool>("changes");
        for (const auto& [rate_hz, period_frames] :
             {std::pair(48000, 64), {48000, 4096}, {48000, 8192}, {96000, 8192}, {192000, 1024}, {48000, 256}})
            QTest::addRow("%d Hz, %d frames", rate_hz, period_frames) << rate_hz << period_frames << false;
        QTest::addRow("through every change of the others") << 48000 << 4096 << true;
    }
    void whatIsHeardIsWhatWasToBeHeard()
    {
        QFETCH(const int, rate_hz);
        QFETCH(const int, period_frames);
        QFETCH(const bool, changes);
        startServer(rate_hz, period_frames);
        // Noise: every stretch is found in one place only. Of a length that no whole periods make up.
        const auto noise = signal::onChannels(signal::gaussianNoise(0.1, 16421, 1), 2, rate_hz);
        // A machine too busy to keep time loses whole periods, of the server or of the recorder, and both
        // notice: such a run proves nothing and is repeated.
        Run run = Run::Disturbed;
        for (int tries = 0; tries < 16 && run == Run::Disturbed; ++tries) {
            if (tries == 8)
                startServer(rate_hz, period_frames, false); // its clock is late, but it forgives more
            run = play(noise, changes ? goesOn : switches);
        }
        if (run == Run::Disturbed)
            QSKIP(
                "the server or the recorder was late in every run: this machine is too busy for such periods");
        QVERIFY(run == Run::Good);
    }

    void aCallbackThatComesTooLateIsCounted()
    {
        startServer(48000, 256, false); // which leaves it to us to keep real time
        auto device = audition::openDevice({"JACK", ""});
        HR_VERIFY(device);
        std::atomic<bool> late{false};
        std::atomic<int> policy{-1};
        HR_VERIFY((*device)->start([&](float*, std::size_t) {
            policy = sched_getscheduler(0);
            if (late.exchange(false))
                std::this_thread::sleep_for(std::chrono::milliseconds(100)); // a test's callback may wait
        }));
        QTest::qWait(200);
        if (m_may_keep_deadlines)
            QCOMPARE(policy.load(), SCHED_RR);
        const std::size_t before = (*device)->xruns();
        late = true;
        QTRY_VERIFY((*device)->xruns() > before);
    }

    void aServerThatDiesIsNoticed()
    {
        auto device = audition::openDevice({"JACK", ""});
        HR_VERIFY(device);
        Engine engine(48000);
        std::atomic<int> told{0};
        HR_VERIFY((*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); },
                                   [&told] { ++told; }));
        QVERIFY((*device)->isAlive());
        killServer();
        QTRY_COMPARE_WITH_TIMEOUT(told.load(), 1, 10000);
        QVERIFY(!(*device)->isAlive());
        device->reset(); // and letting go of it does not hang
        const auto gone = audition::openDevice({"JACK", ""});
        QVERIFY(!gone);
        QCOMPARE(gone.error().blame, Blame::Machine);
    }

    void aDeadClientIsClosedBeforeTheNextIsOpened_data()
    {
        QTest::addColumn<bool>("started");
        QTest::newRow("that played") << true;
        QTest::newRow("that was never started") << false;
    }
    void aDeadClientIsClosedBeforeTheNextIsOpened()
    {
        QFETCH(const bool, started);
        startServer();
        auto device = audition::openDevice({"JACK", ""});
        HR_VERIFY(device);
        const auto silence = [](float* out, std::size_t frames) { std::fill_n(out, 2 * frames, 0.0F); };
        if (started)
            HR_VERIFY((*device)->start(silence));
        killServer();
        QTRY_VERIFY_WITH_TIMEOUT(!(*device)->isAlive(), 10000);
        QVERIFY(started || !(*device)->start(silence)); // too late for that
        m_server->start(m_server->program(), m_server->arguments());
        QVERIFY(m_server->waitForStarted(5000));
        std::atomic<bool> held{true};
        std::atomic<bool> too_early{false};
        bool opened = false;
        std::thread opener([&] {
            for (int tries = 0; tries < 100 && !opened; ++tries) { // until the server answers
                opened = audition::openDevice({"JACK", ""}).has_value();
                too_early = too_early || (opened && held);
                QTest::qSleep(50);
            }
        });
        QTest::qWait(500);
        held = false;
        device->reset();
        opener.join();
        QVERIFY(opened);
        QVERIFY(!too_early);
    }

    void theSilentDeviceKeepsTime()
    {
        auto device = audition::openDevice({"silent", ""});
        HR_VERIFY(device);
        std::atomic<std::size_t> frames{0};
        HR_VERIFY((*device)->start([&](float*, std::size_t count) { frames += count; }));
        QTest::qWait(1000);
        device->reset();
        HR_NEAR(static_cast<double>(frames.load()), 48000, 9600);
        QVERIFY(!audition::openDevice({"gramophone", ""}));
        QCOMPARE(audition::availableDevices().back().system, std::string("silent"));
    }
};

HR_TEST(tst_jack)
#include "tst_jack.moc"
