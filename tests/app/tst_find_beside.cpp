// SPDX-License-Identifier: GPL-3.0-or-later
//
// What stands beside the list on Find: folders, presets, builds, kin, controls, the faulty one.
#include "app/find_bench.h"
#include "exchange/chain_file.h"
#include "pages/build/build_page.h"
#include "pages/find/preset_list.h"
#include "processors/settings.h"

#include <QCheckBox>
#include <QLabel>
#include <QListWidget>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_find_beside : public test::FindBench {
    Q_OBJECT

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
    }
    void cleanupTestCase() { m_bench.reset(); }

    void foldersComeAndGo()
    {
        QTemporaryDir folder;
        std::filesystem::copy(test::specimens_bundle / ".." / ".." / "test-lv2" / "ladspa" / "hints.so",
                              std::filesystem::path(folder.path().toStdString()) / "hints.so");
        press(QStringLiteral("Folders"));
        auto* path = m_bench->find<QLineEdit>(QStringLiteral("a folder to add"));
        QVERIFY(path);
        const int before = desk().processors.total();
        QTest::keyClicks(path, QStringLiteral("/nowhere/at/all"));
        QTest::keyClick(path, Qt::Key_Return);
        QVERIFY(!desk().scan.isRunning());
        path->setText(folder.path());
        press(QStringLiteral("Add folder"));
        QTRY_VERIFY_WITH_TIMEOUT(desk().processors.total() > before, 30000);
        QTRY_VERIFY(!desk().scan.isRunning());
        QCheckBox* used = nullptr;
        for (auto* box : m_bench->window->findChildren<QCheckBox*>())
            if (box->text() == folder.path())
                used = box;
        QVERIFY(used);
        used->click(); // switched off
        QTRY_COMPARE_WITH_TIMEOUT(desk().processors.total(), before, 30000);
        QTRY_VERIFY(!desk().scan.isRunning());
        QTRY_VERIFY(m_bench->button(QStringLiteral("Take away")));
        press(QStringLiteral("Take away"));
        QTRY_VERIFY(!m_bench->button(QStringLiteral("Take away")));
        QTRY_VERIFY(!desk().scan.isRunning());
        press(QStringLiteral("Back to the list"));
        QVERIFY(list()->isVisible());
    }

    void presetsAreHeardSavedAndWritten()
    {
        selectOnly(id("cordage-leveller"));
        press(QStringLiteral("Presets"));
        auto* presets = m_bench->find<QListWidget>(QStringLiteral("presets"));
        QVERIFY(presets);
        QCOMPARE(presets->item(0)->text(), QStringLiteral("defaults"));
        QVERIFY(presets->count() > 1);
        presets->setCurrentRow(1);
        press(QStringLiteral("Hear it"));
        QCOMPARE(m_bench->candidates(), 1);
        QVERIFY(!m_bench->at(1).settings().empty());
        desk().line_up.setValue(m_bench->idAt(1), 0, m_bench->at(1).info.parameters[0].minimum);
        desk().navigation.goTo(PageName::Find);
        press(QStringLiteral("More"));
        choose(QStringLiteral("Save the settings of A"));
        type(QStringLiteral("Crossing: Tight"));
        const int with_mine = presets->count();
        QVERIFY(presets->item(with_mine - 1)->text().contains(QStringLiteral("Tight")));
        auto* search = m_bench->find<QLineEdit>(QStringLiteral("search the presets"));
        QTest::keyClicks(search, QStringLiteral("cross"));
        QCOMPARE(presets->count(), 1);
        press(QStringLiteral("★"));
        QVERIFY(presets->item(0)->text().startsWith(QStringLiteral("★")));
        search->clear();
        auto* editor = m_bench->window->findChild<PresetList*>();
        for (const QString& to :
             {m_data.filePath(QStringLiteral("p.json")), m_data.filePath(QStringLiteral("p.lv2"))}) {
            editor->exportTo(to);
            editor->importFrom(to);
        }
        QCOMPARE(presets->count(), with_mine + 3); // one, then two, each under a name of its own
        presets->setCurrentRow(presets->count() - 1);
        press(QStringLiteral("More"));
        choose(QStringLiteral("Rename"));
        type(QStringLiteral("Renamed"));
        QVERIFY(m_bench->window->findChild<PresetList*>() && presets->count() == with_mine + 3);
        press(QStringLiteral("More"));
        choose(QStringLiteral("Remove"));
        QCOMPARE(presets->count(), with_mine + 2);
        desk().undo.undo();
        QCOMPARE(presets->count(), with_mine + 3);
        editor->importFrom(QStringLiteral("/nowhere.json"));
        QCOMPARE(presets->count(), with_mine + 3);
        press(QStringLiteral("About"));
    }

    void buildsAreJoinedAndTheFittingOneIsTaken()
    {
        selectOnly(id("breakwater"));
        press(QStringLiteral("Alike"));
        const int all = desk().processors.rowCount();
        QTRY_VERIFY(m_bench->button(QStringLiteral("They are one")));
        press(QStringLiteral("They are one"));
        QTRY_COMPARE(desk().processors.rowCount(), all - 1);
        QCOMPARE(desk().processors.builds(id("breakwater")).size(), 1);
        const QString mono = desk().processors.builds(id("breakwater")).front();
        signal::AudioBuffer one(1, 48000, 48000);
        for (std::size_t i = 0; i < 48000; ++i)
            one.channel(0)[i] = 0.1F * static_cast<float>(std::sin(0.05 * static_cast<double>(i)));
        const QString file = m_data.filePath(QStringLiteral("mono.wav"));
        HR_VERIFY(signal::writeAudioFile(file.toStdString(), one, signal::SampleFormat::Float32));
        const ContenderId added = desk().line_up.add(id("breakwater"));
        QCOMPARE(desk().line_up.find(added)->location.id, id("breakwater").toStdString());
        const auto last = [&] { return desk().line_up.find(added)->info.parameters.size() - 1; };
        const std::string key = desk().line_up.find(added)->info.parameters[last()].key;
        desk().line_up.hold(added, last(), true);
        desk().line_up.setSnapshot(added, 0, desk().line_up.find(added)->values);
        desk().transport.load(file);
        QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.find(added)->location.id, mono.toStdString(), 10000);
        // What is known of its parameters has come along, by their keys.
        const Contender& other = *desk().line_up.find(added);
        QCOMPARE(other.held, (std::set{*other.info.parameterIndex(key)}));
        QCOMPARE(other.snapshots[0]->size(), other.info.parameters.size());
        desk().undo.undo();
        QTRY_COMPARE(desk().processors.rowCount(), all);
        desk().undo.redo();
        QTRY_VERIFY(m_bench->button(QStringLiteral("Split them")));
        press(QStringLiteral("Split them"));
        QTRY_COMPARE(desk().processors.rowCount(), all);
    }

    void whatBehavesAlikeIsNearAndCanBeCompared()
    {
        for (const char* name : {"reference:hard-clip", "reference:gain"})
            desk().bench.measureInBackground({QString::fromLatin1(name)});
        QTRY_COMPARE_WITH_TIMEOUT(desk().bench.waiting(), 0, 60000);
        selectOnly(QStringLiteral("reference:gain"));
        auto* alike = m_bench->find<QListWidget>(QStringLiteral("behaves alike"));
        QVERIFY(alike);
        QTRY_VERIFY(alike->count() > 0);
        press(QStringLiteral("Are they the same?"));
        QTRY_VERIFY_WITH_TIMEOUT(alike->item(0)->text().contains(QStringLiteral("leaves")), 60000);
        press(QStringLiteral("About"));
    }

    void theSearchForAFaultEndsWithASentence()
    {
        page().setSearchText(QStringLiteral("ferrylight"));
        press(QStringLiteral("Find the faulty one"));
        press(QStringLiteral("Start the search"));
        QTRY_VERIFY_WITH_TIMEOUT(
            m_bench->button(QStringLiteral("Start the search")) && !desk().fault_search.isRunning(), 30000);
        auto* steps = m_bench->find<QListWidget>(QStringLiteral("steps of the search"));
        QVERIFY(steps && steps->count() >= 1);
        press(QStringLiteral("Back to the list"));
        page().setSearchText({});
    }

    void theCulpritIsNamed()
    {
        HR_VERIFY(
            desk().store->folders.add(QString::fromStdString(test::faulty_bundle.parent_path().string())));
        desk().scan.start();
        QTRY_VERIFY_WITH_TIMEOUT(!desk().scan.isRunning(), 120000);
        page().setSearchText(QStringLiteral("test"));
        QVERIFY(desk().processors.rowCount() > 3);
        press(QStringLiteral("Find the faulty one"));
        press(QStringLiteral("Start the search"));
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->button(QStringLiteral("Show Test jealous")), 60000);
        press(QStringLiteral("Show Test jealous"));
        QCOMPARE(page().selectedId(), QStringLiteral("lv2:urn:honest-rack:tests:jealous"));
        QVERIFY(list()->isVisible());
        HR_VERIFY(
            desk().store->folders.remove(QString::fromStdString(test::faulty_bundle.parent_path().string())));
        desk().scan.start();
        QTRY_VERIFY_WITH_TIMEOUT(!desk().scan.isRunning(), 30000);
        page().setSearchText({});
    }

    void controlsTellRangesAndNotes()
    {
        QString texts;
        for (const char* name : {"cordage-leveller", "deep-keel"}) {
            selectOnly(id(name));
            page().showPart(1);
            for (const auto* one : m_bench->window->findChildren<QLabel*>())
                if (one->isVisible() || !one->text().isEmpty())
                    texts += one->text() + QLatin1Char('\n');
        }
        QVERIFY(texts.contains(QStringLiteral("default")));
        QVERIFY(texts.contains(QStringLiteral(" to ")) && texts.contains(QStringLiteral("dB")));
        page().showPart(0);
    }

    void theParticularsTellWhatIsNewlyKnown()
    {
        selectOnly(QStringLiteral("reference:low-pass"));
        const auto says = [&](const QString& text) {
            const auto labels = page().findChildren<QLabel*>();
            return std::ranges::any_of(
                labels, [&](const QLabel* one) { return one->isVisible() && one->text().contains(text); });
        };
        QVERIFY(!says(QStringLiteral("Turned over")));
        desk().notebook.write({QStringLiteral("reference:low-pass")}, QStringLiteral("own name"),
                              [](library::Written& w) { w.alias = QStringLiteral("Turned over"); });
        QTRY_VERIFY(says(QStringLiteral("Turned over")));
        desk().undo.undo();
        QTRY_VERIFY(!says(QStringLiteral("Turned over")));
    }
};

HR_TEST(tst_find_beside)
#include "tst_find_beside.moc"
