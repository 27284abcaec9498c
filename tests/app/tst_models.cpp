// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/bench_queue.h"
#include "models/processor_model.h"
#include "models/source_list.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <QAbstractItemModelTester>
#include <QSignalSpy>

using namespace hr;
using namespace hr::app;
using test::TemporaryStore;

class tst_models : public QObject {
    Q_OBJECT

    /// As it would stand in the line-up; at its defaults where no values are given.
    static Contender contender(library::Store& store, const char* id, std::vector<double> values = {})
    {
        Contender made;
        made.mark = 1;
        made.location = {id, {}};
        made.described = made.info = *store.catalogue.info(QString::fromLatin1(id));
        made.values = values.empty() ? processors::defaultValues(made.info) : std::move(values);
        return made;
    }

private slots:
    void theProcessorModelIsAModel()
    {
        TemporaryStore kept;
        ProcessorModel model(*kept.store);
        QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::QtTest);
        const int all = model.rowCount();
        QCOMPARE(all, model.total());
        model.search(QStringLiteral("reference hard cl"));
        QCOMPARE(model.rowCount(), 1);
        QCOMPARE(model.entry(model.index(0, 0))->id, QStringLiteral("reference:hard-clip"));
        QVERIFY(!model.indexOf(QStringLiteral("reference:gain")).isValid());
        model.search(QStringLiteral("zzz"));
        QCOMPARE(model.rowCount(), 0);
        model.search({});
        QCOMPARE(model.rowCount(), all);
        QVERIFY(
            !model.indexOf(QStringLiteral("reference:gain")).isValid()); // it stays out until it is asked for
    }

    void twentyThousandEntriesSearch()
    {
        TemporaryStore kept;
        std::vector<hosting::Finding> findings;
        for (int i = 0; i < 20000; ++i) {
            processors::ProcessorInfo info;
            info.id = "lv2:urn:" + std::to_string(i);
            info.name = (i % 2 ? "Tern " : "Gull ") + std::to_string(i);
            info.format = "LV2";
            findings.push_back({{info.id, "/b"}, info, std::nullopt});
        }
        HR_VERIFY(kept.store->catalogue.record({"/b", "1"}, {findings}));
        ProcessorModel model(*kept.store);
        model.search(QStringLiteral("tern"));
        QCOMPARE(model.rowCount(), 10000);
        model.search(QStringLiteral("tern 1999"));
        QCOMPARE(model.rowCount(), 6); // 1999, and 19991 to 19999 odd
    }

    void theBenchStoresWhatItFinds()
    {
        TemporaryStore kept;
        Jobs jobs;
        Notices notices;
        BenchQueue bench(*kept.store, jobs, notices);
        QSignalSpy measured(&kept.store->changes(), &library::Changes::measured);
        QSignalSpy told(&notices, &Notices::told);
        // Two rows of the same processor are two orders, the same row twice is one.
        const Contender quiet = contender(*kept.store, "reference:gain", {-6});
        const Contender quieter = contender(*kept.store, "reference:gain", {-9});
        for (const Contender* one : {&quiet, &quieter, &quiet})
            bench.measure(*one, {QStringLiteral("response")});
        QCOMPARE(bench.waiting(), 2);
        QVERIFY(bench.progressOf(bench.setUpOf(quiet).key()).has_value());
        QTRY_COMPARE_WITH_TIMEOUT(measured.size(), 2, 20000);
        QVERIFY(!bench.progressOf(bench.setUpOf(quiet).key()).has_value());
        for (const Contender* one : {&quiet, &quieter}) {
            const auto readings = kept.store->runs.of(bench.setUpOf(*one));
            QCOMPARE(readings->size(), std::size_t{1});
            HR_NEAR(*readings->front().reading.number("gain_1k_db"), one->values[0], 0.01);
        }
        QVERIFY(told.isEmpty());
    }

    void aFailingProcessorIsSaidAndTheQueueGoesOn()
    {
        TemporaryStore kept;
        Jobs jobs;
        Notices notices;
        BenchQueue bench(*kept.store, jobs, notices);
        QSignalSpy notice(&notices, &Notices::told);
        Contender crasher;
        crasher.location = test::faultyAt("crash-in-run");
        crasher.described.id = crasher.location.id;
        crasher.described.name = "Crasher";
        crasher.described.parameters = {{"e", "E", "", 0, 1, 0, {}, {}, {}, false}};
        crasher.info = crasher.described;
        crasher.values = {0};
        bench.measure(crasher);
        QTRY_COMPARE_WITH_TIMEOUT(bench.waiting(), 0, 20000);
        QVERIFY(notice.size() == 1 && notice[0][0].toString().startsWith(QStringLiteral("Crasher crashed")));
    }

    void cancellingEmptiesTheQueue()
    {
        TemporaryStore kept;
        Jobs jobs;
        Notices notices;
        BenchQueue bench(*kept.store, jobs, notices);
        for (const char* id :
             {"reference:gain", "reference:low-pass", "reference:peak-filter", "reference:hard-clip"})
            bench.measure(contender(*kept.store, id));
        bench.cancel();
        QTRY_COMPARE_WITH_TIMEOUT(bench.waiting(), 0, 20000);
        QVERIFY(kept.store->runs.latest(QStringLiteral("reference:hard-clip"))->empty());
    }

    void sourcesGoRound()
    {
        QTemporaryDir folder;
        SourceList none(folder.path().toStdString());
        QVERIFY(none.first().isEmpty() && none.next(QStringLiteral("x")).isEmpty());
        const QString mine = folder.filePath(QStringLiteral("My take.wav"));
        const QString other = folder.filePath(QStringLiteral("other.wav"));
        for (const QString& file : {mine, other})
            QVERIFY(QFile(file).open(QIODevice::WriteOnly));
        QCOMPARE(none.of(mine).name, QStringLiteral("My take"));
        QVERIFY(!none.has(mine)); // asking is not adding
        for (const QString& file : {mine, QStringLiteral("/nowhere.wav"), other})
            none.add(file);
        QCOMPARE(none.next(mine), other); // what is not there is passed over
        QCOMPARE(none.next(other), mine);
        QCOMPARE(none.next(mine, -1), other);
        QCOMPARE(none.next(QStringLiteral("generated:pink-noise")), mine);
        QVERIFY(isSourceThere(QStringLiteral("generated:pink-noise")));
        QVERIFY(!isSourceThere(QStringLiteral("generated:purple-noise")));
        none.remove(other);
        QCOMPARE(none.next(mine), mine);
    }
};

HR_TEST(tst_models)
#include "tst_models.moc"
