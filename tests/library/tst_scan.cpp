// SPDX-License-Identifier: GPL-3.0-or-later
#include "library/scan.h"
#include "support/fixtures.h"

#include <algorithm>
#include <fstream>
#include <iterator>

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

    void whatIsWrittenComesBackWithTheFolder()
    {
        TemporaryStore kept;
        auto& catalogue = kept.store->catalogue;
        HR_VERIFY(library::scan(catalogue, options()));
        const QString id = QString::fromStdString(test::specimen + "cordage-leveller");
        library::Written words = *catalogue.entry(id);
        words.alias = QStringLiteral("Old rope");
        words.tags = {QStringLiteral("brass")};
        words.own_kind = QStringLiteral("limiter");
        HR_VERIFY(catalogue.write({{id, words}}));
        auto nowhere = options();
        nowhere.folders = {};
        HR_VERIFY(library::scan(catalogue, nowhere));
        const auto listed = catalogue.entries();
        QVERIFY(std::ranges::none_of(*listed, [&](const auto& e) { return e.id == id; }));
        // Elsewhere, and as a newer version.
        QTemporaryDir moved;
        const auto other = std::filesystem::path(moved.path().toStdString()) / "y.lv2";
        std::filesystem::copy(bundle(), other, std::filesystem::copy_options::recursive);
        for (const auto& file : std::filesystem::directory_iterator(other))
            if (file.path().extension() == ".ttl") {
                std::ifstream in(file.path());
                std::string text((std::istreambuf_iterator<char>(in)), {});
                for (std::size_t at = 0; (at = text.find("lv2:minorVersion 1", at)) != std::string::npos;
                     at += 4)
                    text.replace(at, 18, "lv2:minorVersion 9");
                std::ofstream(file.path()) << text;
            }
        auto there = options();
        there.folders = {moved.path().toStdString()};
        HR_VERIFY(library::scan(catalogue, there));
        const auto entry = catalogue.entry(id);
        QCOMPARE(entry->bundle, QString::fromStdString(other.string()));
        QCOMPARE(entry->alias, words.alias);
        QCOMPARE(entry->tags, words.tags);
        QCOMPARE(entry->kind, QStringLiteral("limiter"));
    }

    void cancellingKeepsWhatWasFound()
    {
        TemporaryStore kept;
        std::stop_source stop;
        stop.request_stop();
        auto stopped = options();
        stopped.control.cancel = stop.get_token();
        const auto report = library::scan(kept.store->catalogue, stopped);
        HR_VERIFY(report);
        HR_VERIFY(library::scan(kept.store->catalogue, options()));
        HR_VERIFY(kept.store->catalogue.entry(QString::fromStdString(test::specimen + "lantern-saturator")));
    }

    void whatIsTriedAgainLeavesQuarantineOrStays()
    {
        test::TemporaryStore kept;
        auto& catalogue = kept.store->catalogue;
        hosting::Finding well{test::specimenAt("cordage-leveller"), std::nullopt,
                              hosting::Fault{hosting::Phase::Run, hosting::Cause::Hang, "a busy moment"}};
        hosting::Finding broken{test::faultyAt("abort-in-run"), std::nullopt,
                                hosting::Fault{hosting::Phase::Load, hosting::Cause::Crash, "long ago"}};
        HR_VERIFY(catalogue.recordAgain(well));
        HR_VERIFY(catalogue.recordAgain(broken));
        const QStringList ids{QString::fromStdString(well.location.id),
                              QString::fromStdString(broken.location.id)};
        const auto tried = library::tryAgain(catalogue, ids);
        HR_VERIFY(tried);
        QCOMPARE(tried->now_well, 1);
        QCOMPARE(tried->still_failing, 1);
        QCOMPARE(catalogue.entry(ids[0])->state, library::State::Ready);
        QCOMPARE(catalogue.entry(ids[0])->name, QStringLiteral("Cordage Leveller"));
        QCOMPARE(catalogue.faultsOf(ids[1])->front().fault.phase, hosting::Phase::Run);
    }
};

HR_TEST(tst_scan)
#include "tst_scan.moc"
