// SPDX-License-Identifier: GPL-3.0-or-later
#include "exchange/batch.h"
#include "exchange/document.h"
#include "exchange/measurement_file.h"
#include "support/fixtures.h"

#include <fstream>

using namespace hr;
namespace fs = std::filesystem;

class tst_batch : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<library::Store> m_store;

    fs::path path(const char* name) const { return m_folder.filePath(QLatin1String(name)).toStdString(); }

    exchange::BatchItem item(double noise_dbfs) const
    {
        auto info = *m_store->catalogue.info(QStringLiteral("reference:added-noise"));
        exchange::BatchItem item{{"reference:added-noise", {}}, info, {noise_dbfs}, {}};
        item.values.resize(info.parameters.size());
        item.set_up = library::setUpOf(m_store->catalogue, item.location, info, item.values);
        return item;
    }
    std::vector<exchange::BatchItem> items() const
    {
        return {item(-60), item(-70), item(-80), item(-90), item(-100)};
    }
    exchange::BatchOrder order(const char* folder) const
    {
        exchange::BatchOrder order;
        order.folder = path(folder);
        order.tests = *bench::testsNamed({"noise"});
        order.jobs = 2;
        return order;
    }
    static std::size_t filesIn(const fs::path& folder)
    {
        return static_cast<std::size_t>(
            std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
    }

private slots:
    void init()
    {
        m_store.reset();
        fs::remove_all(path("store"));
        m_store = std::move(*library::Store::open(path("store")));
        HR_VERIFY(m_store->catalogue.recordReferences());
    }
    void cleanupTestCase() { m_store.reset(); }

    void itGoesOnWhereItWas()
    {
        auto asked = order("on");
        auto first = exchange::runBatch(*m_store, {item(-60), item(-70)}, asked);
        HR_VERIFY(first);
        QCOMPARE(first->measured, std::size_t{2});
        auto second = exchange::runBatch(*m_store, items(), asked);
        HR_VERIFY(second);
        QCOMPARE(second->kept, std::size_t{2});
        QCOMPARE(second->measured, std::size_t{3});
        QCOMPARE(filesIn(asked.folder), std::size_t{5});
        // Half a file, as of a machine that went down, and one of another build are measured again.
        const fs::path torn = asked.folder / exchange::batchFile(item(-80).set_up, {});
        std::ofstream(torn) << "{\"processor\"";
        auto another = item(-90);
        another.set_up.build = QStringLiteral("newer");
        auto third = exchange::runBatch(*m_store, {item(-70), item(-80), another}, asked);
        HR_VERIFY(third);
        QCOMPARE(third->measured, std::size_t{2});
        QCOMPARE(filesIn(asked.folder), std::size_t{5});
        asked.tests = *bench::testsNamed({"noise", "harmonics"});
        QCOMPARE(exchange::runBatch(*m_store, {item(-70)}, asked)->kept, std::size_t{0});
        asked.conditions.sample_rate_hz = 96000;
        QCOMPARE(exchange::runBatch(*m_store, {item(-70)}, asked)->kept, std::size_t{0});
    }

    void aDocumentReadsBackAsItWas()
    {
        const auto asked = order("back");
        HR_VERIFY(exchange::runBatch(*m_store, {item(-60)}, asked));
        const auto document = exchange::readDocument(asked.folder / exchange::batchFile(item(-60).set_up, {}));
        HR_VERIFY(document);
        auto read = exchange::measurementIn(*document);
        HR_VERIFY(read);
        QCOMPARE(read->set_up.key(), item(-60).set_up.key());
        QCOMPARE(read->measurement.conditions, bench::Conditions());
        HR_NEAR(*read->measurement.readings.front().second.number("idle_dbfs"), -60, 0.2);
        const auto stored = m_store->runs.of(item(-60).set_up);
        HR_NEAR(*stored->front().reading.number("idle_dbfs"), -60, 0.2);
        for (const char* key : {"processor", "set_up", "readings", "conditions", "tests"}) {
            auto damaged = *document;
            damaged[key] = 3;
            QVERIFY2(!exchange::measurementIn(damaged), key);
            damaged.erase(key);
            QVERIFY2(!exchange::measurementIn(damaged), key);
        }
    }

    void shardsShareItAndComeTogether()
    {
        std::size_t measured = 0;
        for (unsigned part = 1; part <= 3; ++part) {
            auto asked = order(part == 1 ? "part1" : part == 2 ? "part2" : "part3");
            asked.shard = part;
            asked.shards = 3;
            asked.store = false;
            measured += exchange::runBatch(*m_store, items(), asked)->measured;
        }
        QCOMPARE(measured, std::size_t{5});
        QVERIFY(m_store->runs.of(item(-70).set_up)->empty());
        std::ofstream(path("part1") / "stray.json") << "[1, 2]";
        const auto merged =
            exchange::merge(*m_store, {path("part1"), path("part2"), path("part3")}, path("whole"));
        HR_VERIFY(merged);
        QCOMPARE(merged->taken, std::size_t{5});
        QCOMPARE(merged->unreadable.size(), std::size_t{1});
        QVERIFY(merged->unreadable.front().find("stray.json") != std::string::npos);
        QCOMPARE(filesIn(path("whole")), std::size_t{5});
        for (const auto& one : items())
            HR_NEAR(*m_store->runs.of(one.set_up)->front().reading.number("idle_dbfs"), one.values[0], 0.2);
        const auto again = exchange::merge(*m_store, {path("whole")}, path("copied"));
        QCOMPARE(filesIn(path("copied")), std::size_t{5}); // whatever the catalogue has
        QCOMPARE(again->taken, std::size_t{0});            // nothing is newer than what is there
        QCOMPARE(again->older, std::size_t{5});
        QVERIFY(!exchange::merge(*m_store, {path("nowhere")}, {}));
    }

    void oneSetUpAtTwoRatesIsTwo()
    {
        auto at_48 = order("at-48");
        auto at_96 = order("at-96");
        at_96.conditions.sample_rate_hz = 96000;
        HR_VERIFY(exchange::runBatch(*m_store, {item(-60)}, at_48));
        HR_VERIFY(exchange::runBatch(*m_store, {item(-60)}, at_96));
        const auto merged = exchange::merge(*m_store, {path("at-48"), path("at-96")}, path("both"));
        HR_VERIFY(merged);
        QCOMPARE(merged->older, std::size_t{2}); // the catalogue has them; none stands in for the other
        QCOMPARE(filesIn(path("both")), std::size_t{2});
        QCOMPARE(m_store->runs.of(item(-60).set_up, at_96.conditions)->size(), std::size_t{1});
    }

    void whatIsBrokenOffOrCannotBeWrittenIsNotThere()
    {
        auto asked = order("off");
        std::stop_source stop;
        stop.request_stop();
        asked.cancel = stop.get_token();
        QCOMPARE(exchange::runBatch(*m_store, items(), asked)->measured, std::size_t{0});
        QCOMPARE(filesIn(asked.folder), std::size_t{0});
        std::ofstream(path("file")) << "not a folder";
        auto into_file = order("file");
        QCOMPARE(exchange::runBatch(*m_store, items(), into_file).error().blame, Blame::Machine);
    }

    void whatFailsIsSaidInItsFile()
    {
        exchange::BatchItem broken = item(-70);
        broken.location = test::faultyAt("crash-in-run");
        const auto asked = order("failed");
        const auto outcome = exchange::runBatch(*m_store, {broken, item(-80)}, asked);
        HR_VERIFY(outcome);
        QCOMPARE(outcome->measured, std::size_t{2});
        QCOMPARE(outcome->failed.size(), std::size_t{1});
        const auto document = exchange::readDocument(asked.folder / exchange::batchFile(broken.set_up, {}));
        QCOMPARE((*document)["outcome"].get<std::string>(), std::string("failed"));
    }

    void collectionsAreMeasuredAsTheyWereKept()
    {
        const auto id = m_store->collections.create(QStringLiteral("Glue"));
        HR_VERIFY(m_store->collections.add(
            *id,
            {0, QStringLiteral("processor"), QStringLiteral("reference:added-noise"), {{"noise_dbfs", -45}}}));
        HR_VERIFY(m_store->collections.add(
            *id, {0, QStringLiteral("processor"), QStringLiteral("lv2:urn:gone"), {}}));
        const auto found = exchange::batchItems(*m_store, QStringLiteral("Glue"));
        HR_VERIFY(found);
        QCOMPARE(found->items.size(), std::size_t{1});
        HR_NEAR(found->items.front().values[0], -45, 0);
        QCOMPARE(found->left_out.front().first, std::string("lv2:urn:gone"));
        QVERIFY(!exchange::batchItems(*m_store, QStringLiteral("Nothing")));
    }
};

HR_TEST(tst_batch)
#include "tst_batch.moc"
