// SPDX-License-Identifier: GPL-3.0-or-later
//
// Steps that are taken one after the other, and what is done once a hand rests.
#include "jobs/soon.h"
#include "support/fixtures.h"
#include "tour/steps.h"

#include <QSignalSpy>

using namespace hr;
using namespace hr::app;

class tst_steps : public QObject {
    Q_OBJECT

private slots:
    void theyAreTakenInTheirOrder()
    {
        Steps steps;
        QStringList taken;
        bool holds = false;
        steps.then([&] { taken << QStringLiteral("one"); });
        steps.wait("what comes later", [&] { return holds; });
        steps.then([&] { taken << QStringLiteral("two"); });
        steps.pause(60);
        steps.attempt([&]() -> Result<void> {
            taken << QStringLiteral("three");
            return {};
        });
        QSignalSpy finished(&steps, &Steps::finished);
        steps.start();
        QTest::qWait(120);
        QCOMPARE(taken, QStringList{QStringLiteral("one")});
        holds = true;
        QElapsedTimer since;
        since.start();
        QVERIFY(finished.wait(5000));
        QVERIFY(since.elapsed() >= 60);
        QCOMPARE(taken.size(), 3);
        QVERIFY(finished.front().at(0).toString().isEmpty());
    }

    void oneThatFailsIsTheLast()
    {
        Steps steps;
        bool went_on = false;
        steps.attempt([]() -> Result<void> { return wrongRequest("It cannot be done."); });
        steps.then([&] { went_on = true; });
        QSignalSpy finished(&steps, &Steps::finished);
        steps.start();
        QTest::qWait(100);
        QCOMPARE(finished.count(), 1);
        QCOMPARE(finished.front().at(0).toString(), QStringLiteral("It cannot be done."));
        QVERIFY(!went_on);
    }

    void soonWaitsUntilTheHandRests()
    {
        int done = 0;
        Soon soon(80, [&] { ++done; });
        for (int i = 0; i < 5; ++i) {
            soon.start();
            QTest::qWait(20);
        }
        QCOMPARE(done, 0);
        QTRY_COMPARE(done, 1);
        soon.start();
        soon.stop();
        QTest::qWait(150);
        QCOMPARE(done, 1);
    }
};

HR_TEST(tst_steps)
#include "tst_steps.moc"
