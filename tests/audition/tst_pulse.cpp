// SPDX-License-Identifier: GPL-3.0-or-later
//
// A real PulseAudio server with a sink that nobody hears: what is heard, captured there; its end; and ALSA,
// whose default here leads to the same server.
#include "audition/driven_engine.h"
#include "audition/input_device.h"
#include "audition/output_device.h"
#include "audition/recent_input.h"
#include "signal/generators.h"

#include <QElapsedTimer>
#include <QProcess>
#include <csignal>

using namespace hr;
using audition::Engine;
using audition::OutputDevice;
using audition::Source;

class tst_pulse : public QObject {
    Q_OBJECT

    QTemporaryDir m_directory;
    std::unique_ptr<QProcess> m_server;

    /// Opened and playing through `engine`.
    static std::unique_ptr<OutputDevice> started(const char* system, Engine& engine)
    {
        auto device = audition::openDevice({system, ""});
        if (!device || !(*device)->start([&](float* out, std::size_t frames) { engine.render(out, frames); }))
            return nullptr;
        return std::move(*device);
    }

private slots:
    void initTestCase()
    {
        QFile config(m_directory.filePath(QStringLiteral("asound.conf")));
        QVERIFY(config.open(QIODevice::WriteOnly));
        config.write("</usr/share/alsa/alsa.conf>\npcm.!default { type pulse }\nctl.!default { type pulse }\n");
        qputenv("ALSA_CONFIG_PATH", config.fileName().toLocal8Bit());
    }

    void init()
    {
        const QString own = m_directory.filePath(QString::fromLatin1(QTest::currentTestFunction()));
        QVERIFY(QDir().mkpath(own)); // one that was killed leaves its socket
        const QString socket = own + QStringLiteral("/socket");
        qputenv("PULSE_SERVER", "unix:" + socket.toLocal8Bit());
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(QStringLiteral("HOME"), own);
        environment.insert(QStringLiteral("XDG_RUNTIME_DIR"), own);
        m_server = std::make_unique<QProcess>();
        m_server->setProcessEnvironment(environment);
        m_server->start(
            QStringLiteral("pulseaudio"),
            {QStringLiteral("-n"), QStringLiteral("--exit-idle-time=-1"), QStringLiteral("--daemonize=no"),
             QStringLiteral("--load=module-null-sink sink_name=unheard rate=48000 format=float32le"),
             QStringLiteral("--load=module-native-protocol-unix auth-anonymous=1 socket=") + socket});
        QVERIFY2(m_server->waitForStarted(5000), "pulseaudio is not installed");
        QTRY_VERIFY_WITH_TIMEOUT(audition::openDevice({"PulseAudio", ""}).has_value(), 15000);
    }

    void cleanup()
    {
        ::kill(static_cast<pid_t>(m_server->processId()), SIGCONT);
        m_server->kill();
        m_server->waitForFinished(5000);
    }

    void cleanupTestCase()
    {
        qunsetenv("ALSA_CONFIG_PATH");
        qunsetenv("PULSE_SERVER");
    }

    void whatIsHeardIsWhatWasToBeHeard_data()
    {
        QTest::addColumn<QByteArray>("system");
        QTest::addRow("PulseAudio") << QByteArray("PulseAudio");
        QTest::addRow("ALSA") << QByteArray("ALSA");
    }

    void whatIsHeardIsWhatWasToBeHeard()
    {
        QFETCH(const QByteArray, system);
        Engine engine(48000);
        const auto device = started(system.constData(), engine);
        QVERIFY(device);
        QCOMPARE(device->choice().system, system.toStdString());
        QCOMPARE(device->rateHz(), 48000.0);
        const auto offered = audition::availableDevices();
        QVERIFY(std::ranges::find(offered, device->choice()) != offered.end());

        QProcess recorder;
        recorder.start(QStringLiteral("parec"),
                       {QStringLiteral("--device=unheard.monitor"), QStringLiteral("--format=float32le"),
                        QStringLiteral("--rate=48000"), QStringLiteral("--channels=1"),
                        QStringLiteral("--raw")});
        QVERIFY(recorder.waitForStarted(5000));
        const auto noise = signal::onChannels(signal::gaussianNoise(0.1, 48000, 1), 2, 48000);
        const auto source = std::make_shared<Source>(noise);
        engine.hear(1);
        engine.setScene({source, source->whole(), {test::contender(1)}});
        engine.play();
        QByteArray heard;
        // A stretch that lies on either side of the repeat, so that the loop is heard to join as well.
        const auto channel = std::as_const(noise).channel(0);
        std::vector<float> wanted(channel.end() - 1000, channel.end());
        wanted.insert(wanted.end(), channel.begin(), channel.begin() + 1000);
        const QByteArray needle(reinterpret_cast<const char*>(wanted.data()),
                                static_cast<qsizetype>(wanted.size() * sizeof(float)));
        QTRY_VERIFY_WITH_TIMEOUT(
            (engine.applyPending(), heard += recorder.readAllStandardOutput(), heard.contains(needle)), 20000);
        recorder.kill();
        recorder.waitForFinished(5000);
    }

    void aServerThatDiesIsNoticed_data() { whatIsHeardIsWhatWasToBeHeard_data(); }

    void aServerThatDiesIsNoticed()
    {
        QFETCH(const QByteArray, system);
        std::atomic<std::size_t> frames{0};
        auto device = audition::openDevice({system.toStdString(), ""});
        HR_VERIFY(device);
        std::atomic<int> told{0};
        HR_VERIFY((*device)->start(
            [&](float* out, std::size_t count) {
                std::fill_n(out, 2 * count, 0.0F);
                frames += count;
            },
            [&told] { ++told; }));
        QTRY_VERIFY_WITH_TIMEOUT(frames > 4800, 10000);
        QVERIFY((*device)->isAlive());
        m_server->kill();
        m_server->waitForFinished(5000);
        QTRY_COMPARE_WITH_TIMEOUT(told.load(), 1, 10000);
        QVERIFY(!(*device)->isAlive());
        const std::size_t at_its_end = frames;
        QTest::qWait(100);
        QCOMPARE(frames.load(), at_its_end); // time does not run away
        device->reset();
        const auto gone = audition::openDevice({system.toStdString(), ""});
        QVERIFY(!gone);
        QCOMPARE(gone.error().blame, Blame::Machine);
    }

    void aServerThatStandsStillKeepsNobody()
    {
        Engine engine(48000);
        auto device = started("PulseAudio", engine);
        QVERIFY(device);
        ::kill(static_cast<pid_t>(m_server->processId()), SIGSTOP);
        QElapsedTimer clock;
        clock.start();
        device.reset();
        QVERIFY(!audition::openDevice({"PulseAudio", ""}));
        QVERIFY2(clock.elapsed() < 10000, qPrintable(QString::number(clock.elapsed())));
    }

    /// What a sink plays is among the inputs.
    void whatOthersPlayIsKept_data() { whatIsHeardIsWhatWasToBeHeard_data(); }
    void whatOthersPlayIsKept()
    {
        QFETCH(const QByteArray, system);
        const auto source =
            std::make_shared<Source>(signal::onChannels(signal::sine(1000, 0.25, 48000, 48000), 2, 48000));
        Engine engine(48000);
        engine.setScene({source, source->whole(), {{1, 1, {}, {}, 0.0}}});
        engine.hear(1);
        engine.play();
        const auto device = started("PulseAudio", engine);
        QVERIFY(device);
        const auto inputs = audition::availableInputs();
        const auto offered = std::ranges::find(inputs, system.toStdString(), &audition::DeviceChoice::system);
        QVERIFY(offered != inputs.end());
        audition::RecentInput recent(44100);               // outlives what fills it
        auto input = audition::openInput(*offered, 44100); // which the server converts to
        HR_VERIFY(input);
        QCOMPARE((*input)->rateHz(), 44100.0);
        HR_VERIFY((*input)->start(
            [&](const float* interleaved, std::size_t frames) { recent.put(interleaved, frames); }));
        std::size_t loud_from = 0;
        const auto a_second_was_loud = [&] {
            engine.applyPending();
            if (loud_from == 0 && recent.takePeak() > 0.2F)
                loud_from = recent.arrived();
            return loud_from > 0 && recent.arrived() > loud_from + 44100;
        };
        QTRY_VERIFY_WITH_TIMEOUT(a_second_was_loud(), 10000);
        QVERIFY(recent.last(0.2).frames() == 8820);
        // Half a second of the tone, in tune, whatever the machine lost of it: at 48 kHz it would be 459.
        const auto heard = recent.last(0.5);
        double turns = 0;
        for (std::size_t i = 1; i < heard.frames(); ++i)
            turns += (heard.channel(0)[i - 1] < 0) != (heard.channel(0)[i] < 0) ? 0.5 : 0;
        HR_NEAR(turns, 500, 20);
        QVERIFY((*input)->latencyFrames() < 44100);
        QVERIFY(device->latencyFrames() > 0 && device->latencyFrames() < 48000);
        QVERIFY(!audition::openInput({system.toStdString(), "nobody"}));
    }
};

HR_TEST(tst_pulse)
#include "tst_pulse.moc"
