// SPDX-License-Identifier: GPL-3.0-or-later
//
// What another program plays at a real JACK server, heard live through the line-up.
#include "app/workbench.h"
#include "audition/jack_programs.h"
#include "signal/generators.h"

#include <QProcess>

using namespace hr;
using namespace hr::app;

class tst_live_play : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    QProcess m_server;
    std::unique_ptr<test::Player> m_player;
    std::unique_ptr<test::Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    LineUp& lineUp() const { return desk().line_up; }

    void watchThePlayer() const
    {
        desk().outside.watch({"JACK", "tide machine"}, desk().transport.rateHz());
        QTRY_VERIFY_WITH_TIMEOUT(desk().outside.isWatching(), 10000);
    }

private slots:
    void init()
    {
        test::useOwnJackServer();
        m_server.start(QStringLiteral("jackd"),
                       {QStringLiteral("-r"), QStringLiteral("-d"), QStringLiteral("dummy"),
                        QStringLiteral("-r"), QStringLiteral("48000")});
        QVERIFY2(m_server.waitForStarted(5000), "jackd is not installed");
        QTRY_VERIFY_WITH_TIMEOUT(audition::openDevice({"JACK", ""}).has_value(), 15000);
        const auto noise = signal::gaussianNoise(0.05, 48000, 9);
        m_player = std::make_unique<test::Player>(std::vector<float>(noise.begin(), noise.end()));
        QVERIFY(m_player->open());
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        desk().output.choose({"JACK", "system"});
        QTRY_COMPARE_WITH_TIMEOUT(desk().output.inUse().system, std::string("JACK"), 10000);
        lineUp().clear();
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanup()
    {
        m_bench.reset();
        m_player.reset();
        m_server.kill();
        m_server.waitForFinished(5000);
        test::forgetKilledJackServer();
    }

    void everybodyIsMatchedByWhatIsPlayed()
    {
        lineUp().add(QStringLiteral("reference:gain"), {{"gain_db", 8}});
        QVERIFY(m_bench->matched());
        m_bench->press(Qt::Key_I, Qt::ShiftModifier);
        QVERIFY(m_bench->says(QStringLiteral("No input is watched")));
        watchThePlayer();
        m_bench->press(Qt::Key_I, Qt::ShiftModifier);
        QVERIFY(desk().live_play.isOn() && desk().transport.isPlaying());
        QTRY_VERIFY_WITH_TIMEOUT(desk().live_play.isMatched(), 20000);
        HR_NEAR(m_bench->at(1).gain_db - m_bench->at(0).gain_db, -8, 0.1);
        HR_NEAR(*m_bench->at(0).loudnessLufs(), -19.4,
                0.6); // white noise of -26 dBFS on both sides, K-weighted
        // One that comes later is matched by what it has heard itself.
        lineUp().add(QStringLiteral("reference:added-latency"), {{"latency_samples", 480}, {"reported", 1}});
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->candidates() == 2 && desk().live_play.isMatched(), 20000);
        HR_NEAR(m_bench->at(2).gain_db, m_bench->at(0).gain_db, 0.1);
        lineUp().hear(m_bench->idAt(2));
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), m_bench->idAt(2), 10000);
        const auto latency = desk().live_play.latency();
        HR_NEAR(latency.processor_ms, 10, 0.01);
        QVERIFY(latency.rack_ms > 0 && latency.rack_ms < 250 && latency.all_ms > latency.rack_ms + 10);
        QVERIFY(m_bench->says(QStringLiteral("ms late")));
        // Nothing is tried blind by what is never the same twice.
        QVERIFY(desk()
                    .trials.abx.disabledReason(m_bench->idAt(1), LineUp::untreated)
                    .contains(QStringLiteral("live")));
    }

    void aSourceThatIsChosenIsHeardInstead()
    {
        watchThePlayer();
        desk().live_play.toggle();
        QVERIFY(desk().live_play.isOn());
        desk().source_notes.step(1);
        QTRY_VERIFY(!desk().live_play.isOn());
        QVERIFY(!m_bench->at(0).live_loop);
        desk().live_play.toggle();
        QVERIFY(desk().live_play.isOn());
        desk().outside.stop();
        QVERIFY(!desk().live_play.isOn());
    }

    void anotherRateOrNoServerEndsIt()
    {
        watchThePlayer();
        desk().live_play.toggle();
        desk().live_play.toggle();
        QVERIFY(!desk().live_play.isOn());
        desk().live_play.toggle();
        m_server.kill();
        QVERIFY(m_bench->says(QStringLiteral("has gone")));
        // The silent device keeps time; nothing comes in any more, and the window goes on.
        m_bench->press(Qt::Key_I, Qt::ShiftModifier);
        QVERIFY(!desk().live_play.isOn());
    }
};

HR_TEST(tst_live_play)
#include "tst_live_play.moc"
