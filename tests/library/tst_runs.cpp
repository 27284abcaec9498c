// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain.h"
#include "support/fixtures.h"

#include <QSignalSpy>
#include <fstream>

using namespace hr;
using test::TemporaryStore;

class tst_runs : public QObject {
    Q_OBJECT

    static library::SetUp setUp(library::Store& store, const bench::Measurement& m,
                                const std::string& bundle = {})
    {
        return library::setUpOf(store.catalogue, {m.processor.id, bundle}, m.processor, m.values);
    }

    static bench::Measurement someMeasurement(const std::string& id, double gain_db)
    {
        bench::Measurement m;
        m.processor.id = id;
        m.processor.parameters = {{"gain_db", "Gain", "dB", -60, 24, 0, {}, {}, {}, false}};
        m.values = {gain_db};
        bench::Reading reading;
        reading.put("gain_1k_db", gain_db);
        m.readings = {{"response", reading}};
        return m;
    }

private slots:
    void theNewestOfEachTestIsKeptWithItsConditions()
    {
        TemporaryStore kept;
        bench::Measurement m;
        m.processor.id = "lv2:x";
        m.processor.parameters = {{"gain_db", "Gain", "dB", -60, 24, -6, {}, {}, {}, false}};
        m.started = "2026-01-31T12:00:00Z";
        for (const double gain : {-3.0, -6.0}) {
            m.values = {gain};
            bench::Reading reading;
            reading.put("gain_1k_db", gain);
            reading.series["magnitude"] = {"frequency_hz", "magnitude_db", {{20, gain}, {20000, gain}}};
            m.readings = {{"response", reading}};
            HR_VERIFY(kept.store->runs.store(setUp(*kept.store, m), m));
        }
        m.readings = {{"harmonics", bench::Reading{}}};
        HR_VERIFY(kept.store->runs.store(setUp(*kept.store, m), m));
        kept.store.reset();
        auto again = library::Store::open(kept.path());
        HR_VERIFY(again);
        const auto latest = (*again)->runs.latest(QStringLiteral("lv2:x"));
        HR_VERIFY(latest);
        QCOMPARE(latest->size(), std::size_t{2});
        QCOMPARE(latest->at(0).test, QStringLiteral("response"));
        QCOMPARE(*latest->at(0).reading.number("gain_1k_db"), -6.0);
        QCOMPARE(latest->at(0).settings["gain_db"].get<double>(), -6.0);
        QCOMPARE(latest->at(0).conditions["sample_rate"].get<double>(), 48000.0);
        QCOMPARE(latest->at(0).reading.series.at("magnitude").points.size(), std::size_t{2});
        QCOMPARE(*(*again)->runs.measured(), QStringList{QStringLiteral("lv2:x")});
        QVERIFY((*again)->runs.latest(QStringLiteral("lv2:y"))->empty());
    }

    void whatDiffersInValuesPresetOrBuildIsAnotherThing()
    {
        TemporaryStore kept;
        const std::string bundle = kept.path("b.lv2").string();
        const auto writeBundle = [&](const char* content) {
            std::filesystem::create_directory(bundle);
            std::ofstream(bundle + "/b.so") << content;
        };
        writeBundle("one build");
        const auto atGain = [](double gain) {
            bench::Measurement m = someMeasurement("lv2:x", gain);
            m.readings.front().second.put("gain_1k_db", gain);
            return m;
        };
        for (const double gain : {-3.0, -6.0})
            HR_VERIFY(kept.store->runs.store(setUp(*kept.store, atGain(gain), bundle), atGain(gain)));
        const auto gainOf = [&](const library::SetUp& of) {
            const auto found = kept.store->runs.of(of);
            return found && !found->empty() ? found->front().reading.number("gain_1k_db") : std::nullopt;
        };
        for (const double gain : {-3.0, -6.0})
            HR_NEAR(gainOf(setUp(*kept.store, atGain(gain), bundle)).value_or(99), gain, 0);
        library::SetUp preset = setUp(*kept.store, atGain(-3), bundle);
        preset.preset = QStringLiteral("Quay");
        QVERIFY(!gainOf(preset));
        writeBundle("another build, at the same place");
        QVERIFY(!gainOf(setUp(*kept.store, atGain(-3), bundle)));
        bench::Conditions quieter;
        quieter.level_dbfs = -30;
        writeBundle("one build");
        QVERIFY(kept.store->runs.of(setUp(*kept.store, atGain(-3), bundle), quieter)->empty());
    }

    void whatWasTakenWithAnotherProgrammeIsKeptApart()
    {
        TemporaryStore kept;
        bench::Measurement usual = someMeasurement("lv2:x", -3);
        bench::Measurement other = usual;
        other.conditions.programme = *bench::passageOf("harbour", test::tone(440, -20, 0.2), 48000);
        other.readings.front().second.put("gain_1k_db", -9.0);
        const library::SetUp set_up = setUp(*kept.store, usual);
        HR_VERIFY(kept.store->runs.store(set_up, usual));
        HR_VERIFY(kept.store->runs.store(set_up, other));
        const auto gainUnder = [&](const bench::Conditions& conditions) {
            return kept.store->runs.of(set_up, conditions)->at(0).reading.number("gain_1k_db");
        };
        QVERIFY(gainUnder({}) != gainUnder(other.conditions));
        QCOMPARE(*gainUnder(other.conditions), -9.0);
        const auto stored = kept.store->runs.of(set_up, other.conditions);
        QCOMPARE(stored->at(0).conditions["programme"]["title"].get<std::string>(), std::string("harbour"));
        // The same sound read again is the same; another is not.
        auto again = other.conditions;
        again.programme = *bench::passageOf("read again", test::tone(440, -20, 0.2), 48000);
        QCOMPARE(*gainUnder(again), -9.0);
        again.programme = *bench::passageOf("harbour", test::tone(441, -20, 0.2), 48000);
        QVERIFY(kept.store->runs.of(set_up, again)->empty());
    }

    void printsOfAnEarlierVersionAreReadAsFarAsTheyGo()
    {
        TemporaryStore kept;
        const auto put = [&](const char* id, qsizetype figures) {
            const QByteArray bytes(figures * static_cast<qsizetype>(sizeof(float)), '\0');
            HR_VERIFY(kept.store->database().change(
                QStringLiteral("INSERT OR REPLACE INTO behaviours VALUES (?, '', ?)"),
                {QString::fromLatin1(id), bytes}));
        };
        put("lv2:earlier", static_cast<qsizetype>(bench::fingerprint_parts[3].first));
        put("lv2:now", static_cast<qsizetype>(bench::fingerprint_size));
        put("lv2:rubbish", 7);
        const auto all = kept.store->runs.fingerprints();
        HR_VERIFY(all);
        const auto of = [&](const char* id) {
            return all->prints[static_cast<std::size_t>(all->ids.indexOf(QString::fromLatin1(id)))];
        };
        QCOMPARE(bench::distance(of("lv2:earlier"), of("lv2:now")), 0.0F);
        QVERIFY(std::isnan(of("lv2:earlier").back()));
        QVERIFY(std::isnan(of("lv2:rubbish").front()));
    }

    void chainsOfOneTitleAreTwo()
    {
        TemporaryStore kept;
        chain::Chain first{"Quay", {}}, second{"Quay", {}};
        chain::addStage(first, "reference:gain");
        chain::addStage(second, "reference:hard-clip");
        const auto keyOf = [&](const chain::Chain& chain) {
            const auto placed = chain::place(chain, [](const std::string& id) {
                return Result<hosting::Location>(hosting::Location{id, {}});
            });
            auto instance = hosting::openInstance(placed.location);
            const auto info = (*instance)->info();
            return library::setUpOf(kept.store->catalogue, placed.location, info, *chain::values(chain, info))
                .key();
        };
        QVERIFY(keyOf(first) != keyOf(second));
        chain::Chain renamed = first;
        renamed.name = "Dusk";
        QCOMPARE(keyOf(renamed), keyOf(first)); // a title measures nothing
        renamed.nodes[0].settings = {{"gain_db", 3}};
        QVERIFY(keyOf(renamed) != keyOf(first));
    }

    void whatNobodyCanReachIsGone()
    {
        TemporaryStore kept;
        const bench::Measurement m = someMeasurement("lv2:x", -3);
        QSignalSpy measured(&kept.store->changes(), &library::Changes::measured);
        for (int i = 0; i < 50; ++i)
            HR_VERIFY(kept.store->runs.store(setUp(*kept.store, m), m));
        QCOMPARE(measured.size(), 50);
        QCOMPARE(measured[0][0].toString(), QStringLiteral("lv2:x"));
        QCOMPARE(measured[0][1].toString(), setUp(*kept.store, m).key());
        for (const char* table : {"runs", "readings", "figures"}) {
            auto rows =
                kept.store->database().run(QStringLiteral("SELECT count(*) FROM %1").arg(QLatin1String(table)));
            QVERIFY(rows->next());
            QCOMPARE(rows->value(0).toInt(), 1);
        }
    }
};

HR_TEST(tst_runs)
#include "tst_runs.moc"
