// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"
#include "library/bench_check.h"
#include "support/fixtures.h"

using namespace hr;

class tst_bench_check : public QObject {
    Q_OBJECT

private slots:
    void whatWasCheckedIsFoundAgain()
    {
        test::TemporaryStore store;
        QVERIFY(!library::lastBenchCheck(*store.store));
        bench::Check good;
        good.known = good.measured = 1;
        good.allowed = 0.1;
        bench::Check off = good;
        off.measured = 2;
        bench::Check missing = good;
        missing.measured = std::nan("");
        const auto check = library::benchCheckOf({good, missing, off});
        QCOMPARE(check.passed, 1);
        QCOMPARE(check.failed, 2);
        QVERIFY(!check.isWithinLimits());
        HR_VERIFY(library::keepBenchCheck(*store.store, check));
        const auto kept = library::lastBenchCheck(*store.store);
        QVERIFY(kept && kept->failed == 2 && kept->taken == check.taken);
        QCOMPARE(kept->checks.size(), 3U);
        QCOMPARE(kept->checks[2].measured, 2.0);
        QVERIFY(std::isnan(kept->checks[1].measured));
        QVERIFY(kept->isOf(QString::fromStdString(bench::benchVersion())));
        QVERIFY(!kept->isOf(QStringLiteral("another")));
        HR_VERIFY(library::keepBenchCheck(*store.store, library::benchCheckOf({good})));
        QVERIFY(library::lastBenchCheck(*store.store)->isWithinLimits());
        // Of nothing it says nothing.
        QVERIFY(!library::benchCheckOf({}).isWithinLimits());
        for (const char* rubbish :
             {"", "[]", "{\"passed\": \"all\"}", "{", "{\"taken\": \"2026\"}",
              "{\"bench_version\": \"1\", \"taken\": \"2026\", \"passed\": 1, \"failed\": "
              "0, \"checks\": [{}]}"}) {
            HR_VERIFY(store.store->setSetting(QStringLiteral("bench-check"), QString::fromLatin1(rubbish)));
            QVERIFY(!library::lastBenchCheck(*store.store));
        }
    }
};

HR_TEST(tst_bench_check)
#include "tst_bench_check.moc"
