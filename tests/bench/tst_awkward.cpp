// SPDX-License-Identifier: GPL-3.0-or-later
//
// Other people's processors, as it were: what plugins/awkward.cpp says of each, in every figure that it has,
// within half of what is allowed.
#include "bench/suite.h"
#include "support/fixtures.h"

using namespace hr;

namespace {

bench::Reading measured(const QString& name, const std::string& test)
{
    const hosting::Location at{"lv2:urn:honest-rack:tests:" + name.toStdString(), test::awkward_bundle};
    auto reading = test::readingOf(test, at);
    if (!reading)
        qFatal("%s", hosting::sentence(reading.error()).c_str());
    return *reading;
}

} // namespace

class tst_awkward : public QObject {
    Q_OBJECT

private slots:
    void figures_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("test");
        QTest::addColumn<QMap<QString, double>>("known");
        const auto row = [](const char* name, const char* test, const QMap<QString, double>& known) {
            QTest::addRow("%s, %s", name, test)
                << QString::fromLatin1(name) << QString::fromLatin1(test) << known;
        };
        const auto key = [](const char* text) { return QString::fromLatin1(text); };
        row("hysteresis", "transfer",
            {{key("threshold_db"), -30}, {key("closes_db"), -38}, {key("range_db"), 40}});
        row("hysteresis", "timing", {{key("attack_ms"), 2}, {key("release_ms"), 120}});
        row("look-ahead", "transfer", {{key("ratio"), 2}, {key("makeup_db"), 0}});
        row("look-ahead", "timing", {{key("attack_ms"), 8}, {key("release_ms"), 90}});
        row("upward", "transfer", {{key("ratio"), 2}, {key("makeup_db"), 0}});
        row("expander", "transfer", {{key("ratio"), 2}, {key("makeup_db"), 0}});
        row("expander", "timing", {{key("attack_ms"), 1}});
        row("half-wave", "harmonics", {{key("harmonics_db.0"), -7.4443}, {key("dc_offset"), 0.0799559}});
        row("ping-pong", "echoes",
            {{key("echoes.0.time_ms"), 310},
             {key("echoes.0.level_db"), 0},
             {key("echoes.1.time_ms"), 620},
             {key("repeat_ms"), 310},
             {key("feedback_db"), -5}});
        row("dark-echo", "echoes",
            {{key("echoes.0.time_ms"), 180}, {key("repeat_ms"), 180}, {key("feedback_db"), -6}});
        row("slow-phaser", "movement", {{key("amplitude_rate_hz"), 0.05}, {key("notch_count"), 6}});
        row("chopper", "movement", {{key("amplitude_rate_hz"), 3}, {key("amplitude_depth_db"), 12}});
        row("mono-below", "stereo", {{key("mono_below_hz"), 150}, {key("balance_db"), 0}});
        row("breathing", "noise", {{key("idle_dbfs"), -90}, {key("after_signal_dbfs"), -60}});
    }
    void figures()
    {
        QFETCH(const QString, name);
        QFETCH(const QString, test);
        using Known = QMap<QString, double>;
        QFETCH(const Known, known);
        const bench::Reading reading = measured(name, test.toStdString());
        for (auto one = known.begin(); one != known.end(); ++one) {
            nlohmann::ordered_json value = reading.figures;
            for (const QString& part : one.key().split(QLatin1Char('.')))
                value = value.is_array() ? value.at(part.toUInt()) : value.at(part.toStdString());
            QVERIFY2(value.is_number(), qPrintable(one.key()));
            const auto* figure =
                bench::figureInfo(test.toStdString(), one.key().section(QLatin1Char('.'), 0, 0).toStdString());
            // Of a list the error is that of its times; levels have that of a feedback.
            const double allowed =
                one.key().endsWith(QStringLiteral("level_db")) ? 0.1 : figure->allowed.at(*one);
            QVERIFY2(std::abs(value.get<double>() - *one) <= 0.5 * allowed + 1e-6,
                     qPrintable(QStringLiteral("%1: %2 instead of %3")
                                    .arg(one.key())
                                    .arg(value.get<double>(), 0, 'g', 9)
                                    .arg(*one)));
        }
    }

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
