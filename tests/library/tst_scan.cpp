// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/scan.h"
#include "support/fixtures.h"

#include <fstream>

using namespace hr;
using test::TemporaryStore;

class tst_scan : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path bundle() const
    {
        return std::filesystem::path(m_folder.path().toStdString()) / "x.lv2";
    }
    library::ScanOptions options() const { return {{m_folder.path().toStdString()}, {}, {}}; }

private slots:
    void initTestCase()
    {
        std::filesystem::copy(test::specimens_bundle, bundle(), std::filesystem::copy_options::recursive);
    }

    void triesOnceThenOnlyWhatChanged()
    {
        TemporaryStore kept;
        auto report = library::scan(kept.store->catalogue, options());
        HR_VERIFY(report);
        QVERIFY(report->found >= 4);
        QCOMPARE(report->added, report->found);
        QCOMPARE(report->quarantined.size(), std::size_t{3});
        QCOMPARE(report->quarantined[1].fault.cause, hosting::Cause::Crash);

        int tried = 0;
        auto again = options();
        again.progress = [&](int, int, const QString&) { ++tried; };
        report = library::scan(kept.store->catalogue, again);
        HR_VERIFY(report);
        QCOMPARE(tried, 0);
        QCOMPARE(report->unchanged, report->found);
        QCOMPARE(report->quarantined.size(), std::size_t{3}); // still there

        std::ofstream(bundle() / "note.txt") << "touched";
        report = library::scan(kept.store->catalogue, again);
        QCOMPARE(tried, 1);
        QCOMPARE(report->added, 0);
    }

    void aBundleThatHasGoneIsNoLongerListed()
    {
        TemporaryStore kept;
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        auto nowhere = options();
        nowhere.folders = {"/nonexistent"};
        const auto report = library::scan(kept.store->catalogue, nowhere);
        HR_VERIFY(report);
        QCOMPARE(report->found, 0);
        QVERIFY(report->quarantined.empty());
    }

    void cancellingKeepsWhatWasFound()
    {
        TemporaryStore kept;
        std::atomic<bool> cancel{true};
        auto stopped = options();
        stopped.control.cancel = &cancel;
        const auto report = library::scan(kept.store->catalogue, stopped);
        HR_VERIFY(report);
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        HR_VERIFY(kept.store->catalogue.entry(QString::fromStdString(test::specimen + "lantern-saturator")));
    }
};

HR_TEST(tst_scan)
#include "tst_scan.moc"
