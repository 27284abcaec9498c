// SPDX-License-Identifier: GPL-3.0-or-later
//
// Echoes and decay, against delays and reverbs with known answers.
#include "support/fixtures.h"

#include <cmath>

using namespace hr;

class tst_time : public QObject {
    Q_OBJECT

private slots:
    void insideAChainItIsToldTheTempoAsWell()
    {
        const auto chain =
            test::chainOf(R"([{"id":"d","processor":"lv2:urn:honest-rack:specimens:double-quay"}])",
                          R"([{"from":"in","to":"d"},{"from":"d","to":"out"}])");
        bench::Conditions conditions;
        conditions.tempo_bpm = 150;
        const auto reading =
            test::readingOf("echoes", chain, {{"d.beat", 3}, {"d.blend_percent", 100}}, conditions);
        HR_VERIFY(reading);
        HR_NEAR(reading->figures.at("echoes").at(0).at("time_ms").get<double>(), 400, 0.03);
    }

    void whatFollowsTheTempoIsToldIt_data()
    {
        QTest::addColumn<double>("tempo_bpm");
        QTest::addColumn<double>("repeat_ms");
        QTest::newRow("told none: its own") << 0.0 << 375.0;
        QTest::newRow("slow") << 72.0 << 625.0;
        QTest::newRow("quick") << 180.0 << 250.0;
    }
    void whatFollowsTheTempoIsToldIt()
    {
        QFETCH(const double, tempo_bpm);
        QFETCH(const double, repeat_ms);
        bench::Conditions conditions;
        if (tempo_bpm > 0)
            conditions.tempo_bpm = tempo_bpm;
        const auto reading =
            test::readingOf("echoes", test::specimenAt("double-quay"),
                            {{"beat", 2}, {"blend_percent", 100}, {"feedback_percent", 60}}, conditions);
        HR_VERIFY(reading);
        HR_NEAR(reading->figures.at("echoes").at(0).at("time_ms").get<double>(), repeat_ms, 0.03);
        if (tempo_bpm > 0)
            QCOMPARE(reading->figures.at("division").get<std::string>(), std::string("1/8."));
    }

    void echoesAreWhereTheyAreSet_data()
    {
        QTest::addColumn<double>("delay_ms");
        QTest::addColumn<double>("feedback_db");
        QTest::addColumn<double>("dry_percent");
        QTest::addColumn<double>("rate_hz");
        QTest::newRow("a quarter of a second") << 250.0 << -6.0 << 0.0 << 48000.0;
        QTest::newRow("1 ms") << 1.0 << -3.0 << 0.0 << 48000.0;
        QTest::newRow("with the sound itself") << 333.0 << -12.0 << 100.0 << 44100.0;
        QTest::newRow("a single repeat") << 120.0 << -45.0 << 0.0 << 96000.0;
        QTest::newRow("4 s") << 4000.0 << -10.0 << 50.0 << 48000.0;
    }
    void echoesAreWhereTheyAreSet()
    {
        QFETCH(const double, delay_ms);
        QFETCH(const double, feedback_db);
        QFETCH(const double, dry_percent);
        QFETCH(const double, rate_hz);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        const auto reading = test::readingOf(
            "echoes", "feedback-delay",
            {{"delay_ms", delay_ms}, {"feedback_db", feedback_db}, {"dry_percent", dry_percent}}, conditions);
        HR_VERIFY(reading);
        const auto& echoes = reading->figures.at("echoes");
        QVERIFY(echoes.size() >= 2);
        const double sample_ms = 1000 / rate_hz;
        for (std::size_t n = 0; n < 2; ++n) {
            HR_NEAR(echoes[n]["time_ms"].get<double>(), static_cast<double>(n + 1) * delay_ms, sample_ms);
            HR_NEAR(echoes[n]["level_db"].get<double>(), static_cast<double>(n) * feedback_db, 0.05);
        }
        HR_NEAR(*reading->number("repeat_ms"), delay_ms, sample_ms);
        HR_NEAR(*reading->number("feedback_db"), feedback_db, 0.05);
    }

    void aRepeatHasItsNoteValue()
    {
        bench::Conditions conditions;
        conditions.tempo_bpm = 90;
        const auto reading = test::readingOf("echoes", "feedback-delay", {{"delay_ms", 500}}, conditions);
        HR_VERIFY(reading);
        QCOMPARE(reading->figures.at("division").get<std::string>(), std::string("1/8."));
    }

    /// From side to side, in a worker, at its defaults: 45 % of each echo comes back.
    void aPlugInIsReadAsAReferenceIs()
    {
        const auto reading = test::readingOf("echoes", test::specimenAt("double-quay"));
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("repeat_ms"), 250, 0.021);
        HR_NEAR(*reading->number("feedback_db"), 20 * std::log10(0.45), 0.05);
    }

    void whatIsNotEchoedHasNoEchoes_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QString>("why");
        const char* none = "nothing comes later than the sound itself";
        const char* dense = "what comes later runs together: it has no distinct echoes";
        QTest::newRow("gain") << "gain" << none;
        QTest::newRow("late") << "added-latency" << none;
        QTest::newRow("compressor") << "compressor" << none;
        QTest::newRow("ringing filter") << "peak-filter" << dense;
        QTest::newRow("reverb") << "noise-reverb" << dense;
    }
    void whatIsNotEchoedHasNoEchoes()
    {
        QFETCH(const QString, id);
        QFETCH(const QString, why);
        std::vector<processors::Setting> settings;
        if (id == QStringLiteral("peak-filter"))
            settings = {{"q", 20}, {"gain_db", 20}};
        if (id == QStringLiteral("added-latency"))
            settings = {{"reported", 0}};
        const auto reading = test::readingOf("echoes", qPrintable(id), settings);
        HR_VERIFY(reading);
        QVERIFY(reading->figures.at("echoes").empty());
        QCOMPARE(QString::fromStdString(reading->reasons.at("repeat_ms")), why);
    }

    void aReverbDecaysAsItIsSet_data()
    {
        QTest::addColumn<double>("rt60_s");
        QTest::addColumn<double>("predelay_ms");
        QTest::addColumn<double>("rate_hz");
        QTest::newRow("short") << 0.1 << 0.0 << 48000.0;
        QTest::newRow("room") << 0.4 << 12.0 << 44100.0;
        QTest::newRow("hall") << 2.2 << 120.0 << 48000.0;
        QTest::newRow("long") << 8.0 << 20.0 << 16000.0;
    }
    void aReverbDecaysAsItIsSet()
    {
        QFETCH(const double, rt60_s);
        QFETCH(const double, predelay_ms);
        QFETCH(const double, rate_hz);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        const auto reading = test::readingOf("decay", "noise-reverb",
                                             {{"rt60_s", rt60_s}, {"predelay_ms", predelay_ms}}, conditions);
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("rt60_s"), rt60_s, 0.015 * rt60_s);
        HR_NEAR(*reading->number("edt_s"), rt60_s, 0.03 * rt60_s);
        HR_NEAR(*reading->number("predelay_ms"), predelay_ms, 1000 / rate_hz);
        QVERIFY(*reading->number("echo_density") < predelay_ms + 200);
        QVERIFY(reading->flags.empty());
        for (const auto& [frequency_hz, band_s] : reading->series.at("rt60").points)
            HR_NEAR(band_s, rt60_s, 0.25 * rt60_s);
    }

    /// The reverb lies 20 dB below the sound that goes past it.
    void theSoundItselfIsNotPartOfTheReverb()
    {
        const auto chain = test::chainOf(
            R"([{"id":"b","kind":"branch"},{"id":"r","processor":"reference:noise-reverb"},{"id":"s","kind":"sum"}])",
            R"([{"from":"in","to":"b"},{"from":"in","to":"r"},{"from":"b","to":"s"},{"from":"r","to":"s"},{"from":"s","to":"out"}])");
        for (const double trim_db : {-20.0, 0.0}) {
            const auto reading = test::readingOf(
                "decay", chain, {{"r.rt60_s", 1}, {"r.predelay_ms", 30}, {"r:trim_db", trim_db}});
            HR_VERIFY(reading);
            HR_NEAR(*reading->number("rt60_s"), 1, 0.015);
            HR_NEAR(*reading->number("predelay_ms"), 30, 0.021);
        }
    }

    void whatDoesNotReverberateHasNoDecay()
    {
        for (const char* id : {"gain", "high-pass", "peak-filter", "compressor", "hard-clip"}) {
            const auto reading = test::readingOf("decay", id);
            HR_VERIFY(reading);
            QVERIFY2(!reading->number("rt60_s") && !reading->number("predelay_ms"), id);
        }
        const auto echoes = test::readingOf("decay", "feedback-delay");
        HR_VERIFY(echoes);
        QCOMPARE(echoes->flags.front().code, std::string("uneven-decay"));
    }
};

HR_TEST(tst_time)
#include "tst_time.moc"
