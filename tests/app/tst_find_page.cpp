// SPDX-License-Identifier: GPL-3.0-or-later
//
// The list on Find: orders, rules, working sets, what is proposed, ways on.
#include "app/find_bench.h"
#include "exchange/chain_file.h"
#include "pages/build/chain_files.h"
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

class tst_find_page : public test::FindBench {
    Q_OBJECT

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
        // Query for, the hidden one is there.
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

    void selectedOnesGoToBuild()
    {
        selectOnly(id("deep-keel"));
        m_bench->press(Qt::Key_B, Qt::ControlModifier);
        QCOMPARE(m_bench->window->page(), PageName::Build);
        QCOMPARE(desk().draft.chain().nodes.size(), std::size_t{1});
        desk().routes.build(QStringList{id("cordage-leveller")});
        m_bench->find<ChainPicture>(QStringLiteral("stages of the chain"))->setFocus();
        m_bench->press(Qt::Key_Right, Qt::AltModifier);
        QTRY_COMPARE(desk().draft.chain().nodes.back().processor, id("deep-keel").toStdString());
        m_bench->press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(desk().draft.chain().nodes.front().processor, id("deep-keel").toStdString());
        ChainDraft kept(*desk().store, desk().undo, desk().notices); // as after a restart
        QCOMPARE(kept.chain().nodes.size(), std::size_t{2});
        const QString file = m_data.filePath(QStringLiteral("chain.json"));
        m_bench->window->findChild<ChainFiles*>()->saveTo(file);
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
        desk().routes.listenTo(kept_again);
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->candidates(), before + 1, 10000);
        desk().navigation.goTo(PageName::Find);
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
