// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/fault_search.h"
#include "support/fixtures.h"

#include <functional>
#include <random>

using namespace hr;
using library::FaultSearch;

class tst_fault_search : public QObject {
    Q_OBJECT

    static QStringList names(int count)
    {
        QStringList ids;
        for (int i = 0; i < count; ++i)
            ids << QStringLiteral("p%1").arg(i);
        return ids;
    }
    /// To the end; how many steps it took.
    static int pursue(FaultSearch& search, const std::function<bool(const QStringList&)>& fails)
    {
        int steps = 0;
        int left = search.stepsLeft();
        while (const auto set = search.next()) {
            search.tell(fails(*set));
            ++steps;
            if (search.stepsLeft() >= left)
                return -1; // what is left has to become less
            left = search.stepsLeft();
        }
        return steps;
    }

private slots:
    void whoeverBreaksThingsInCompanyIsFound()
    {
        std::mt19937 random(3);
        for (int turn = 0; turn < 200; ++turn) {
            const QStringList ids = names(3 + static_cast<int>(random() % 300));
            const QString culprit = ids[static_cast<qsizetype>(random()) % ids.size()];
            FaultSearch search(ids);
            const int most = search.stepsLeft();
            const int steps =
                pursue(search, [&](const QStringList& set) { return set.size() > 1 && set.contains(culprit); });
            QCOMPARE(search.verdict().culprits, QStringList{culprit});
            QVERIFY(!search.verdict().beside.isEmpty());
            QVERIFY2(steps > 0 && steps <= most && most <= 22,
                     qPrintable(QStringLiteral("%1 of %2").arg(steps).arg(most)));
        }
    }

    void twoThatOnlyFailTogetherAreBothNamed()
    {
        FaultSearch search(names(50));
        pursue(search, [](const QStringList& set) {
            return set.contains(QStringLiteral("p7")) && set.contains(QStringLiteral("p31"));
        });
        QStringList both = search.verdict().culprits;
        both.sort();
        QCOMPARE(both, (QStringList{QStringLiteral("p31"), QStringLiteral("p7")}));
    }

    void whoeverFailsAloneAndNobody()
    {
        FaultSearch alone(names(20));
        pursue(alone, [](const QStringList& set) { return set.contains(QStringLiteral("p13")); });
        QCOMPARE(alone.verdict().culprits, QStringList{QStringLiteral("p13")});
        QVERIFY(alone.verdict().beside.isEmpty());
        FaultSearch nobody(names(20));
        QCOMPARE(pursue(nobody, [](const QStringList&) { return false; }), 1);
        QVERIFY(nobody.verdict().culprits.isEmpty());
        QVERIFY(!FaultSearch({}).next());
    }

    void whatDoesNotFailReliablyEndsTheSearch()
    {
        std::mt19937 random(11);
        for (int turn = 0; turn < 300; ++turn) {
            FaultSearch search(names(1 + static_cast<int>(random() % 20)));
            const int steps = pursue(search, [&](const QStringList&) { return random() % 2 == 0; });
            QVERIFY2(steps > 0 && steps < 20, qPrintable(QString::number(steps)));
        }
    }

    void realOnes()
    {
        const auto place = [](const QStringList& set) {
            std::vector<hosting::Location> places;
            for (const QString& id : set)
                places.push_back(test::faultyAt(id.toStdString()));
            return places;
        };
        QVERIFY(!library::failureTogether({test::faultyAt("jealous")}));
        QStringList ids(80, QStringLiteral("pass")); // more than a chain may have
        ids[3] = QStringLiteral("forker");
        ids[50] = QStringLiteral("jealous");
        FaultSearch search(ids);
        while (const auto set = search.next())
            search.tell(library::failureTogether(place(*set)).has_value());
        QCOMPARE(search.verdict().culprits, QStringList{QStringLiteral("jealous")});
    }
};

HR_TEST(tst_fault_search)
#include "tst_fault_search.moc"
