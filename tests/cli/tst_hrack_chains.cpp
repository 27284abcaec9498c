// SPDX-License-Identifier: GPL-3.0-or-later
//
// What hrack does with chains and what is handed over: order, path, deliver, fit-times.
#include "cli/hrack_program.h"
#include "signal/audio_file.h"
#include "signal/generators.h"

using namespace hr;
using nlohmann::json;
using test::Finished;

class tst_hrack_chains : public test::HrackProgram {
    Q_OBJECT

    QString at(const char* name) const { return m_data.filePath(QLatin1String(name)); }
    void write(const char* name, const char* text) const
    {
        QFile file(at(name));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(text);
    }
    json answerTo(const QStringList& arguments, int status = 0) const
    {
        const Finished finished = hrack(arguments + QStringList{QStringLiteral("--json")});
        if (finished.code != status)
            qWarning("%s", finished.err.constData());
        return finished.code == status ? document(finished) : json();
    }

private slots:
    void initTestCase()
    {
        HR_VERIFY(signal::writeAudioFile(at("in.wav").toStdString(),
                                         signal::onChannels(signal::gaussianNoise(0.1, 48000, 3), 2, 48000)));
        write("chain.json", R"({"format": "honest-rack-chain", "version": 2, "name": "c", "nodes": [
            {"id": "eq", "processor": "reference:peak-filter", "may_move": true, "settings": {"gain_db": 12}},
            {"id": "hot", "processor": "reference:gain", "settings": {"gain_db": 24}},
            {"id": "clip", "processor": "reference:hard-clip", "may_move": true, "settings": {"clip_dbfs": -3}}]})");
        write("target.json",
              R"({"name": "quiet", "integrated_lufs": {"at_most": -30}, "bits": {"at_least": 16}})");
    }

    void ordersAreListed()
    {
        const json all =
            answerTo({QStringLiteral("order"), at("chain.json"), QStringLiteral("--on"), at("in.wav")});
        const json movable{"eq", "clip"};
        QVERIFY(all["movable"] == movable);
        QCOMPARE(all["orders"].size(), std::size_t{2});
        QVERIFY(all["orders"][0]["as_built"] == true && all["orders"][0]["residual_db"].is_null());
        QVERIFY(all["orders"][1]["residual_db"].get<double>() > -60 && all["orders"][1]["same_as"].is_null());
        QVERIFY(all["distinct"] == json(2));
        const json first = answerTo({QStringLiteral("order"), at("chain.json"), QStringLiteral("--on"),
                                     at("in.wav"), QStringLiteral("--move"), QStringLiteral("eq,hot"),
                                     QStringLiteral("--at-most"), QStringLiteral("1")});
        QVERIFY(first["orders"].size() == 1 && first["distinct"] == 1); // a gain and a filter may change places
    }

    void thePathIsTold()
    {
        const json path =
            answerTo({QStringLiteral("path"), at("chain.json"), QStringLiteral("--on"), at("in.wav")});
        QCOMPARE(path["points"].size(), std::size_t{4});
        QVERIFY(path["points"][0]["after"] == json("in"));
        HR_NEAR(path["points"][2]["gain_db"].get<double>(), 36, 0.01); // at the centre of the bell
        QVERIFY(path["overload_arises"] == "hot" && path["overload_heard"] == true); // between the samples
    }

    void filesAreDelivered()
    {
        const QStringList deliver{QStringLiteral("deliver"), at("in.wav"), QStringLiteral("--target"),
                                  at("target.json")};
        const json checked = answerTo(deliver, 2)["files"][0];
        QVERIFY(checked["written"].is_null() && checked["pass"] == false);
        const json& loudness = checked["checks"][0];
        HR_NEAR(loudness["change_db"].get<double>(), -30 - loudness["value"].get<double>(), 1e-9);
        QVERIFY(QDir().mkpath(at("out")));
        const json written = answerTo(deliver + QStringList{QStringLiteral("--out"), at("out"),
                                                            QStringLiteral("--format"), QStringLiteral("flac"),
                                                            QStringLiteral("--bits"), QStringLiteral("16")},
                                      2)["files"][0];
        QVERIFY(written["checks"][1]["value"] == json(16));
        QVERIFY(QFileInfo::exists(at("out/in.flac")));
        const json chain = answerTo({QStringLiteral("deliver"), QStringLiteral("--chain"), at("chain.json"),
                                     QStringLiteral("--on"), at("in.wav"), QStringLiteral("--target"),
                                     QStringLiteral("ebu-r128")},
                                    2)["files"][0];
        QVERIFY(chain["checks"][0]["value"].get<double>() > -15);
    }

    void timesAreListed()
    {
        const json times =
            answerTo({QStringLiteral("fit-times"), QStringLiteral("--tempo"), QStringLiteral("120")})["times"];
        QVERIFY(times.back()["note"] == json("4 bars"));
        QVERIFY(times.back()["ms"] == json(8000.0));
    }

    void whatMakesNoSenseIsRefused_data()
    {
        QTest::addColumn<QStringList>("arguments"); // names of files of ours begin with "@"
        QTest::addColumn<QString>("says");
        const auto row = [](const char* line, const char* says) {
            QTest::newRow(line) << QString::fromLatin1(line).split(QLatin1Char(' '))
                                << QString::fromLatin1(says);
        };
        row("order @chain.json --on @in.wav --move eq", "Fewer than two");
        row("order @chain.json --on @in.wav --move eq,nobody", "no stage \"nobody\"");
        row("order @target.json --on @in.wav", "target.json");
        row("path @chain.json --on @nothing.wav", "nothing.wav");
        row("path @chain.json --on @in.wav --level 99", "--level takes");
        row("path @chain.json --on @in.wav --frequency nan", "--frequency");
        row("deliver @in.wav --target nobody", "no target \"nobody\"");
        row("deliver @in.wav --target @chain.json", "no target for delivery");
        row("deliver @in.wav @in.wav --target ebu-r128 --out @out", "Two sources");
        row("deliver @in.wav --target ebu-r128 --out @", "is not overwritten");
        row("deliver @in.wav --target ebu-r128 --out @out --format flac --bits 32", "FLAC takes");
        row("deliver @in.wav --target ebu-r128 --bits 16", "go with --out");
        row("deliver --target ebu-r128", "deliver takes");
        row("fit-times --tempo 0", "1 to 1000");
        row("fit-times --tempo 100 --meter 4/5", "--meter takes");
    }
    void whatMakesNoSenseIsRefused()
    {
        QFETCH(QStringList, arguments);
        QFETCH(const QString, says);
        for (QString& one : arguments)
            if (one.startsWith(QLatin1Char('@')))
                one = m_data.filePath(one.mid(1));
        const Finished finished = hrack(arguments);
        QCOMPARE(finished.code, 1);
        QVERIFY2(QString::fromUtf8(finished.err).contains(says) && finished.err.count('\n') == 1,
                 finished.err.constData());
    }

    /// Three parts of known level: one to the left, one through a chain and a return, one switched off.
    void partsInStepAreRendered()
    {
        const auto tone = [&](const char* name, double hz, double seconds) {
            HR_VERIFY(signal::writeAudioFile(
                at(name).toStdString(),
                signal::onChannels(signal::sine(hz, 0.1, 48000, static_cast<std::size_t>(48000 * seconds)), 2,
                                   48000)));
        };
        tone("low.wav", 500, 2);
        tone("high.wav", 2000, 1);
        write("company.json", R"({"format": "honest-rack-company", "version": 1, "name": "c", "parts": [
            {"id": "p1", "file": "low.wav", "place_percent": -100, "level_db": -6.0206},
            {"id": "p2", "file": "high.wav", "repeats": false, "sends": [{"to": "r1", "level_db": 6.0206}], "chain":
             {"format": "honest-rack-chain", "version": 2, "nodes": [
              {"id": "s1", "processor": "reference:gain", "settings": {"gain_db": 6.0206}}]}},
            {"id": "p3", "file": "in.wav", "heard": false}],
            "returns": [{"id": "r1", "level_db": -6.0206}],
            "sum": {"format": "honest-rack-chain", "version": 2, "nodes": [
              {"id": "s1", "processor": "reference:gain", "settings": {"gain_db": -6.0206}}]}})");
        const QStringList render{QStringLiteral("render"), QStringLiteral("--chain"), at("company.json"),
                                 QStringLiteral("--out"), at("sum.wav")};
        const json told = answerTo(render);
        QCOMPARE(told["parts"].size(), std::size_t{3}); // two of them, and the return
        const auto sum = signal::readAudioFile(at("sum.wav").toStdString());
        HR_VERIFY(sum);
        QCOMPARE(sum->frames(), std::size_t{96000});
        // Peaks of the left: both in the first second, the low one alone in the second; right: the high one.
        const auto peak = [&](std::size_t channel, std::size_t from) {
            float most = 0;
            for (std::size_t i = from; i < from + 40000; ++i)
                most = std::max(most, std::abs(sum->channel(channel)[i]));
            return static_cast<double>(most);
        };
        HR_NEAR(peak(1, 4000), 0.2, 0.001);
        HR_NEAR(peak(0, 52000), 0.025, 0.001);
        HR_NEAR(peak(1, 52000), 0, 1e-6);
        QVERIFY(QDir(m_data.path()).entryList({QStringLiteral("*sum-*")}).isEmpty());
        QVERIFY(
            hrack(render + QStringList{QStringLiteral("--in"), at("in.wav")}).err.contains("leave out --in"));
        QFile::remove(at("high.wav"));
        QVERIFY(hrack(render).err.contains("\"high.wav\" of"));
    }

    /// One sentence each, with nothing written.
    void damagedPartsAreRefused_data()
    {
        QTest::addColumn<QString>("parts"); // with ' for "
        QTest::addColumn<QString>("says");
        const auto row = [](const char* name, const QString& parts, const char* says) {
            QTest::newRow(name) << parts << QString::fromLatin1(says);
        };
        const auto one = [](const char* more) {
            return QStringLiteral("[{'id': 'p1', 'file': 'in.wav'%1}]").arg(QLatin1String(more));
        };
        row("no parts", QStringLiteral("7"), "parts");
        row("no file", QStringLiteral("[{'id': 'p1'}]"), "file");
        row("two of one name", QStringLiteral("[{'id': 'p1', 'file': 'a'}, {'id': 'p1', 'file': 'b'}]"), "p1");
        row("a send to nowhere", one(", 'sends': [{'to': 'r9'}]"), "r9");
        row("a level beyond reason", one(", 'level_db': 900"), "level_db");
        row("no number", one(", 'place_percent': 'left'"), "place_percent");
        row("a chain that is none", one(", 'chain': [1, 2]"), "chain");
        QStringList many;
        for (int i = 0; i < 13; ++i)
            many << QStringLiteral("{'id': 'p%1', 'file': 'in.wav'}").arg(i);
        row("more than can play", QStringLiteral("[%1]").arg(many.join(QStringLiteral(", "))), "12");
    }
    void damagedPartsAreRefused()
    {
        QFETCH(const QString, parts);
        QFETCH(const QString, says);
        QString text =
            QStringLiteral("{'format': 'honest-rack-company', 'version': 1, 'name': 'c', 'parts': %1}")
                .arg(parts);
        text.replace(QLatin1Char('\''), QLatin1Char('"'));
        write("damaged.json", text.toUtf8().constData());
        const Finished finished = hrack({QStringLiteral("render"), QStringLiteral("--chain"),
                                         at("damaged.json"), QStringLiteral("--out"), at("none.wav")});
        QCOMPARE(finished.code, 1);
        QVERIFY2(finished.err.count('\n') == 1 && QString::fromUtf8(finished.err).contains(says),
                 finished.err.constData());
        QVERIFY(!QFile::exists(at("none.wav")));
    }
};

HR_TEST(tst_hrack_chains)
#include "tst_hrack_chains.moc"
