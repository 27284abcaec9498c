// SPDX-License-Identifier: GPL-3.0-or-later
//
// Each check on one that keeps its promise and on one that does not.
#include "bench/labels.h"
#include "bench/suite.h"
#include "bench/trust_checks.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;
using processors::Setting;

class tst_trust : public QObject {
    Q_OBJECT

    static QStringList failedOf(const bench::Reading& reading)
    {
        QStringList failed;
        for (const auto& [check, verdict] : reading.figures.items())
            if (verdict.at("result") == "fail")
                failed << QString::fromStdString(check);
        return failed;
    }

    /// A specimen, or one of plugins/promises.cpp.
    static hosting::Location at(const std::string& name)
    {
        const std::string mine = "lv2:urn:honest-rack:tests:" + name;
        const auto there = hosting::openInstance({mine, test::promises_bundle});
        return there ? hosting::Location{mine, test::promises_bundle} : test::specimenAt(name);
    }

private slots:
    /// Lined up by the latency that was found, whatever it reports.
    void itsOwnSwitchIsTheOneThatIsDeclared()
    {
        for (const auto& [leak, result] : {std::pair(0.0, "pass"), {0.001, "fail"}}) {
            const auto reading = test::readingOf("trust", at("own-switch"), {{"leak", leak}});
            HR_VERIFY(reading);
            QCOMPARE(reading->figures.at("bypass_clean").at("result").get<std::string>(), std::string(result));
        }
    }

    /// Its hiss, which comes and goes with the sound, is no bent waveform.
    void whatHissesBesideTheSoundIsLinear()
    {
        const auto reading = test::readingOf("transfer", at("never-the-same"));
        HR_VERIFY(reading);
        QCOMPARE(reading->figures.at("kind").get<std::string>(), std::string("linear"));
    }

    void promisesAreKeptOrNot_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QStringList>("failed");
        const auto row = [](const char* id, const QStringList& failed) {
            QTest::newRow(id) << QString::fromLatin1(id) << failed;
        };
        const auto check = [](const char* key) { return QString::fromLatin1(key); };
        row("reference:gain", {});
        row("reference:added-noise", {check("silent_in_silent_out")});
        row("strongbox-four", {check("level_honest"), check("labels_honest")}); // half the ratio that it says
        row("deep-keel", {check("latency_honest")});                            // 64 samples, not told
        row("never-the-same", {check("repeatable")});                           // the others do not apply then
        row("by-blocks", {check("block_independent")});
        row("one-rate", {check("rate_independent"), check("level_honest")});
        row("swallows", {check("survives_extremes")});
        row("collects", {check("stable_memory")});
        row("own-switch", {check("latency_honest"), check("level_honest")});
    }
    void promisesAreKeptOrNot()
    {
        QFETCH(const QString, id);
        QFETCH(const QStringList, failed);
        const auto reading = id.startsWith(QStringLiteral("reference:"))
                                 ? test::readingOf("trust", hosting::Location{id.toStdString(), {}})
                                 : test::readingOf("trust", at(id.toStdString()));
        HR_VERIFY(reading);
        QCOMPARE(reading->figures.size(), std::size_t{12});
        QCOMPARE(failedOf(*reading).join(QStringLiteral(", ")), failed.join(QStringLiteral(", ")));
        for (const auto& [check, verdict] : reading->figures.items()) {
            if (verdict.at("result") != "pass")
                QVERIFY2(!verdict.at("detail").get<std::string>().empty(), check.c_str());
            if (verdict.at("result") == "pass") // by which figure it was decided
                QVERIFY2(verdict.at("value").is_number(), check.c_str());
            const auto* figure = bench::figureInfo("trust", check);
            QVERIFY2(figure && figure->if_kept.ends_with('.') && figure->if_broken.ends_with('.'),
                     check.c_str());
        }
    }

    void whatCannotEvenPlayFailsAsATest()
    {
        const auto location = test::faultyAt("crash-in-run");
        auto opened = hosting::openInstance(location);
        HR_VERIFY(opened);
        const auto m = bench::measure(location, (*opened)->info(), processors::defaultValues((*opened)->info()),
                                      *bench::testsNamed({"trust"}), {});
        QCOMPARE(m.outcome(), std::string("failed"));
        QCOMPARE(m.failure->fault.cause, hosting::Cause::Crash);
    }

    /// It is brought down only by a sample that is not a number, or by the end of a range: the other checks
    /// stand.
    void whatAnExtremeBringsDownIsTold()
    {
        const auto reading = test::readingOf("trust", test::specimenAt("undertow"));
        HR_VERIFY(reading);
        QVERIFY(failedOf(*reading).contains(QStringLiteral("survives_extremes")));
        QCOMPARE(reading->figures.at("repeatable").at("result").get<std::string>(), std::string("pass"));
    }

    /// A label may be meant in every way that the trade reads it; only what fits none of them is off.
    void labelsAreReadAsTheTradeDoes_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QString>("settings");
        QTest::addColumn<QString>("detail");
        const auto row = [](const char* name, const char* id, const char* settings, const char* detail) {
            QTest::newRow(name) << QString::fromLatin1(id) << QString::fromLatin1(settings)
                                << QString::fromLatin1(detail);
        };
        row("a resonant corner", "reference:low-pass", R"({"q": 3})", "");
        row("a shelf by its middle", "reference:high-shelf", R"({"gain_db": -9})",
            "Frequency 5000 Hz is halfway up its shelf");
        row("the gain of each half wave", "cordage-leveller", "{}", "Attack 15 ms is 63 % of the linear gain");
        row("a delay by its time", "reference:feedback-delay", "{}", "");
        row("a threshold of filtered sound", "bosuns-whistle", "{}",
            "nothing that a label promises was seen in full");
        row("another frequency", "drift-compass", "{}", "Frequency set to 1000 Hz, measured 1200 Hz");
        row("half the ratio", "strongbox-four", "{}", "Ratio set to 4 :1, measured 1.988 :1");
    }
    void labelsAreReadAsTheTradeDoes()
    {
        QFETCH(const QString, id);
        QFETCH(const QString, settings);
        const auto location = id.startsWith(QStringLiteral("reference:"))
                                  ? hosting::Location{id.toStdString(), {}}
                                  : at(id.toStdString());
        const auto opened = hosting::openInstance(location);
        HR_VERIFY(opened);
        auto values = processors::defaultValues((*opened)->info());
        const auto set = nlohmann::json::parse(settings.toStdString());
        for (std::size_t i = 0; i < values.size(); ++i)
            values[i] = set.value((*opened)->info().parameters[i].key, values[i]);
        const auto subject = bench::Subject::open(location, values, {});
        HR_VERIFY(subject);
        const auto checked = bench::checkLabelsHonest(*subject);
        HR_VERIFY(checked);
        QTEST(QString::fromStdString(checked->detail), "detail");
    }

    void labelsPromiseFigures_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("figure");
        QTest::addColumn<double>("factor");
        QTest::newRow("attack in s") << "Attack"
                                     << "s"
                                     << "compressor"
                                     << "timing.attack_ms" << 1000.0;
        QTest::newRow("threshold") << "Threshold"
                                   << "dBFS"
                                   << "gate"
                                   << "transfer.threshold_db" << 1.0;
        QTest::newRow("corner") << "Cutoff"
                                << "Hz"
                                << "filter"
                                << "response.corners" << 1.0;
        QTest::newRow("delay") << "Delay time"
                               << "ms"
                               << "delay"
                               << "echoes.first_ms" << 1.0;
        QTest::newRow("time of a delay") << "Time"
                                         << "ms"
                                         << "delay"
                                         << "echoes.first_ms" << 1.0;
        QTest::newRow("time of a fade") << "Fade time"
                                        << "ms"
                                        << "delay"
                                        << "" << 0.0;
        QTest::newRow("another unit") << "Attack"
                                      << "%"
                                      << "compressor"
                                      << "" << 0.0;
        QTest::newRow("rate of an equaliser") << "Rate"
                                              << "Hz"
                                              << "equaliser"
                                              << "" << 0.0;
    }
    void labelsPromiseFigures()
    {
        QFETCH(const QString, name);
        QFETCH(const QString, unit);
        QFETCH(const QString, kind);
        QFETCH(const QString, figure);
        QFETCH(const double, factor);
        processors::ParameterInfo parameter;
        parameter.name = name.toStdString();
        parameter.unit = unit.toStdString();
        const auto promise = bench::promiseOf(parameter, kind.toStdString());
        QCOMPARE(promise ? QString::fromStdString(promise->test + "." + promise->figure) : QString(), figure);
        if (promise)
            QCOMPARE(promise->factor, factor);
    }
};

HR_TEST(tst_trust)
#include "tst_trust.moc"
