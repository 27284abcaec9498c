// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using hosting::Finding;
using library::State;
using test::TemporaryStore;

namespace {

Finding finding(const std::string& name, const std::string& maker = "Kelp & Cordage",
                const std::string& documentation = {})
{
    processors::ProcessorInfo info;
    info.id = "lv2:urn:" + name;
    info.name = name;
    info.maker = maker;
    info.kind = "compressor";
    info.format = "LV2";
    info.documentation = documentation;
    info.audio_in = info.audio_out = 2;
    return {{info.id, "/b"}, info, std::nullopt};
}

} // namespace

class tst_catalogue : public QObject {
    Q_OBJECT

private slots:
    void referencesNeedNoScan()
    {
        TemporaryStore kept;
        const auto entries = kept.store->catalogue.entries();
        HR_VERIFY(entries);
        QVERIFY(std::ranges::any_of(
            *entries, [](const auto& e) { return e.id == QStringLiteral("reference:hard-clip"); }));
    }

    void recordingTellsNewChangedAndSame()
    {
        TemporaryStore kept;
        auto& catalogue = kept.store->catalogue;
        auto recorded = catalogue.record({"/b", "1"}, {{finding("Tern"), finding("Gull")}});
        HR_VERIFY(recorded);
        QCOMPARE(recorded->added, 2);
        Finding changed = finding("Tern");
        changed.info->version = "2";
        recorded = catalogue.record({"/b", "2"}, {{changed, finding("Gull")}});
        QCOMPARE(recorded->changed, 1);
        QCOMPARE(recorded->unchanged, 1);
        QCOMPARE(catalogue.entry(QStringLiteral("lv2:urn:Tern"))->version, QStringLiteral("2"));
        QCOMPARE(catalogue.signatures()->value(QStringLiteral("/b")), QStringLiteral("2"));
    }

    void whatTheUserWroteSurvivesRescanAndRemoval()
    {
        TemporaryStore kept;
        auto& catalogue = kept.store->catalogue;
        const QString id = QStringLiteral("lv2:urn:Tern");
        HR_VERIFY(catalogue.record({"/b", "1"}, {{finding("Tern")}}));
        library::Written words;
        words.alias = QStringLiteral("  Lantern room leveller ");
        words.note = QStringLiteral("gentle");
        words.tags = QStringList{QStringLiteral("bus "), QString(), QStringLiteral("bus")};
        words.rating = 9;
        words.favourite = true;
        HR_VERIFY(catalogue.write({{id, words}, {QStringLiteral("lv2:urn:nobody"), words}}));
        HR_VERIFY(catalogue.keepOnly({})); // its folder has gone
        const auto without = catalogue.entries();
        QVERIFY(std::ranges::none_of(*without, [&](const auto& e) { return e.id == id; }));
        HR_VERIFY(catalogue.record({"/elsewhere", "9"}, {{finding("Tern")}})); // and turns up elsewhere
        const auto entry = catalogue.entry(id);
        HR_VERIFY(entry);
        QCOMPARE(entry->title(), QStringLiteral("Lantern room leveller"));
        QVERIFY(entry->favourite && entry->rating == 5 && entry->note == QStringLiteral("gentle"));
        QCOMPARE(entry->tags, QStringList{QStringLiteral("bus")});
        QCOMPARE(entry->bundle, QStringLiteral("/elsewhere"));
    }

    void aFaultIsQuarantineWithItsReason()
    {
        TemporaryStore kept;
        auto& catalogue = kept.store->catalogue;
        Finding broken = finding("Gull");
        broken.fault = hosting::Fault{hosting::Phase::Run, hosting::Cause::Hang, "nothing within 2 s"};
        HR_VERIFY(catalogue.record({"/b", "1"}, {{broken}}));
        QCOMPARE(catalogue.entry(QStringLiteral("lv2:urn:Gull"))->state, State::Quarantined);
        const auto quarantine = catalogue.quarantine();
        HR_VERIFY(quarantine);
        QCOMPARE(quarantine->size(), std::size_t{1});
        QCOMPARE(quarantine->front().fault.cause, hosting::Cause::Hang);
        QCOMPARE(quarantine->front().bundle, QStringLiteral("/b"));
        HR_VERIFY(catalogue.record({"/b", "2"}, {{finding("Gull")}})); // mended
        QCOMPARE(catalogue.entry(QStringLiteral("lv2:urn:Gull"))->state, State::Ready);
        QVERIFY(catalogue.quarantine()->empty());
        QCOMPARE(catalogue.faultsOf(QStringLiteral("lv2:urn:Gull"))->size(), std::size_t{1}); // history stays
    }

    void whatCannotBeReadIsListedToo_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QString>("path");
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("format");
        QTest::newRow("a bundle") << "lv2:file:///b.lv2"
                                  << "/b.lv2"
                                  << "b.lv2"
                                  << "LV2";
        QTest::newRow("a library") << "ladspa:gulls:"
                                   << "/gulls.so"
                                   << "gulls"
                                   << "LADSPA";
        QTest::newRow("one of a library") << "ladspa:gulls:herring"
                                          << "/gulls.so"
                                          << "herring"
                                          << "LADSPA";
    }
    void whatCannotBeReadIsListedToo()
    {
        QFETCH(QString, id);
        QFETCH(QString, path);
        TemporaryStore kept;
        const Finding unreadable{{id.toStdString(), path.toStdString()},
                                 std::nullopt,
                                 hosting::Fault{hosting::Phase::Read, hosting::Cause::Crash, "x"}};
        HR_VERIFY(kept.store->catalogue.record({path.toStdString(), "1"}, {{unreadable}}));
        const auto entry = kept.store->catalogue.entry(id);
        HR_VERIFY(entry);
        QTEST(entry->name, "name");
        QTEST(entry->format, "format");
    }

    void unknownIdsAreSaid()
    {
        TemporaryStore kept;
        QCOMPARE(kept.store->catalogue.entry(QStringLiteral("lv2:x")).error().blame, Blame::Request);
        QVERIFY(!kept.store->catalogue.info(QStringLiteral("lv2:x")));
        QVERIFY(!kept.store->catalogue.location(QStringLiteral("lv2:x")));
    }
};

HR_TEST(tst_catalogue)
#include "tst_catalogue.moc"
