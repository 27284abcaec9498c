// SPDX-License-Identifier: GPL-3.0-or-later
//
// hrack as a script would use it: what it prints, and how it exits.
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

class tst_hrack : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;

    Finished hrack(const QStringList& arguments) const
    {
        return test::runProgram(QStringLiteral("hrack"), arguments,
                                {QStringLiteral("HONEST_RACK_DATA=") + m_data.path()});
    }
    static json document(const Finished& finished)
    {
        return json::parse(finished.out.toStdString(), nullptr, false);
    }
    static QString id(const char* name)
    {
        return QString::fromStdString(test::specimen) + QString::fromLatin1(name);
    }

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

    void rendersThroughOneProcessor_data()
    {
        QTest::addColumn<int>("channels_in");
        QTest::addColumn<QString>("options");
        QTest::addColumn<double>("level_db");
        QTest::addColumn<double>("change_lu");
        QTest::addColumn<double>("seconds");
        QTest::addColumn<QString>("says");
        QTest::newRow("stereo") << 2 << "" << -26.0 << -6.0 << 1.0 << "";
        // One channel in, two out, as any meter reads the two files.
        QTest::newRow("mono") << 1 << "" << -26.0 << -2.99 << 1.0 << "";
        QTest::newRow("six channels") << 6 << "" << -26.0 << -6.0 << 1.0 << "6 channels mixed down to stereo";
        QTest::newRow("matched") << 2 << "--match" << -20.0 << 0.0 << 1.0 << "";
        QTest::newRow("with a tail, 24 bits") << 2 << "--tail 0.5 --bits 24" << -26.0 << -6.0 << 1.5 << "";
    }
    void rendersThroughOneProcessor()
    {
        QFETCH(int, channels_in);
        QFETCH(QString, options);
        QFETCH(double, level_db);
        QFETCH(double, change_lu);
        QFETCH(double, seconds);
        QFETCH(QString, says);
        QTemporaryDir folder;
        const std::filesystem::path in = folder.filePath(QStringLiteral("in.wav")).toStdString();
        const std::filesystem::path out = folder.filePath(QStringLiteral("out.wav")).toStdString();
        const auto one = test::tone(1000, -20, 1);
        signal::AudioBuffer all(static_cast<std::size_t>(channels_in), one.frames(), 48000);
        for (std::size_t c = 0; c < all.channels(); ++c)
            std::ranges::copy(one.channel(0), all.channel(c).begin());
        HR_VERIFY(signal::writeAudioFile(in, all));
        QStringList arguments{QStringLiteral("render"),         QStringLiteral("--processor"),
                              QStringLiteral("reference:gain"), QStringLiteral("--set"),
                              QStringLiteral("gain_db=-6"),     QStringLiteral("--json"),
                              QStringLiteral("--in"),           QString::fromStdString(in.string()),
                              QStringLiteral("--out"),          QString::fromStdString(out.string())};
        const Finished finished = hrack(arguments + options.split(QLatin1Char(' '), Qt::SkipEmptyParts));
        QCOMPARE(finished.code, 0);
        QVERIFY(finished.err.contains(says.toUtf8()));
        const json figures = document(finished);
        // The silence of a tail counts in the gated blocks that it shares with sound.
        HR_NEAR(figures["loudness_out_lufs"].get<double>() - figures["loudness_in_lufs"].get<double>(),
                change_lu, seconds > 1 ? 1 : 0.01);
        HR_NEAR(figures["true_peak_dbtp"].get<double>(), level_db, 0.1);
        const auto written = signal::readAudioFile(out);
        HR_VERIFY(written);
        HR_NEAR(written->seconds(), seconds, 1e-9);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(written->channel(0).subspan(0, 48000), 1000, 48000)),
                level_db, 0.02);
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files).size(), 2); // nothing left beside
    }

    void rendersAChainAndNamesWhatBreaks()
    {
        QTemporaryDir folder;
        const auto path = [&](const char* name) { return folder.filePath(QString::fromLatin1(name)); };
        HR_VERIFY(signal::writeAudioFile(path("in.wav").toStdString(), test::tone(1000, -20, 1)));
        const auto chainOf = [&](const std::string& first) {
            QFile file(path("chain.json"));
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(json{{"format", "honest-rack-chain"},
                            {"version", 1},
                            {"stages",
                             {{{"id", first}},
                              {{"id", "reference:gain"}, {"settings", {{"gain_db", 3}}}},
                              {{"id", "reference:added-latency"}}}}}
                           .dump()
                           .c_str());
        };
        const QStringList arguments{
            QStringLiteral("render"), QStringLiteral("--chain"), path("chain.json"),
            QStringLiteral("--json"), QStringLiteral("--in"),    path("in.wav"),
            QStringLiteral("--out"),  path("out.wav"),           QStringLiteral("--again")};
        chainOf("lv2:urn:nobody");
        const Finished missing = hrack(arguments);
        QCOMPARE(missing.code, 0);
        QVERIFY(missing.err.contains("lv2:urn:nobody is not installed"));
        const auto written = signal::readAudioFile(path("out.wav").toStdString());
        HR_VERIFY(written);
        // As long as the input, in step with it: the latency of the last stage is taken out.
        const auto in = test::tone(1000, -17, 1);
        QCOMPARE(written->frames(), in.frames());
        for (std::size_t i = 1000; i < in.frames(); ++i)
            HR_NEAR(written->channel(1)[i], in.channel(1)[i], 1e-5);

        const json measured =
            document(hrack({QStringLiteral("measure"), path("chain.json"), QStringLiteral("--json"),
                            QStringLiteral("--tests"), QStringLiteral("response")}));
        HR_NEAR(measured["readings"]["response"]["gain_1k_db"].get<double>(), 3, 0.02);
        QCOMPARE(hrack({QStringLiteral("measure"), path("chain.json"), QStringLiteral("--set"),
                        QStringLiteral("gain_db=1")})
                     .code,
                 1);

        QFile::remove(path("out.wav"));
        chainOf(test::specimen + "stormglass");
        const Finished broken = hrack(arguments);
        QCOMPARE(broken.code, 2);
        QVERIFY(document(broken)["failure"]["detail"].get<std::string>().starts_with("stage 1, "));
        QVERIFY(!QFile::exists(path("out.wav")));
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
        for (const char* name : {"gain", "hard-clip"})
            QCOMPARE(
                run(QStringLiteral("measure reference:%1 --tests harmonics").arg(QLatin1String(name))).code, 0);
        QCOMPARE(document(run(QStringLiteral("similar reference:gain")))["similar"][0]["id"].get<std::string>(),
                 std::string("reference:hard-clip"));
        QVERIFY(document(run(QStringLiteral("show reference:gain")))["readings"].contains("harmonics"));
    }

    void sixteenBitsThatClipAreCounted()
    {
        const QString in = m_data.filePath(QStringLiteral("hot.wav"));
        HR_VERIFY(signal::writeAudioFile(in.toStdString(), test::tone(440, -1, 1)));
        const Finished clipped =
            hrack({QStringLiteral("render"), QStringLiteral("--processor"), QStringLiteral("reference:gain"),
                   QStringLiteral("--set"), QStringLiteral("gain_db=6"), QStringLiteral("--bits"),
                   QStringLiteral("16"), QStringLiteral("--in"), in, QStringLiteral("--out"),
                   m_data.filePath(QStringLiteral("clipped.wav")), QStringLiteral("--json")});
        QCOMPARE(clipped.code, 0);
        QVERIFY(document(clipped)["clipped_samples"].get<int>() > 10000);
        QVERIFY(clipped.err.contains("clip"));
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

    void loudnessOfFilesInTheirOrder()
    {
        QStringList files;
        for (const double level : {-23.0, -30.0, -18.0}) {
            files << m_data.path() + QStringLiteral("/%1.wav").arg(-level);
            HR_VERIFY(signal::writeAudioFile(files.last().toStdString(), test::tone(1000, level, 4)));
        }
        const json read = document(
            hrack(QStringList{QStringLiteral("loudness")} + files + QStringList{QStringLiteral("--json")}));
        QCOMPARE(read["files"].size(), std::size_t{3});
        HR_NEAR(read["files"][1]["integrated_lufs"].get<double>(), -30, 0.1);
        HR_NEAR(read["files"][2]["true_peak_dbtp"].get<double>(), -18, 0.2);
        QCOMPARE(read["files"][0]["channels"].get<int>(), 2);
        QCOMPARE(read["files"][0]["path"].get<std::string>(), files[0].toStdString());
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
    }

    void aFullDiskIsAMachineFailure()
    {
        const Finished finished =
            test::runProgram(QStringLiteral("hrack"),
                             {QStringLiteral("--data"), QStringLiteral("/dev/full/x"), QStringLiteral("scan")});
        QCOMPARE(finished.code, 3);
        QCOMPARE(finished.err.count('\n'), 1);
    }

    void comparingTellsTheSameFromTheDifferent()
    {
        const auto compared = [&](const QStringList& arguments) {
            const Finished finished = hrack(QStringList{QStringLiteral("compare")} + arguments +
                                            QStringList{QStringLiteral("--json")});
            return finished.code == 0 ? document(finished) : json();
        };
        const QString gain = QStringLiteral("reference:gain");
        const auto late = compared({gain, QStringLiteral("reference:added-latency")});
        QVERIFY2(late.is_object() && late["same"] == true, late.dump().c_str());
        QCOMPARE(late["offset_samples"].get<double>(), 64.0);
        QVERIFY(compared({gain, QStringLiteral("reference:hard-clip")})["same"] == false);
        // Two files, and processors on a file of the user's.
        const QString a = m_data.filePath(QStringLiteral("a.wav"));
        const QString b = m_data.filePath(QStringLiteral("b.wav"));
        HR_VERIFY(
            signal::writeAudioFile(a.toStdString(), test::tone(440, -20, 2), signal::SampleFormat::Float32));
        HR_VERIFY(
            signal::writeAudioFile(b.toStdString(), test::tone(440, -26, 2), signal::SampleFormat::Float32));
        const auto files = compared({a, b});
        HR_NEAR(files["gain_db"].get<double>(), 6, 0.01);
        QVERIFY(files["same"] == true);
        QVERIFY(compared({gain, gain, QStringLiteral("--on"), a})["same"] == true);
        QCOMPARE(hrack({QStringLiteral("compare"), gain, id("stormglass")}).code, 2); // it crashes
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
