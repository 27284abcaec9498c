// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whole measurements of processors whose answers are known, and of some that are awkward.
#include "bench/transfer.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;
using processors::Setting;

namespace {

hosting::FaultOr<bench::Reading> transfer(const std::string& id, const std::vector<Setting>& settings,
                                          double rate_hz = 48000)
{
    const auto values = processors::resolveSettings(processors::makeReference(id)->info(), {}, settings);
    bench::Conditions conditions;
    conditions.sample_rate_hz = rate_hz;
    auto subject = bench::Subject::open({id, {}}, *values, conditions);
    return subject ? bench::measureTransfer(*subject) : tl::make_unexpected(subject.error());
}

std::string kindOf(const bench::Reading& reading)
{
    return reading.figures.at("kind").get<std::string>();
}

} // namespace

class tst_transfer : public QObject {
    Q_OBJECT

private slots:
    void compressors_data()
    {
        QTest::addColumn<double>("threshold_db");
        QTest::addColumn<double>("ratio");
        QTest::addColumn<double>("knee_db");
        QTest::addColumn<double>("makeup_db");
        QTest::addColumn<double>("release_ms");
        QTest::addColumn<double>("rate_hz");
        QTest::newRow("4:1") << -24.0 << 4.0 << 6.0 << 0.0 << 100.0 << 48000.0;
        QTest::newRow("hard 10:1, made up") << -30.0 << 10.0 << 0.0 << 5.0 << 50.0 << 44100.0;
        QTest::newRow("slow") << -40.0 << 2.0 << 20.0 << 0.0 << 3000.0 << 96000.0;
    }
    void compressors()
    {
        QFETCH(double, threshold_db);
        QFETCH(double, ratio);
        QFETCH(double, knee_db);
        QFETCH(double, makeup_db);
        QFETCH(double, release_ms);
        QFETCH(double, rate_hz);
        const auto reading = transfer("reference:compressor",
                                      {{"threshold_db", threshold_db},
                                       {"ratio", ratio},
                                       {"knee_db", knee_db},
                                       {"makeup_db", makeup_db},
                                       {"attack_ms", 40},
                                       {"release_ms", release_ms}},
                                      rate_hz);
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("compressor"));
        HR_NEAR(*reading->number("threshold_db"), threshold_db, 0.2);
        HR_NEAR(*reading->number("ratio"), ratio, 0.02 * ratio);
        HR_NEAR(*reading->number("knee_db"), knee_db, 1);
        HR_NEAR(*reading->number("makeup_db"), makeup_db, 0.2);
    }

    /// What hisses as loud as the quietest tone does not keep a step waiting for ten seconds each.
    void whatHissesIsLinearAllTheSame()
    {
        const auto reading = transfer("reference:added-noise", {{"noise_dbfs", -60}});
        HR_VERIFY(reading);
        QVERIFY2(reading->conditions.contains("held_s"), reading->conditions.dump().c_str());
        QCOMPARE(kindOf(*reading), std::string("linear"));
        HR_NEAR(*reading->number("makeup_db"), 0, 0.2);
        QVERIFY(!reading->number("range_db")); // there is none, and it says why
    }

    /// A loud make-up, a wide knee, one that begins below what is tried: the model that fits is the one that is
    /// there.
    void theNeutralPartIsNotTakenForTheOther_data()
    {
        QTest::addColumn<double>("makeup_db");
        QTest::addColumn<double>("knee_db");
        QTest::newRow("loud make-up") << 15.0 << 6.0;
        QTest::newRow("turned down") << -18.0 << 0.0;
        QTest::newRow("wide knee") << 0.0 << 24.0;
        QTest::newRow("both") << 20.0 << 24.0;
    }
    void theNeutralPartIsNotTakenForTheOther()
    {
        QFETCH(const double, makeup_db);
        QFETCH(const double, knee_db);
        const auto reading =
            transfer("reference:compressor",
                     {{"threshold_db", -28}, {"ratio", 3}, {"knee_db", knee_db}, {"makeup_db", makeup_db}});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("compressor"));
        HR_NEAR(*reading->number("threshold_db"), -28, 0.1);
        HR_NEAR(*reading->number("ratio"), 3, 0.03);
        HR_NEAR(*reading->number("knee_db"), knee_db, 0.5);
        HR_NEAR(*reading->number("makeup_db"), makeup_db, 0.1);
        QVERIFY(reading->flags.empty());
    }

    void stepsOfTheWaveformAreSaturation()
    {
        const auto reading = transfer("reference:reduction", {{"bits", 6}});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("saturating"));
    }

    /// What a held gain leaves behind after a loud tone is not the answer to a quiet one.
    void aLongHoldDoesNotReachIntoTheNextRun()
    {
        const auto reading =
            transfer("reference:compressor",
                     {{"threshold_db", -30}, {"attack_ms", 400}, {"hold_ms", 1000}, {"release_ms", 5000}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("threshold_db"), -30, 0.2);
    }

    void aGateIsBisected()
    {
        const auto reading = transfer("reference:gate", {{"threshold_db", -33.3}, {"range_db", 12}});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("gate"));
        HR_NEAR(*reading->number("threshold_db"), -33.3, 0.2);
        HR_NEAR(*reading->number("range_db"), 12, 0.2);
        QVERIFY(!reading->number("ratio") && !reading->reasons.at("ratio").empty());
    }

    void bendingTheWaveformIsNoCompression_data()
    {
        QTest::addColumn<QString>("id");
        QTest::newRow("hard") << "reference:hard-clip";
        QTest::newRow("cubic") << "reference:cubic-clip";
    }
    void bendingTheWaveformIsNoCompression()
    {
        QFETCH(QString, id);
        const auto reading = transfer(id.toStdString(), {{"clip_dbfs", -9}});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("saturating"));
        HR_NEAR(*reading->number("clip_level_dbfs"), -9, 0.05);
        HR_NEAR(*reading->number("symmetry_db"), 0, 0.01);
        QVERIFY(!reading->number("threshold_db") && !reading->number("ratio"));
    }

    void aLopsidedCurveBehindADcFilterIsStillSaturation()
    {
        auto instance = hosting::openInstance(test::specimenAt("lantern-saturator"));
        HR_VERIFY(instance);
        const auto values =
            processors::resolveSettings((*instance)->info(), {}, {{"drive_db", 12}, {"colour_percent", 60}});
        auto subject = bench::Subject::open(test::specimenAt("lantern-saturator"), *values, {});
        HR_VERIFY(subject);
        const auto reading = bench::measureTransfer(*subject);
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("saturating"));
    }

    void whatTakesItsTimeIsStillLinear_data()
    {
        QTest::addColumn<QString>("id");
        QTest::newRow("gain") << "reference:gain";
        QTest::newRow("echoes") << "reference:feedback-delay";
        QTest::newRow("reverb") << "reference:noise-reverb";
        QTest::newRow("high pass") << "reference:high-pass";
    }
    void whatTakesItsTimeIsStillLinear()
    {
        QFETCH(QString, id);
        const bool reverberates =
            id.endsWith(QStringLiteral("reverb")); // a short one: convolution takes its time
        const auto reading = transfer(id.toStdString(), reverberates ? std::vector<Setting>{{"rt60_s", 0.2}}
                                                                     : std::vector<Setting>{});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("linear"));
        QVERIFY(!reading->number("threshold_db") && !reading->number("clip_level_dbfs"));
    }

    void aDelayIsLinearHoweverLong_data()
    {
        QTest::addColumn<double>("delay_s");
        QTest::addColumn<double>("feedback_db");
        for (const double delay_s : {0.3, 0.7, 2.0, 6.0})
            QTest::addRow("%g s", delay_s) << delay_s << -60.0;
        QTest::newRow("with repeats") << 0.4 << -6.0;
    }
    void aDelayIsLinearHoweverLong()
    {
        QFETCH(double, delay_s);
        QFETCH(double, feedback_db);
        const auto reading =
            transfer("reference:feedback-delay", {{"delay_ms", 1000 * delay_s}, {"feedback_db", feedback_db}});
        HR_VERIFY(reading);
        QCOMPARE(kindOf(*reading), std::string("linear"));
        QVERIFY(reading->conditions.at("held_s").get<double>() > delay_s);
    }

    void whatNeverRestsHasNoDynamicsAndSaysWhy_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("value");
        QTest::addColumn<QString>("why");
        QTest::newRow("later than a step can wait") << "lv2:urn:honest-rack:tests:late-latency"
                                                    << "" << 0.0 << "did not come through within 10 s";
        QTest::newRow("repeats later than a step can wait")
            << "reference:feedback-delay"
            << "delay_ms" << 7000.0 << "still changing after 10 s";
        QTest::newRow("moves slowly") << "reference:tremolo"
                                      << "rate_hz" << 0.1 << "still changing after 10 s";
        QTest::newRow("moves") << "reference:tremolo"
                               << "depth_db" << 6.0 << "moves by itself";
        for (const double cents : {2.0, 50.0})
            QTest::addRow("pitch moves by %g cents", cents)
                << "reference:vibrato"
                << "depth_cents" << cents << "the pitch of a steady tone moves by itself";
        QTest::newRow("noise alone") << "lv2:urn:honest-rack:tests:ignores-its-input"
                                     << "" << 0.0 << "does not depend on the input";
    }
    void whatNeverRestsHasNoDynamicsAndSaysWhy()
    {
        QFETCH(QString, id);
        QFETCH(QString, key);
        QFETCH(double, value);
        QFETCH(QString, why);
        auto reading = hosting::FaultOr<bench::Reading>();
        if (key.isEmpty()) { // 12 s at 8 kHz
            auto subject = bench::Subject::open({id.toStdString(), test::odd_bundle}, {96000, 0},
                                                {.sample_rate_hz = 8000});
            HR_VERIFY(subject);
            reading = bench::measureTransfer(*subject);
        } else {
            reading = transfer(id.toStdString(), {{key.toStdString(), value}});
        }
        HR_VERIFY(reading);
        QVERIFY(reading->figures.at("kind").is_null() && reading->figures.at("ratio").is_null());
        QVERIFY2(reading->reasons.at("kind").find(why.toStdString()) != std::string::npos,
                 reading->reasons.at("kind").c_str());
    }
};

HR_TEST(tst_transfer)
#include "tst_transfer.moc"
