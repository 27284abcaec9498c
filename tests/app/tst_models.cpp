// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/bench_queue.h"
#include "models/processor_model.h"
#include "playbar/source_list.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <QAbstractItemModelTester>
#include <QSignalSpy>

using namespace hr;
using namespace hr::app;
using test::TemporaryStore;

class tst_models : public QObject {
    Q_OBJECT

private slots:
    void theProcessorModelIsAModel()
    {
        TemporaryStore kept;
        ProcessorModel model(*kept.store);
        QAbstractItemModelTester tester(&model, QAbstractItemModelTester::FailureReportingMode::QtTest);
        const int all = model.rowCount();
        QCOMPARE(all, model.total());
        model.search(QStringLiteral("hard cl"));
        QCOMPARE(model.rowCount(), 1);
        QCOMPARE(model.entry(model.index(0, 0))->id, QStringLiteral("reference:hard-clip"));
        QVERIFY(!model.indexOf(QStringLiteral("reference:gain")).isValid());
        model.search(QStringLiteral("zzz"));
        QCOMPARE(model.rowCount(), 0);
        model.search({});
        QCOMPARE(model.rowCount(), all);
        QVERIFY(model.indexOf(QStringLiteral("reference:gain")).isValid());
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
        BenchQueue bench(*kept.store, jobs);
        QSignalSpy measured(&bench, &BenchQueue::measured);
        QSignalSpy notice(&bench, &BenchQueue::notice);
        auto info = kept.store->catalogue.info(QStringLiteral("reference:gain"));
        bench.measure({{"reference:gain", {}}, *info, {-6}, {QStringLiteral("response")}});
        bench.measure(
            {{"reference:gain", {}}, *info, {-9}, {QStringLiteral("response")}}); // it is in the queue already
        QCOMPARE(bench.waiting(), 1);
        QVERIFY(bench.progressOf(QStringLiteral("reference:gain")).has_value());
        QTRY_COMPARE_WITH_TIMEOUT(measured.size(), 1, 20000);
        QVERIFY(!bench.progressOf(QStringLiteral("reference:gain")).has_value());
        HR_NEAR(*kept.store->readings.latest(QStringLiteral("reference:gain"))
                     ->front()
                     .reading.number("gain_1k_db"),
                -6, 0.01);
        QVERIFY(notice.isEmpty());
    }

    void aFailingProcessorIsSaidAndTheQueueGoesOn()
    {
        TemporaryStore kept;
        Jobs jobs;
        BenchQueue bench(*kept.store, jobs);
        QSignalSpy notice(&bench, &BenchQueue::notice);
        processors::ProcessorInfo info;
        info.id = test::faultyAt("crash-in-run").id;
        info.name = "Crasher";
        info.parameters = {{"e", "E", "", 0, 1, 0, {}, {}, {}, false}};
        bench.measure({test::faultyAt("crash-in-run"), info, {0}, {}});
        QTRY_COMPARE_WITH_TIMEOUT(bench.waiting(), 0, 20000);
        QVERIFY(notice.size() == 1 && notice[0][0].toString().startsWith(QStringLiteral("Crasher crashed")));
    }

    void cancellingEmptiesTheQueue()
    {
        TemporaryStore kept;
        Jobs jobs;
        BenchQueue bench(*kept.store, jobs);
        for (const char* id :
             {"reference:gain", "reference:low-pass", "reference:peak-filter", "reference:hard-clip"}) {
            auto info = kept.store->catalogue.info(QString::fromLatin1(id));
            bench.measure({{id, {}}, *info, processors::defaultValues(*info), {}});
        }
        bench.cancel();
        QTRY_COMPARE_WITH_TIMEOUT(bench.waiting(), 0, 20000);
        QVERIFY(kept.store->readings.latest(QStringLiteral("reference:hard-clip"))->empty());
    }

    void sourcesGoRound()
    {
        QTemporaryDir folder;
        SourceList none(folder.path().toStdString());
        QVERIFY(none.first().isEmpty() && none.next(QStringLiteral("x")).isEmpty());
        QCOMPARE(none.of(QStringLiteral("/a/b/My take.wav")).name, QStringLiteral("My take"));
        none.of(QStringLiteral("/other.wav"));
        QCOMPARE(none.next(QStringLiteral("/a/b/My take.wav")), QStringLiteral("/other.wav"));
        QCOMPARE(none.next(QStringLiteral("/other.wav")), QStringLiteral("/a/b/My take.wav"));
    }
};

HR_TEST(tst_models)
#include "tst_models.moc"
