// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/scanner.h"
#include "support/fixtures.h"

#include <map>

using namespace hr;
using namespace hr::hosting;

class tst_scanner : public QObject {
    Q_OBJECT

private slots:
    void triesEverythingOfABundle()
    {
        const auto findings = tryBundle({test::specimens_bundle, {}}).findings;
        std::map<std::string, const Finding*> by_id;
        for (const Finding& finding : findings)
            by_id[finding.location.id] = &finding;
        QVERIFY(by_id.contains(test::specimen + "lantern-saturator"));
        QVERIFY(!by_id[test::specimen + "lantern-saturator"]->fault);
        const Finding& broken = *by_id.at(test::specimen + "stormglass");
        QVERIFY(broken.fault && broken.info); // described all the same
        QCOMPARE(broken.info->name, std::string("Stormglass"));
    }

    void oneBadNeighbourHurtsNobody()
    {
        const TimeLimits quick{std::chrono::milliseconds(1000), std::chrono::milliseconds(500)};
        std::vector<std::string> well;
        std::size_t faulted = 0;
        tryBundles(findBundles({std::filesystem::path(HR_FAULTY_BUNDLES), std::filesystem::path(HR_SPECIMENS)}),
                   {.limits = quick}, [&](const Bundle&, const TriedBundle& tried) {
                       for (const Finding& finding : tried.findings) {
                           if (finding.fault)
                               ++faulted;
                           else
                               well.push_back(finding.location.id);
                       }
                   });
        QVERIFY(std::ranges::find(well, test::specimen + "cordage-leveller") != well.end());
        QVERIFY(std::ranges::find(well, test::faultyAt("pass").id) != well.end());
        QVERIFY2(faulted >= 13, qPrintable(QString::number(faulted)));
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void cancellingStopsBetweenBundles()
    {
        std::stop_source stop;
        stop.request_stop();
        int called = 0;
        tryBundles(findBundles({std::filesystem::path(HR_SPECIMENS)}), {1, stop.get_token()},
                   [&](const Bundle&, const TriedBundle&) { ++called; });
        QCOMPARE(called, 0);
    }
};

HR_TEST(tst_scanner)
#include "tst_scanner.moc"
