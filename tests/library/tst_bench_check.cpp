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
        const auto check = library::benchCheckOf({good, good, off});
        QCOMPARE(check.passed, 2);
        QCOMPARE(check.failed, 1);
        QVERIFY(!check.isWithinLimits());
        HR_VERIFY(library::keepBenchCheck(*store.store, check));
        const auto kept = library::lastBenchCheck(*store.store);
        QVERIFY(kept && kept->failed == 1 && kept->taken == check.taken);
        QVERIFY(kept->isOf(QString::fromStdString(bench::benchVersion())));
        QVERIFY(!kept->isOf(QStringLiteral("another")));
        HR_VERIFY(library::keepBenchCheck(*store.store, library::benchCheckOf({good})));
        QVERIFY(library::lastBenchCheck(*store.store)->isWithinLimits());
        // Of nothing it says nothing.
        QVERIFY(!library::benchCheckOf({}).isWithinLimits());
        for (const char* rubbish : {"", "[]", "{\"passed\": \"all\"}", "{", "{\"taken\": \"2026\"}"}) {
            HR_VERIFY(store.store->setSetting(QStringLiteral("bench-check"), QString::fromLatin1(rubbish)));
            QVERIFY(!library::lastBenchCheck(*store.store));
        }
    }
};

HR_TEST(tst_bench_check)
#include "tst_bench_check.moc"
