// SPDX-License-Identifier: GPL-3.0-or-later
//
// The audio callback at every rate and period: what it is supplied with, what it tells, and when it rests.
#include "audition/played_noise.h"

using namespace hr;
using audition::TapBlock;
using audition::TapPoint;
using test::contender;
using test::DrivenEngine;
using test::late;
using test::noiseSource;

class tst_callback : public test::PlayedNoise {
    Q_OBJECT

private slots:
    void whateverTheRateAndThePeriodNothingRunsDry_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<std::size_t>("period");
        for (const double rate_hz : {44100.0, 96000.0, 192000.0})
            for (const std::size_t period : {64, 1024, 4096, 8192})
                QTest::addRow("%.0f Hz, %zu frames", rate_hz, period) << rate_hz << period;
    }
    void whateverTheRateAndThePeriodNothingRunsDry()
    {
        QFETCH(const double, rate_hz);
        QFETCH(const std::size_t, period);
        DrivenEngine driven(rate_hz);
        const auto source = noiseSource(1, 50000, rate_hz);
        const auto sound = test::soundOf(*source);
        QVERIFY(driven.begin(source, {contender(1), contender(2, {"reference:added-latency", {}}, {500, 1})}));
        driven.engine.hear(2);
        (void)driven.pull(8 * period + 8000, period);
        const std::size_t before = driven.engine.underruns();
        const auto out = driven.pull(4 * period + 20000, period);
        QCOMPARE(driven.engine.underruns(), before);
        QVERIFY(before <= 1); // how much the device takes is not known before its first turn
        const std::size_t end = driven.engine.position();
        for (std::size_t i = 0; i < out.size() / 2; ++i)
            HR_NEAR(out[out.size() - 2 - 2 * i], sound.channel(0)[(end + 3 * 50000 - 1 - i - late) % 50000],
                    1e-6);
    }

    void nothingPollsWhilePaused()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1), gain(2, -6), slow(3)}));
        (void)driven.pull(4800);
        driven.engine.pause();
        (void)driven.pull(4800);
        QTest::qSleep(100);
        const auto switches = [] { // of all threads: each waking up from a sleep is one
            long sum = 0;
            for (const auto& entry : std::filesystem::directory_iterator("/proc/self/task")) {
                std::ifstream status(entry.path() / "status");
                for (std::string line; std::getline(status, line);)
                    if (line.starts_with("voluntary_ctxt_switches:"))
                        sum += std::stol(line.substr(24));
            }
            return sum;
        };
        const long before = switches();
        QTest::qSleep(1000);
        QVERIFY2(switches() - before < 20, qPrintable(QString::number(switches() - before)));
        // What is turned meanwhile is heard from the first frame on that is rendered after it.
        for (int turn = 0; turn <= 100000; ++turn) // nor does it pile up
            driven.engine.setParameter(2, 0, -12.0 - turn % 10);
        driven.engine.hear(2);
        driven.engine.play();
        (void)driven.pull(9600);
        playsTheNoise(driven, -12, "turned while paused");
    }

    void tapsTellWhatGoesInAndComesOut()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise,
                             {contender(1), contender(2, {"reference:added-latency", {}}, {64, 0}, -6.0)}));
        driven.engine.hear(2);
        const auto in = driven.engine.listen(TapPoint::Input, 2, 4096);
        const auto out = driven.engine.listen(TapPoint::Output, 2, 4096);
        const auto also_out = driven.engine.listen(TapPoint::Output, 2, 4); // reads nothing, loses most
        const auto matched = driven.engine.listen(TapPoint::Matched, 2, 4096);
        const auto sum = driven.engine.listen(TapPoint::Sum, audition::no_contender, 4096);
        (void)driven.pull(30000);
        driven.engine.seek(10000);
        QVERIFY(!driven.pullThrough(30000).empty());
        TapBlock block;
        for (const auto& [reader, level_db] : {std::pair(in, 0.0), {out, 0.0}, {matched, -6.0}}) {
            std::size_t frames = 0;
            while (reader->take(block)) {
                QCOMPARE(block.contender, audition::ContenderId{2});
                for (std::size_t i = 0; i < block.frames; ++i)
                    HR_NEAR(block.right[i],
                            signal::dbToLinear(level_db) * m_sound.channel(1)[(block.source_frame + i) % 48000],
                            1e-6);
                frames += block.frames;
            }
            QVERIFY(frames >= 60000 && reader->lost() == 0);
        }
        QVERIFY(also_out->lost() > 0);
        std::size_t agreeing = 0;
        std::size_t heard = 0;
        while (sum->take(block))
            for (std::size_t i = 0; i < block.frames; ++i, ++heard)
                agreeing +=
                    std::abs(block.left[i] - signal::dbToLinear(-6) *
                                                 m_sound.channel(0)[(block.source_frame + i) % 48000]) < 1e-6;
        QVERIFY(heard >= 60000);
        QVERIFY2(heard - agreeing < 2500, qPrintable(QString::number(heard - agreeing))); // the fades
    }

    void aReaderThatIsLetGoOfMakesRoomForAnother()
    {
        DrivenEngine driven;
        QVERIFY(driven.begin(m_noise, {contender(1)}));
        for (int i = 0; i < 50; ++i) {
            const auto reader = driven.engine.listen(TapPoint::Sum);
            QVERIFY(reader);
            (void)driven.pull(512);
            TapBlock block;
            QVERIFY(reader->take(block));
        }
    }
};

HR_TEST(tst_callback)
#include "tst_callback.moc"
