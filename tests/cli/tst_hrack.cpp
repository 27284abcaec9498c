// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack as a script would use it: what it prints, and how it exits.
#include "cli/hrack_program.h"
#include "exchange/preset_file.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/audio_file.h"
#include "signal/levels.h"
#include "support/fixtures.h"

#include <nlohmann/json.hpp>

using namespace hr;
using nlohmann::json;
using test::Finished;

class tst_hrack : public test::HrackProgram {
    Q_OBJECT

private slots:
    void wrongRequestsExit1WithOneLine_data()
    {
        QTest::addColumn<QString>("arguments");
        for (const char* line : {"",
                                 "frobnicate",
                                 "measure",
                                 "measure reference:gain --frobnicate",
                                 "measure nonsense",
                                 "measure lv2:urn:nobody",
                                 "measure reference:nobody",
                                 "measure reference:gain --set gain_db=99",
                                 "measure reference:gain --set warmth=1",
                                 "measure reference:gain --set gain_db",
                                 "measure reference:gain --preset Warm",
                                 "measure reference:gain --tests warmth",
                                 "measure --all",
                                 "measure --all reference:gain --out x",
                                 "measure --all --out x --shard 3/2",
                                 "measure --collection Nothing --out x",
                                 "measure reference:gain --jobs 2",
                                 "merge /nowhere",
                                 "report",
                                 "report reference:gain --format docx --out x",
                                 "report reference:gain reference:width --set gain_db=1 --out x",
                                 "trial --grades A=101",
                                 "measure reference:gain --rate 1",
                                 "measure reference:gain --block 0",
                                 "measure reference:gain --level 99",
                                 "measure reference:gain --frequency 30000",
                                 "measure reference:gain --rate fast",
                                 "compare reference:gain",
                                 "compare reference:gain reference:nobody",
                                 "compare reference:gain /etc/passwd",
                                 "compare reference:gain reference:gain --on /nowhere.wav",
                                 "similar reference:gain",
                                 "similar reference:gain --count 0",
                                 "list --collection nobody",
                                 "loudness",
                                 "loudness /etc/passwd",
                                 "loudness /nowhere.wav",
                                 "render --in /nowhere.wav --out /tmp/x.wav",
                                 "render --processor reference:gain --in /nowhere.wav --out /tmp/x.wav",
                                 "render --processor reference:gain --in /etc/passwd --out /tmp/x.wav",
                                 "render --processor reference:gain --set gain_db=99 --in /a --out /b",
                                 "render --chain /etc/passwd --in /a --out /b",
                                 "render --processor reference:gain --bits 12 --in /a --out /b",
                                 "render --processor reference:gain --tail -1 --in /a --out /b",
                                 "show",
                                 "show lv2:urn:nobody",
                                 "list --collection Nowhere",
                                 "scan --path /nowhere",
                                 "collection",
                                 "collection show Nowhere",
                                 "collection import /nowhere.json"})
            QTest::newRow(line) << QString::fromLatin1(line);
    }
    void reportsAreWrittenInEveryFormat()
    {
        const QTemporaryDir apart; // nothing is measured there yet
        for (const char* format : {"html", "markdown", "csv", "json", "pdf"}) {
            const QString file = apart.filePath(QStringLiteral("report.") + QLatin1String(format));
            const auto done = hrack({QStringLiteral("--data"), apart.path(), QStringLiteral("report"),
                                     QStringLiteral("reference:gain"), QStringLiteral("--format"),
                                     QLatin1String(format), QStringLiteral("--out"), file});
            QVERIFY2(done.code == 0, done.err.constData());
            QFile written(file);
            QVERIFY(written.open(QIODevice::ReadOnly));
            const QByteArray all = written.readAll();
            QVERIFY2(QLatin1String(format) == QLatin1String("pdf")
                         ? all.startsWith("%PDF-") && all.size() > 20000
                         : all.contains("Gain"),
                     format);
        }
        QCOMPARE(hrack({QStringLiteral("--data"), apart.path(), QStringLiteral("report"),
                        QStringLiteral("reference:gain"), QStringLiteral("--out"),
                        QStringLiteral("/nowhere/at/all.html")})
                     .code,
                 3);
    }

    void wrongRequestsExit1WithOneLine()
    {
        QFETCH(QString, arguments);
        const Finished finished = hrack(arguments.split(QLatin1Char(' '), Qt::SkipEmptyParts));
        QCOMPARE(finished.code, 1);
        QVERIFY(finished.out.isEmpty());
        QCOMPARE(finished.err.count('\n'), 1);
        QVERIFY(finished.err.startsWith("hrack: "));
    }

    void helpIsThereForEveryCommand_data()
    {
        QTest::addColumn<QString>("command");
        for (const char* command : {"", "scan", "list", "show", "measure", "render", "loudness", "selfcheck",
                                    "collection", "merge", "report", "demo"})
            QTest::newRow(command) << QString::fromLatin1(command);
    }
    void helpIsThereForEveryCommand()
    {
        QFETCH(QString, command);
        QStringList arguments{QStringLiteral("--help")};
        if (!command.isEmpty())
            arguments.prepend(command);
        const Finished finished = hrack(arguments);
        QCOMPARE(finished.code, 0);
        QVERIFY(finished.out.contains("Usage"));
    }

    void scanThenListThenShow()
    {
        const json first = document(hrack({QStringLiteral("scan"), QStringLiteral("--json")}));
        QCOMPARE(first["found"].get<int>(), first["added"].get<int>());
        QCOMPARE(first["quarantined"].size(), std::size_t{3}); // by id
        QCOMPARE(first["quarantined"][0]["cause"].get<std::string>(), std::string("hang"));
        QCOMPARE(first["quarantined"][1]["id"].get<std::string>(), test::specimen + "stormglass");
        QCOMPARE(first["quarantined"][1]["stage"].get<std::string>(), std::string("start"));
        QCOMPARE(first["quarantined"][2]["cause"].get<std::string>(), std::string("non-finite-output"));
        const json again = document(hrack({QStringLiteral("scan"), QStringLiteral("--json")}));
        QVERIFY(again["unchanged"] == first["found"]);
        QCOMPARE(again["added"].get<int>(), 0);

        const auto ids = [&](const QStringList& options) {
            QStringList found;
            const json listed =
                document(hrack(QStringList{QStringLiteral("list"), QStringLiteral("--json")} + options));
            for (const json& p : listed["processors"])
                found << QString::fromStdString(p["id"]);
            return found;
        };
        QVERIFY(ids({}).contains(id("stormglass")));
        QCOMPARE(ids({QStringLiteral("--query"), QStringLiteral("lantern satur")}),
                 QStringList{id("lantern-saturator")});
        const QStringList of_one_maker = ids({QStringLiteral("--maker"), QStringLiteral("kelp & cordage")});
        QVERIFY(of_one_maker.contains(id("cordage-leveller")) && !of_one_maker.contains(id("stormglass")));
        QVERIFY(!ids({QStringLiteral("--kind"), QStringLiteral("equaliser")}).contains(id("cordage-leveller")));

        const Finished shown =
            hrack({QStringLiteral("show"), id("cordage-leveller"), QStringLiteral("--json")});
        QCOMPARE(shown.code, 0);
        QCOMPARE(document(shown)["parameters"][0]["key"].get<std::string>(), std::string("threshold_db"));
        QCOMPARE(document(shown)["presets"].size(), std::size_t{2});
    }

    void quarantineIsHonouredUnlessAskedAgain()
    {
        QCOMPARE(hrack({QStringLiteral("scan")}).code, 0);
        const QString in = m_data.filePath(QStringLiteral("q.wav"));
        HR_VERIFY(signal::writeAudioFile(in.toStdString(), test::tone(440, -20, 1)));
        for (QStringList command :
             {QStringList{QStringLiteral("measure"), id("stormglass")},
              {QStringLiteral("show"), id("stormglass")},
              {QStringLiteral("compare"), id("stormglass"), QStringLiteral("reference:gain")},
              {QStringLiteral("render"), QStringLiteral("--processor"), id("stormglass"),
               QStringLiteral("--in"), in, QStringLiteral("--out"), in + QLatin1Char('2')}}) {
            const Finished refused = hrack(command << QStringLiteral("--json"));
            QCOMPARE(refused.code, 2);
            QVERIFY(refused.err.contains("quarantine"));
            QCOMPARE(refused.err.count('\n'), 1);
            QCOMPARE(document(refused)["failure"]["cause"].get<std::string>(), std::string("crash"));
        }
        const Finished again = hrack(
            {QStringLiteral("measure"), id("stormglass"), QStringLiteral("--again"), QStringLiteral("--json")});
        QCOMPARE(again.code, 2);
        QCOMPARE(document(again)["outcome"].get<std::string>(), std::string("failed"));
        QCOMPARE(document(again)["failure"]["cause"].get<std::string>(), std::string("crash"));
    }

    void measuringNeedsNoScan()
    {
        QTemporaryDir elsewhere;
        const Finished finished =
            hrack({QStringLiteral("--data"), elsewhere.path(), QStringLiteral("measure"),
                   id("tidepool-equaliser"), QStringLiteral("--preset"), QStringLiteral("Spoken guide"),
                   QStringLiteral("--set"), QStringLiteral("bell2_db=6"), QStringLiteral("--tests"),
                   QStringLiteral("response"), QStringLiteral("--json"), QStringLiteral("--no-store")});
        QCOMPARE(finished.code, 0);
        QVERIFY(finished.err.isEmpty()); // no terminal: silent about progress
        const json read = document(finished);
        QCOMPARE(read["settings"]["bell2_db"].get<double>(), 6.0);
        QCOMPARE(read["settings"]["bell1_hz"].get<double>(), 220.0);
        QVERIFY(read["readings"].contains("response") && !read["readings"].contains("harmonics"));
        QVERIFY(QDir(elsewhere.path()).isEmpty()); // and leaves nothing behind
    }

    void theDocumentGoesIntoAFileToo()
    {
        const QString file = m_data.path() + QStringLiteral("/m.json");
        const Finished finished =
            hrack({QStringLiteral("measure"), QStringLiteral("reference:hard-clip"), QStringLiteral("--tests"),
                   QStringLiteral("harmonics"), QStringLiteral("--level"), QStringLiteral("-3"),
                   QStringLiteral("--frequency"), QStringLiteral("440"), QStringLiteral("--out"), file});
        QCOMPARE(finished.code, 0);
        QFile written(file);
        QVERIFY(written.open(QIODevice::ReadOnly));
        const json read = json::parse(written.readAll().toStdString());
        HR_NEAR(read["readings"]["harmonics"]["conditions"]["frequency_hz"].get<double>(), 440, 0.5);
        const Finished unwritable =
            hrack({QStringLiteral("measure"), QStringLiteral("reference:gain"), QStringLiteral("--tests"),
                   QStringLiteral("response"), QStringLiteral("--out"), QStringLiteral("/nonexistent/m.json")});
        QCOMPARE(unwritable.code, 3);
        QCOMPARE(unwritable.err.count('\n'), 1);
    }

    void whatIsMeasuredIsKnownAfterwards()
    {
        QTemporaryDir data;
        const auto run = [&](const QString& arguments) {
            return hrack(QStringList{QStringLiteral("--data"), data.path()} +
                         arguments.split(QLatin1Char(' ')) + QStringList{QStringLiteral("--json")});
        };
        QVERIFY(run(QStringLiteral("similar reference:gain")).err.contains("has not been measured"));
        QVERIFY(run(QStringLiteral("similar nothing")).err.contains("is not a processor id"));
        for (const char* name : {"gain", "hard-clip"})
            QCOMPARE(
                run(QStringLiteral("measure reference:%1 --tests harmonics").arg(QLatin1String(name))).code, 0);
        QCOMPARE(document(run(QStringLiteral("similar reference:gain")))["similar"][0]["id"].get<std::string>(),
                 std::string("reference:hard-clip"));
        QVERIFY(document(run(QStringLiteral("show reference:gain")))["readings"].contains("harmonics"));
    }

    void unknownWordsAreNamed()
    {
        for (const char* line : {"frobnicate", "measure reference:gain --frobnicate", "collection frobnicate",
                                 "--frobnicate", "measure reference:gain frobnicate"}) {
            const Finished finished = hrack(QString::fromLatin1(line).split(QLatin1Char(' ')));
            QCOMPARE(finished.code, 1);
            QVERIFY2(finished.err.contains("frobnicate"), finished.err.constData());
        }
    }

    void demoDataAndCollections()
    {
        const QString folder = m_data.path() + QStringLiteral("/demo");
        QCOMPARE(hrack({QStringLiteral("demo"), folder}).code, 0);
        QVERIFY(QFile::exists(folder + QStringLiteral("/sources/evening-crossing.wav")));
        const QString file = folder + QStringLiteral("/collections/brass-bus.json");
        QCOMPARE(hrack({QStringLiteral("collection"), QStringLiteral("import"), file}).code, 0);
        QCOMPARE(document(hrack({QStringLiteral("collection"), QStringLiteral("show"),
                                 QStringLiteral("Brass bus"), QStringLiteral("--json")}))["items"]
                     .size(),
                 std::size_t{3});
        const QString out = m_data.path() + QStringLiteral("/out.json");
        QCOMPARE(
            hrack({QStringLiteral("collection"), QStringLiteral("export"), QStringLiteral("Brass bus"), out})
                .code,
            0);
        QVERIFY(QFile::exists(out));
        QCOMPARE(document(hrack({QStringLiteral("collection"), QStringLiteral("list"),
                                 QStringLiteral("--json")}))["collections"][0]["name"]
                     .get<std::string>(),
                 std::string("Brass bus"));
    }

    void selfcheckPassesAndSaysSo()
    {
        const Finished finished = hrack({QStringLiteral("selfcheck"), QStringLiteral("--json")});
        QCOMPARE(finished.code, 0);
        QCOMPARE(document(finished)["failed"].get<int>(), 0);
        QVERIFY(document(finished)["passed"].get<int>() > 40);
        // It stands beside what is measured from here on, which show tells as people read it, too.
        const QString gain = QStringLiteral("reference:gain");
        QCOMPARE(hrack({QStringLiteral("measure"), gain, QStringLiteral("--tests"), QStringLiteral("response"),
                        QStringLiteral("--set"), QStringLiteral("gain_db=3")})
                     .code,
                 0);
        const auto shown = document(hrack({QStringLiteral("show"), gain, QStringLiteral("--json")}));
        QCOMPARE(shown["bench_check"]["failed"].get<int>(), 0);
        QVERIFY(shown["bench_check"]["passed"].get<int>() > 40);
        QVERIFY(hrack({QStringLiteral("show"), gain}).out.contains("gain at 1 kHz, dB  3.000"));
    }

    void aFullDiskIsAMachineFailure()
    {
        const Finished finished =
            test::runProgram(QStringLiteral("hrack"),
                             {QStringLiteral("--data"), QStringLiteral("/dev/full/x"), QStringLiteral("scan")});
        QCOMPARE(finished.code, 3);
        QCOMPARE(finished.err.count('\n'), 1);
    }

    void presetsOfOtherBundlesAreKnownOnceScanned()
    {
        QTemporaryDir apart;
        const auto info = (*hosting::openInstance(test::specimenAt("cordage-leveller")))->info();
        library::Preset preset;
        preset.name = QStringLiteral("Quay");
        preset.settings = {{info.parameters[0].key, info.parameters[0].minimum}};
        HR_VERIFY(
            exchange::writeLv2Presets(apart.filePath(QStringLiteral("q.lv2")).toStdString(), info, {preset}));
        const QStringList measure{QStringLiteral("--data"),   apart.filePath(QStringLiteral("data")),
                                  QStringLiteral("measure"),  id("cordage-leveller"),
                                  QStringLiteral("--preset"), QStringLiteral("Quay"),
                                  QStringLiteral("--tests"),  QStringLiteral("response"),
                                  QStringLiteral("--json")};
        QCOMPARE(hrack(measure).code, 1);
        QCOMPARE(hrack({QStringLiteral("--data"), apart.filePath(QStringLiteral("data")),
                        QStringLiteral("scan"), QStringLiteral("--path"), apart.path()})
                     .code,
                 0);
        const auto measured = document(hrack(measure));
        QCOMPARE(measured["settings"][info.parameters[0].key].get<double>(), info.parameters[0].minimum);
    }

    void similarOnesAreFoundAndRulesList()
    {
        QTemporaryDir data;
        {
            auto store = library::Store::open(data.path().toStdString());
            HR_VERIFY(store);
            for (const char* name : {"reference:gain", "reference:hard-clip", "reference:cubic-clip"}) {
                const auto info = (*store)->catalogue.info(QString::fromLatin1(name));
                const auto values = processors::defaultValues(*info);
                HR_VERIFY(
                    (*store)->runs.store(library::setUpOf((*store)->catalogue, {name, {}}, *info, values),
                                         bench::measure({name, {}}, *info, values,
                                                        *bench::testsNamed({"harmonics", "transfer"}), {})));
            }
            HR_VERIFY((*store)->collections.create(
                QStringLiteral("clips"), QStringLiteral(R"({"text": "reference clip", "choices": []})")));
        }
        const auto run = [&](QStringList arguments) {
            return document(hrack(QStringList{QStringLiteral("--data"), data.path()} + arguments +
                                  QStringList{QStringLiteral("--json")}));
        };
        const auto near = run({QStringLiteral("similar"), QStringLiteral("reference:hard-clip"),
                               QStringLiteral("--count"), QStringLiteral("1")});
        QCOMPARE(near["similar"].size(), std::size_t{1});
        QVERIFY(near["similar"][0]["distance"] > 0);
        const auto clips =
            run({QStringLiteral("list"), QStringLiteral("--collection"), QStringLiteral("clips")});
        QCOMPARE(clips["processors"].size(), std::size_t{2});
        const auto dynamics =
            run({QStringLiteral("list"), QStringLiteral("--kind"), QStringLiteral("dynamics")});
        QVERIFY(dynamics["processors"].size() >= 2); // compressor and gate, which stand below it
    }
};

HR_TEST(tst_hrack)
#include "tst_hrack.moc"
