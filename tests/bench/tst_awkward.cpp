// SPDX-License-Identifier: GPL-3.0-or-later
//
// Other people's processors, as it were: what plugins/awkward.cpp says of each, in every figure that it has,
// within half of what is allowed.
#include "known_answers.h"

using namespace hr;

namespace {

bench::Reading measured(const QString& name, const char* test)
{
    return test::measured(test::awkward_bundle, name, test);
}

} // namespace

class tst_awkward : public QObject {
    Q_OBJECT

private slots:
    void figures_data()
    {
        test::knownColumns();
        const auto& row = test::known;
        row("hysteresis", "transfer", {{"threshold_db", -30}, {"closes_db", -38}, {"range_db", 40}});
        row("hysteresis", "response", {{"passband_db", 0}, {"gain_1k_db", 0}}); // open
        row("hysteresis", "timing", {{"attack_ms", 2}, {"release_ms", 120}});
        row("look-ahead", "transfer", {{"ratio", 2}, {"makeup_db", 0}});
        row("look-ahead", "timing", {{"attack_ms", 8}, {"release_ms", 90}});
        row("upward", "transfer", {{"ratio", 2}, {"makeup_db", 0}});
        row("expander", "transfer", {{"ratio", 2}, {"makeup_db", 0}});
        row("expander", "timing", {{"attack_ms", 1}});
        row("half-wave", "harmonics", {{"harmonics_db.0", -7.4443}, {"dc_offset", 0.0799559}});
        row("ping-pong", "echoes",
            {{"echoes.0.time_ms", 310},
             {"echoes.0.level_db", 0},
             {"echoes.1.time_ms", 620},
             {"repeat_ms", 310},
             {"feedback_db", -5}});
        row("dark-echo", "echoes",
            {{"echoes.0.time_ms", 180}, {"echoes.1.time_ms", 360}, {"repeat_ms", 180}, {"feedback_db", -6}});
        row("slow-phaser", "movement", {{"amplitude_rate_hz", 0.05}, {"notch_count", 6}});
        row("chopper", "movement", {{"amplitude_rate_hz", 3}, {"amplitude_depth_db", 12}});
        row("mono-below", "stereo", {{"mono_below_hz", 150}, {"balance_db", 0}});
        row("breathing", "noise", {{"idle_dbfs", -90}, {"after_signal_dbfs", -60}});
    }
    void figures() { test::verifyKnown(test::awkward_bundle); }

    void kinds_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("kind");
        for (const auto& [name, kind] : {std::pair("hysteresis", "gate"),
                                         {"look-ahead", "compressor"},
                                         {"upward", "upward"},
                                         {"expander", "expander"},
                                         {"ramped", "compressor"},
                                         {"half-wave", "saturating"},
                                         {"companded", "saturating"},
                                         {"mono-below", "linear"},
                                         {"ping-pong", "linear"}})
            QTest::newRow(name) << QString::fromLatin1(name) << QString::fromLatin1(kind);
    }
    void kinds()
    {
        QFETCH(const QString, name);
        QFETCH(const QString, kind);
        const bench::Reading reading = measured(name, "transfer");
        QCOMPARE(QString::fromStdString(reading.figures.at("kind").get<std::string>()), kind);
        if (kind == QStringLiteral("saturating"))
            QVERIFY(reading.figures.at("clip_level_dbfs").is_null()); // in steps, or not at all
    }

    void whatDependsOnTheDepthSaysSo()
    {
        QVERIFY(
            measured(QStringLiteral("ramped"), "timing").figures.at("release_depends_on_depth").get<bool>());
        QVERIFY(measured(QStringLiteral("breathing"), "noise").figures.at("follows_signal").get<bool>());
        QVERIFY(measured(QStringLiteral("chopper"), "movement").figures.at("pitch_rate_hz").is_null());
    }
};

HR_TEST(tst_awkward)
#include "tst_awkward.moc"
