// SPDX-License-Identifier: GPL-3.0-or-later
//
// What hrack does with sound: rendering, loudness, comparing.
#include "cli/hrack_program.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/audio_file.h"
#include "signal/levels.h"

using namespace hr;
using nlohmann::json;
using test::Finished;

class tst_hrack_sound : public test::HrackProgram {
    Q_OBJECT

private slots:
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

    /// A gate closes on a quiet file, and not on the bench's own music.
    void measuresWithAProgrammeOfOnesOwn()
    {
        QTemporaryDir folder;
        const QString quiet = folder.filePath(QStringLiteral("quiet.wav"));
        HR_VERIFY(signal::writeAudioFile(quiet.toStdString(), test::tone(997, -50, 4)));
        const auto measured = [&](const QStringList& more) {
            return hrack(QStringList{QStringLiteral("measure"), QStringLiteral("reference:gate"),
                                     QStringLiteral("--set"), QStringLiteral("threshold_db=-45"),
                                     QStringLiteral("--set"), QStringLiteral("range_db=20"),
                                     QStringLiteral("--tests"), QStringLiteral("loudness_shift"),
                                     QStringLiteral("--json")} +
                         more);
        };
        const json own = document(measured({}));
        HR_NEAR(own["readings"]["loudness_shift"]["shift_lu"].get<double>(), 0, 0.2);
        QVERIFY(!own["conditions"].contains("programme"));
        const json theirs = document(measured({QStringLiteral("--programme"), quiet}));
        HR_NEAR(theirs["readings"]["loudness_shift"]["shift_lu"].get<double>(), -20, 0.2);
        QCOMPARE(theirs["conditions"]["programme"]["title"].get<std::string>(), std::string("quiet.wav"));
        const Finished refused = measured({QStringLiteral("--programme"), QStringLiteral("/nowhere.wav")});
        QCOMPARE(refused.code, 1);
        QVERIFY(refused.err.contains("/nowhere.wav"));
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
};

HR_TEST(tst_hrack_sound)
#include "tst_hrack_sound.moc"
