// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/selfcheck.h"
#include "support/fixtures.h"

using namespace hr;

class tst_selfcheck : public QObject {
    Q_OBJECT

private slots:
    void theBenchIsWithinItsLimits()
    {
        const auto checks = bench::selfcheck();
        QVERIFY(checks.size() > 40);
        for (const bench::Check& check : checks)
            QVERIFY2(check.pass(), qPrintable(QStringLiteral("%1 of %2: %3 instead of %4")
                                                  .arg(QString::fromStdString(check.figure),
                                                       QString::fromStdString(check.reference))
                                                  .arg(check.measured)
                                                  .arg(check.known)));
    }

    void aWrongOrMissingFigureFails()
    {
        QVERIFY(!(bench::Check{"", "", 1.0, 1.03, 0.02}.pass()));
        QVERIFY(!(bench::Check{"", "", 1.0, 0.97, 0.02}.pass()));
        QVERIFY(!(bench::Check{"", "", 1.0, std::nan(""), 0.02}.pass()));
        QVERIFY((bench::Check{"", "", 1.0, 1.01, 0.02}.pass()));
    }
};

HR_TEST(tst_selfcheck)
#include "tst_selfcheck.moc"
