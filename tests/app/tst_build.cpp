// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: what is known of the chain as it stands, and its stages in other orders.
#include "app/build_bench.h"
#include "audition/delivery.h"

#include <fstream>

#include <QComboBox>

using namespace hr;
using namespace hr::app;

class tst_build : public test::BuildBench {
    Q_OBJECT

private slots:
    void initTestCase() { begin(); }
    void cleanupTestCase() { m_bench.reset(); }

    /// What was found before an edit is never shown of the chain after it.
    void levelsFollowTheChain()
    {
        QVERIFY(levelsFor(4));
        QVERIFY(ladder()->accessibleDescription().contains(QStringLiteral("3 Gain")));
        const double loud_lufs = *study().levels().back().loudness_lufs;
        QVERIFY(*study().levels().back().true_peak_dbtp > 0);
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 0}}; });
        QVERIFY(study().levels().empty());
        QVERIFY(levelsFor(4));
        HR_NEAR(*study().levels().back().loudness_lufs, loud_lufs - 24, 0.05);
        m_bench->window->showPage(PageName::Find); // nothing is looked at that nobody sees
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 6}}; });
        QTest::qWait(700);
        QVERIFY(study().levels().empty());
        m_bench->window->showPage(PageName::Build);
        QVERIFY(levelsFor(4));
    }

    void ordersAreComparedHeardAndTaken()
    {
        press(QStringLiteral("Compare orders"));
        QVERIFY2(study().orders().why_none.contains(QStringLiteral("Fewer than two")),
                 qPrintable(study().orders().why_none));
        choose("s1");
        choose("s2", true);
        click(QStringLiteral("stage may move"));
        QVERIFY(draft().nodes[0].may_move && draft().nodes[1].may_move);
        press(QStringLiteral("Compare orders"));
        QVERIFY(QTest::qWaitFor([&] { return study().orders().found.has_value(); }, 30000));
        QCOMPARE(orders()->rowCount(), 2);
        QCOMPARE(orders()->item(0, 2)->text(), QStringLiteral("as built"));
        QCOMPARE(orders()->item(1, 0)->text(), QStringLiteral("2 1 \u00b7 Hard clip first"));
        QVERIFY(!m_bench->button(QStringLiteral("Take it"))->isEnabled());
        orders()->setFocus();
        orders()->selectRow(1);
        const int before = m_bench->candidates();
        press(QStringLiteral("Hear it"));
        QVERIFY(QTest::qWaitFor([&] { return m_bench->candidates() == before + 1; }));
        QCOMPARE(m_bench->at(before + 1).title, QStringLiteral("Quay, order 2 1"));
        m_bench->window->showPage(PageName::Build);
        orders()->selectRow(1);
        press(QStringLiteral("Take it"));
        QCOMPARE(desk().draft.chain().nodes.front().id, std::string("s2"));
        QVERIFY(!study().orders().found && orders()->rowCount() == 0); // of another chain nothing is known
        desk().undo.undo();
        QCOMPARE(desk().draft.chain().nodes.front().id, std::string("s1"));
    }

    void theFaultyStageIsFoundByHalves()
    {
        openQuay();
        press(QStringLiteral("Path"));
        press(QStringLiteral("Find the faulty stage"));
        QCOMPARE(desk().hearing.partCalled(), QStringLiteral("without 1, 2, 3"));
        press(QStringLiteral("Gone"));
        QCOMPARE(desk().hearing.partCalled(), QStringLiteral("without 1"));
        press(QStringLiteral("Gone"));
        QCOMPARE(picture()->current(), QStringLiteral("s1"));
        press(QStringLiteral("Back"));
        press(QStringLiteral("Still there"));
        press(QStringLiteral("Still there"));
        QCOMPARE(picture()->current(), QStringLiteral("s3"));
        press(QStringLiteral("Orders"));
    }

    void whatStagesDoTogetherIsMeasured()
    {
        openQuay();
        desk().draft.replaceBy([] {
            chain::Chain chain;
            const std::vector<processors::Setting> squeezed{{"threshold_db", -40}, {"ratio", 2}};
            chain::addStage(chain, "reference:compressor").settings = squeezed;
            chain::addStage(chain, "reference:low-shelf").settings = {{"gain_db", 6}};
            chain::addStage(chain, "reference:compressor").settings = squeezed;
            return chain;
        }());
        press(QStringLiteral("Path"));
        press(QStringLiteral("Measure along the chain"));
        QVERIFY(QTest::qWaitFor([&] { return study().path().found.has_value(); }, 60000));
        HR_NEAR(*study().path().found->points.back().ratio, 4, 0.1);
        press(QStringLiteral("Orders"));
        press(QStringLiteral("Equaliser before or behind the compressor?"));
        QVERIFY(QTest::qWaitFor([&] { return study().equaliser().found.has_value(); }, 60000));
        const auto labels = m_bench->window->findChildren<QLabel*>();
        QVERIFY(std::ranges::any_of(labels, [](const QLabel* one) {
            return one->isVisible() && one->text().contains(QStringLiteral("It takes away"));
        }));
    }

    /// Twice as loud, and half as loud behind it.
    void aStageIsLeveledToNeutral()
    {
        openQuay();
        desk().draft.edit([](const chain::Chain& chain) { return chain::remove(chain, {"s1", "s2"}); });
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 6}}; });
        choose("s3");
        press(QStringLiteral("To neutral"));
        QVERIFY(QTest::qWaitFor([&] { return draft().nodes.front().trim_db != 0; }, 30000));
        HR_NEAR(draft().nodes.front().trim_db, -6, 0.011);
        desk().undo.undo();
        QCOMPARE(draft().nodes.front().trim_db, 0.0);
    }

    void theWholeSourceIsCheckedAndWritten()
    {
        m_bench->window->showPage(PageName::Build);
        press(QStringLiteral("Delivery"));
        auto* table = m_bench->find<QTableWidget>(QStringLiteral("checks of the delivery"));
        QVERIFY(table);
        press(QStringLiteral("Check the file"));
        QVERIFY(QTest::qWaitFor([&] { return table->rowCount() == 2; }, 30000));
        QCOMPARE(table->item(0, 0)->text(), QStringLiteral("integrated, LUFS"));
        QVERIFY(table->item(0, 3)->text().endsWith(QStringLiteral(" dB"))); // it is too loud by far
        // Another target is held against the same file: no check of the one before stays.
        auto* choice = m_bench->find<QComboBox>(QStringLiteral("target of the delivery"));
        choice->setCurrentIndex(choice->count() - 1);
        QCOMPARE(table->rowCount(), 3);
        QCOMPARE(table->item(2, 0)->text(), QStringLiteral("bits"));
        choice->setCurrentIndex(0);
        const QString file = m_data.filePath(QStringLiteral("out.flac"));
        desk().delivery.start(file, {signal::FileKind::Flac, signal::SampleFormat::Pcm16, 44100.0});
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.written().isEmpty(); }, 30000));
        const auto written = audition::deliveredFile(file.toStdString());
        HR_VERIFY(written);
        QVERIFY(written->bits == std::size_t{16} && written->sample_rate_hz == 44100);
        HR_NEAR(written->seconds, desk().transport.source()->seconds(), 0.01);
        desk().delivery.start(QStringLiteral("/dev/full"));
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.whyNone().isEmpty(); }, 30000));
        QCOMPARE(table->rowCount(), 0);
        press(QStringLiteral("Orders"));
    }

    /// One after the other; what cannot be read is told among them, and all of it goes on the page.
    void severalSourcesAreWritten()
    {
        openQuay();
        press(QStringLiteral("Delivery"));
        const std::filesystem::path folder = m_data.filePath(QStringLiteral("delivered")).toStdString();
        std::filesystem::create_directories(folder);
        const std::filesystem::path sources = m_data.filePath(QStringLiteral("sources")).toStdString();
        std::ofstream(sources / "damaged.wav") << "RIFF and nothing else";
        const auto places = audition::deliveryPlaces(
            {sources / "spoken-guide.wav", sources / "damaged.wav", sources / "upright-bass.wav"}, folder,
            "wav");
        HR_VERIFY(places);
        QVERIFY(!audition::deliveryPlaces({sources / "upright-bass.wav"}, sources, "wav"));
        QVERIFY(!audition::deliveryPlaces({"a/x.wav", "b/x.flac"}, folder, "wav"));
        QVERIFY(!audition::deliveryPlaces({"a/x.wav"}, folder / "none", "wav"));
        desk().delivery.startSeveral(*places, {signal::FileKind::Wav, signal::SampleFormat::Pcm24, 44100.0});
        desk().draft.append({QStringLiteral("reference:gain")}); // one goes on working meanwhile
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.isRunning(); }, 60000));
        QCOMPARE(desk().delivery.several().size(), std::size_t{3});
        QVERIFY(desk().delivery.several()[1].why_none.contains(QStringLiteral("damaged.wav")));
        QVERIFY(!std::filesystem::exists(folder / "damaged.wav"));
        const auto written = audition::deliveredFile(folder / "upright-bass.wav");
        HR_VERIFY(written);
        QVERIFY(written->bits == std::size_t{24} && written->sample_rate_hz == 44100);
        auto* table = m_bench->find<QTableWidget>(QStringLiteral("checks of the delivery"));
        QCOMPARE(table->rowCount(), 3);
        QCOMPARE(table->item(2, 0)->text(), QStringLiteral("upright-bass.wav"));
        QVERIFY(table->item(2, 3)->text().contains(QStringLiteral(" dB")));
        press(QStringLiteral("Put on the page"));
        const std::string page = desk().book.page().dump();
        for (const char* words : {"upright-bass.wav", "EBU R 128", "would mend it", "damaged.wav"})
            QVERIFY2(page.find(words) != std::string::npos, words);
        // Cancelled, what is done by then stays and nothing is half written.
        desk().delivery.startSeveral(*places, {});
        press(QStringLiteral("Cancel"));
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.isRunning(); }, 30000));
        for (const auto& entry : std::filesystem::directory_iterator(folder))
            HR_VERIFY(audition::deliveredFile(entry.path()));
        press(QStringLiteral("Orders"));
    }

    void aStageThatFailsIsSaidWhereTheLevelsWouldBe()
    {
        m_bench->window->showPage(PageName::Build);
        chain::Chain chain;
        chain::addStage(chain, "reference:gain").settings = {{"gain_db", 99}};
        desk().draft.change(chain);
        QVERIFY(QTest::qWaitFor([&] { return !study().whyNoLevels().isEmpty(); }, 10000));
        QVERIFY2(ladder()->accessibleDescription().contains(QStringLiteral("gain_db")),
                 qPrintable(ladder()->accessibleDescription()));
        // Left while it works: nothing comes of it any more.
        desk().undo.undo();
        desk().draft.change(chain::Chain{});
        QTest::qWait(600);
        QVERIFY(study().levels().empty());
    }
};

HR_TEST(tst_build)
#include "tst_build.moc"
