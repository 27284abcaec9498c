// SPDX-License-Identifier: GPL-3.0-or-later
//
// Find beyond the search: orders, rules, working sets, folders, presets, kin, the faulty one, ways on.
#include "app/workbench.h"
#include "exchange/chain_file.h"
#include "pages/build/build_page.h"
#include "pages/find/find_page.h"
#include "pages/find/preset_list.h"
#include "processors/settings.h"

#include <QApplication>
#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QTableView>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_find_page : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() { return *m_bench->desk; }
    FindPage& page() { return *m_bench->window->findPage(); }
    static QString id(const char* name)
    {
        return QString::fromStdString(test::specimen) + QString::fromLatin1(name);
    }
    QTableView* list() { return m_bench->find<QTableView>(QStringLiteral("processors")); }

    void press(const QString& button)
    {
        auto* found = m_bench->button(button);
        QVERIFY2(found, qPrintable(button));
        QTest::mouseClick(found, Qt::LeftButton);
    }
    /// Chooses from the menu that is open.
    static void choose(const QString& text)
    {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY2(menu, qPrintable(text));
        for (QAction* action : menu->actions())
            if (action->text() == text) {
                QVERIFY2(action->isEnabled(), qPrintable(text));
                action->trigger();
                menu->close();
                return;
            }
        QStringList there;
        for (QAction* action : menu->actions())
            there << action->text();
        menu->close();
        QFAIL(qPrintable(QStringLiteral("no \"%1\" among %2").arg(text, there.join(QStringLiteral(", ")))));
    }
    /// Types into the sheet that asks for a name.
    static void type(const QString& name)
    {
        QWidget* popup = QApplication::activePopupWidget();
        QVERIFY(popup);
        auto* field = popup->findChild<QLineEdit*>();
        QVERIFY(field);
        field->selectAll();
        QTest::keyClicks(field, name);
        QTest::keyClick(field, Qt::Key_Return);
    }
    void selectOnly(const QString& which)
    {
        // The bench's own are listed when they are asked for.
        page().setSearchText(which.startsWith(QStringLiteral("reference:")) ? QStringLiteral("reference")
                                                                            : QString());
        page().select(which);
        QTRY_COMPARE(page().selectedId(), which);
        QTest::qWait(250); // the particulars follow when the typing rests
    }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
    }
    void cleanupTestCase() { m_bench.reset(); }

    void sortingByAFigurePutsTheUnmeasuredLast()
    {
        for (const char* name : {"reference:hard-clip", "reference:gain"})
            desk().bench.measureInBackground({QString::fromLatin1(name)});
        QTRY_COMPARE_WITH_TIMEOUT(desk().bench.waiting(), 0, 60000);
        page().setSearchText(QStringLiteral("reference"));
        press(QStringLiteral("By best match"));
        choose(QStringLiteral("THD"));
        const auto row = [&](int at) {
            return desk().processors.index(at, 0).data(ProcessorModel::EntryId).toString();
        };
        QCOMPARE(row(0), QStringLiteral("reference:gain"));
        QCOMPARE(row(1), QStringLiteral("reference:hard-clip"));
        QVERIFY(desk().processors.index(1, ProcessorModel::State).data().toString().endsWith(QLatin1Char('%')));
        press(QStringLiteral("By THD"));
        choose(QStringLiteral("best match"));
        page().setSearchText({});
    }

    void theBenchsOwnStayOutUntilTheyAreAskedFor()
    {
        const auto listed = [&](const QString& text, const std::vector<library::FacetChoice>& choices = {}) {
            return desk().processors.finder().find({text, choices}).rows.size();
        };
        const auto all = listed({});
        QCOMPARE(listed(QStringLiteral("hard clip")), std::size_t{0});
        QCOMPARE(listed(QStringLiteral("refer hard clip")), std::size_t{1});
        QVERIFY(listed({}, {{library::Facet::Format, QStringLiteral("reference"), false}}) > 10);
        QCOMPARE(desk().processors.total(), static_cast<int>(all));
        desk().notebook.write({QStringLiteral("reference:gain")}, {},
                              [](library::Written& w) { w.favourite = true; });
        QCOMPARE(listed({}), all);
        QCOMPARE(listed({}, {{library::Facet::State, QStringLiteral("favourite"), false}}), std::size_t{1});
        desk().undo.undo();
    }

    void whatIsAwaitedIsSelectedOnceItIsListed()
    {
        page().setSearchText(QStringLiteral("lantern"));
        page().select(id("deep-keel"));
        QVERIFY(page().selectedId() != id("deep-keel"));
        page().setSearchText({});
        QCOMPARE(page().selectedId(), id("deep-keel"));
    }

    void oneSlipFurtherIsOffered()
    {
        page().setSearchText(QStringLiteral("lanxxrn")); // one slip is forgiven, these are two
        QCOMPARE(desk().processors.rowCount(), 0);
        press(QStringLiteral("Search for “lantern”"));
        QCOMPARE(page().searchText(), QStringLiteral("lantern"));
        QVERIFY(desk().processors.rowCount() > 0);
        page().setSearchText({});
    }

    void aSearchIsKeptAsARule()
    {
        page().setSearchText(QStringLiteral("compressor"));
        const int found = desk().processors.rowCount();
        QVERIFY(found > 1);
        press(QStringLiteral("Keep this search"));
        type(QStringLiteral("All compressors"));
        const auto collections = desk().store->collections.all();
        QVERIFY(std::ranges::any_of(*collections, [](const auto& c) { return c.byRule(); }));
        page().setSearchText({});
        // Placed among them, something else joins by itself, and leaves with the undo.
        const auto members = [&] {
            return desk()
                .processors.finder()
                .find({{}, {{library::Facet::Collection, QStringLiteral("All compressors"), false}}})
                .rows.size();
        };
        QCOMPARE(members(), static_cast<std::size_t>(found));
        desk().notebook.write({id("deep-keel")}, QStringLiteral("kind"),
                              [](library::Written& w) { w.own_kind = QStringLiteral("compressor"); });
        QCOMPARE(members(), static_cast<std::size_t>(found) + 1);
        m_bench->press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(members(), static_cast<std::size_t>(found));
    }

    void aWorkingSetHidesTheRest()
    {
        const int all = desk().processors.rowCount();
        selectOnly(id("deep-keel"));
        press(QStringLiteral("Offered: everything"));
        choose(QStringLiteral("All but the 1 selected"));
        type(QStringLiteral("no keel"));
        QCOMPARE(desk().processors.rowCount(), all - 1);
        QVERIFY(m_bench->button(QStringLiteral("Offered: no keel")));
        QVERIFY(!desk().processors.isOffered(id("deep-keel")));
        desk().bench.measureInBackground({id("deep-keel")}); // hidden: not loaded
        QCOMPARE(desk().bench.waiting(), 0);
        // Asked for, the hidden one is there.
        desk().processors.ask({{}, {{library::Facet::State, QStringLiteral("hidden"), false}}});
        QCOMPARE(desk().processors.rowCount(), 1);
        QCOMPARE(desk().processors.index(0, ProcessorModel::State).data().toString(), QStringLiteral("hidden"));
        desk().processors.ask({});
        press(QStringLiteral("Offered: no keel"));
        choose(QStringLiteral("Rename “no keel”"));
        type(QStringLiteral("keelless"));
        QVERIFY(m_bench->button(QStringLiteral("Offered: keelless")));
        press(QStringLiteral("Offered: keelless"));
        choose(QStringLiteral("Remove “keelless”"));
        QCOMPARE(desk().processors.rowCount(), all);
        desk().undo.undo(); // it is there again, and in use
        QCOMPARE(desk().processors.rowCount(), all - 1);
        press(QStringLiteral("Offered: keelless"));
        choose(QStringLiteral("Everything"));
        QCOMPARE(desk().processors.rowCount(), all);
    }

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
        desk().transport.load(file);
        QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.find(added)->location.id, mono.toStdString(), 10000);
        desk().undo.undo();
        QTRY_COMPARE(desk().processors.rowCount(), all);
        desk().undo.redo();
        QTRY_VERIFY(m_bench->button(QStringLiteral("Split them")));
        press(QStringLiteral("Split them"));
        QTRY_COMPARE(desk().processors.rowCount(), all);
    }

    void whatBehavesAlikeIsNearAndCanBeCompared()
    {
        selectOnly(QStringLiteral("reference:gain"));
        auto* alike = m_bench->find<QListWidget>(QStringLiteral("behaves alike"));
        QVERIFY(alike);
        QTRY_VERIFY(alike->count() > 0);
        press(QStringLiteral("Are they the same?"));
        QTRY_VERIFY_WITH_TIMEOUT(alike->item(0)->text().contains(QStringLiteral("leaves")), 60000);
        press(QStringLiteral("About"));
    }

    void theHuntEndsWithASentence()
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

    void severalAreKeptInOneStep()
    {
        selectOnly(id("deep-keel"));
        const int row = list()->currentIndex().row();
        list()->selectionModel()->select(list()->model()->index(row + 1, 0),
                                         QItemSelectionModel::Select | QItemSelectionModel::Rows);
        QCOMPARE(page().selectedIds().size(), 2);
        m_bench->press(Qt::Key_D, Qt::ControlModifier);
        choose(QStringLiteral("A new collection"));
        const auto all = desk().store->collections.all();
        const auto made = std::ranges::find(*all, QStringLiteral("New collection"), &library::Collection::name);
        QVERIFY(made != all->end());
        QCOMPARE(made->items, 2);
        desk().undo.undo();
        QVERIFY(desk().store->collections.items(made->row_id)->empty());
    }

    void whatNobodyPlacedIsProposedAPlace()
    {
        auto info = *desk().store->catalogue.info(QStringLiteral("reference:hard-clip"));
        HR_VERIFY(desk().store->database().change(
            QStringLiteral("UPDATE processors SET kind = 'effect' WHERE id = ?"),
            {QStringLiteral("reference:hard-clip")}));
        auto measured =
            bench::measure({info.id, {}}, info, {-30}, *bench::testsNamed({"harmonics", "transfer"}), {});
        HR_VERIFY(desk().store->runs.store(
            library::setUpOf(desk().store->catalogue, {info.id, {}}, info, processors::defaultValues(info)),
            measured)); // as if it had been measured at its defaults
        desk().processors.reload();
        selectOnly(QStringLiteral("reference:hard-clip"));
        press(QStringLiteral("Place it under saturation"));
        QCOMPARE(desk().store->catalogue.entry(QStringLiteral("reference:hard-clip"))->kind,
                 QStringLiteral("saturation"));
        QTRY_VERIFY(m_bench->button(QStringLiteral("Back to its maker's kind")));
        desk().undo.undo();
        QCOMPARE(desk().store->catalogue.entry(QStringLiteral("reference:hard-clip"))->kind,
                 QStringLiteral("effect"));
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

    void selectedOnesGoToBuild()
    {
        selectOnly(id("deep-keel"));
        m_bench->press(Qt::Key_B, Qt::ControlModifier);
        QCOMPARE(m_bench->window->page(), PageName::Build);
        QCOMPARE(desk().draft.chain().nodes.size(), std::size_t{1});
        desk().ways.build(QStringList{id("cordage-leveller")});
        press(QStringLiteral("↓"));
        QTRY_COMPARE(desk().draft.chain().nodes.back().processor, id("deep-keel").toStdString());
        m_bench->press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(desk().draft.chain().nodes.front().processor, id("deep-keel").toStdString());
        ChainDraft kept(*desk().store, desk().undo, desk().notices); // as after a restart
        QCOMPARE(kept.chain().nodes.size(), std::size_t{2});
        const QString file = m_data.filePath(QStringLiteral("chain.json"));
        m_bench->window->findChild<BuildPage*>()->saveTo(file);
        const auto read = exchange::readChain(file.toStdString());
        HR_VERIFY(read);
        QCOMPARE(read->nodes.size(), std::size_t{2});
        desk().draft.append(QStringList(100, id("deep-keel"))); // what does not fit is left out
        QCOMPARE(desk().draft.chain().nodes.size(), chain::most_stages);
        desk().draft.change(*read);
        press(QStringLiteral("Keep"));
        choose(QStringLiteral("A new collection"));
        desk().draft.change(chain::Chain{"emptied", {}});
        desk().navigation.goTo(PageName::Keep);
        auto* collections = m_bench->find<QListWidget>(QStringLiteral("collections"));
        collections->setCurrentItem(
            collections->findItems(QStringLiteral("New collection"), Qt::MatchStartsWith).last());
        press(QStringLiteral("Build")); // of the kept one
        QCOMPARE(desk().draft.chain().nodes.size(), std::size_t{2});
        const int before = m_bench->candidates();
        press(QStringLiteral("Listen to the chain"));
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->candidates(), before + 1, 10000);
        const library::CollectionItem kept_again = m_bench->at(before + 1).item();
        QVERIFY(kept_again.isChain());
        desk().line_up.remove(m_bench->idAt(before + 1));
        desk().ways.listenTo(kept_again);
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->candidates(), before + 1, 10000);
        desk().navigation.goTo(PageName::Find);
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

    void aRowSaysWhereItWasFound()
    {
        const QString keel = id("deep-keel");
        desk().notebook.write({keel}, QString(), [](library::Written& w) {
            w.note = QStringLiteral("for trimming trumpets");
            w.tags = {QStringLiteral("quayside")};
        });
        const auto about = [&](const QString& typed) {
            page().setSearchText(typed);
            return desk().processors.indexOf(keel).data(ProcessorModel::About).toString();
        };
        QVERIFY2(about(QStringLiteral("trump")).endsWith(QStringLiteral("note: for trimming trumpets")),
                 qPrintable(about(QStringLiteral("trump"))));
        QVERIFY(about(QStringLiteral("keel quay")).endsWith(QStringLiteral("tagged quayside")));
        const QString plain = about(QStringLiteral("keel"));
        QVERIFY(!plain.contains(QStringLiteral("note")) && !plain.contains(QStringLiteral("tagged")));
        page().setSearchText({});
        desk().undo.undo();
    }

    void aSearchThatFindsNothingSaysSo()
    {
        const auto words = [&] {
            QList<QLabel*> shown;
            for (auto* one : list()->findChildren<QLabel*>())
                if (one->isVisible())
                    shown << one;
            return shown;
        };
        page().focusSearch();
        QVERIFY(words().isEmpty());
        QTest::keyClicks(m_bench->window->focusWidget(), QStringLiteral("zzz"));
        QCOMPARE(words().size(), 2);
        for (const QLabel* one : words())
            QTRY_VERIFY2(one->height() >= one->heightForWidth(one->width()), qPrintable(one->text()));
        QTest::keyClick(m_bench->window->focusWidget(), Qt::Key_Escape);
        QVERIFY(words().isEmpty());
        QVERIFY(list()->isVisible());
    }

    void nothingIsCutOffInASmallWindow()
    {
        m_bench->window->resize(1100, 700);
        const int least = m_bench->window->minimumSizeHint().width();
        QVERIFY2(least <= 1100, qPrintable(QString::number(least)));
        for (int part = 0; part < 4; ++part) {
            page().showPart(part);
            QTest::qWait(50);
            for (auto* button : m_bench->window->findChildren<QPushButton*>())
                if (button->isVisible() && !button->text().isEmpty())
                    QVERIFY2(button->width() >= button->minimumSizeHint().width(), qPrintable(button->text()));
            for (auto* words : page().findChildren<QLabel*>())
                if (words->isVisible() && words->wordWrap())
                    QVERIFY2(words->height() >= words->heightForWidth(words->width()),
                             qPrintable(words->text()));
        }
    }
};

HR_TEST(tst_find_page)
#include "tst_find_page.moc"
