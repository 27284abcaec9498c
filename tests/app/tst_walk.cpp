// SPDX-License-Identifier: GPL-3.0-or-later
//
// The job done once, with mouse and keys: search, listen, switch, change, measure, keep, close, start
// again and find everything as it was left. Runs offscreen and in a real window.
#include "app/workbench.h"
#include "exchange/collection_file.h"
#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/measure/measure_page.h"
#include "widgets/parameter_row.h"
#include "widgets/plot.h"
#include "widgets/waveform_view.h"

#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <QTableView>
#include <QTableWidget>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_walk : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    LineUp& lineUp() const { return m_bench->desk->line_up; }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
    }
    void cleanupTestCase() { m_bench.reset(); }

    void everythingInstalledIsListed()
    {
        auto* list = m_bench->find<QTableView>(QStringLiteral("processors"));
        QVERIFY(list);
        QVERIFY(list->model()->rowCount() >= 8); // specimens and references
        m_bench->window->findPage()->select(QString::fromStdString(test::specimen + "stormglass"));
        QTRY_VERIFY(!m_bench->button(QStringLiteral("Listen"))->isEnabled()); // in quarantine
    }

    void typingNarrowsAndEnterListens()
    {
        auto* search = m_bench->find<QLineEdit>(QStringLiteral("search"));
        QVERIFY(search);
        QTest::mouseClick(search, Qt::LeftButton);
        QTest::keyClicks(search, QStringLiteral("cordage lev"));
        QCOMPARE(m_bench->find<QTableView>(QStringLiteral("processors"))->model()->rowCount(), 1);
        QCOMPARE(m_bench->window->findPage()->selectedId(),
                 QString::fromStdString(test::specimen + "cordage-leveller"));
        QTest::keyClick(search, Qt::Key_Return);
        QCOMPARE(m_bench->window->page(), PageName::Listen);
        QCOMPARE(m_bench->candidates(), 1);
        QCOMPARE(m_bench->wanted(), 1);
    }

    void playingIsHeardAndMatched()
    {
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        QVERIFY(*lineUp().fairWithinLu() <= 0.1);
        QVERIFY(m_bench->at(1).loudnessLufs() && m_bench->at(0).loudnessLufs());
        // The louder of the two was turned down by just the difference, the other not at all.
        HR_NEAR(*m_bench->at(0).loudnessLufs() + m_bench->at(0).gain_db,
                *m_bench->at(1).loudnessLufs() + m_bench->at(1).gain_db, 1e-9);
        QCOMPARE(std::max(m_bench->at(0).gain_db, m_bench->at(1).gain_db), 0.0);
        m_bench->press(Qt::Key_Space);
        QVERIFY(m_bench->desk->transport.isPlaying());
        const std::size_t from = m_bench->desk->transport.position();
        QTRY_VERIFY(m_bench->desk->transport.position() != from);
    }

    void numberKeysSwitch()
    {
        m_bench->press(Qt::Key_0);
        QCOMPARE(m_bench->wanted(), 0);
        m_bench->press(Qt::Key_1);
        QCOMPARE(m_bench->wanted(), 1);
        m_bench->press(Qt::Key_8); // nobody there
        QCOMPARE(m_bench->wanted(), 1);
    }

    void aParameterChangesWhilePlayingAndCanBeUndone()
    {
        auto* track = m_bench->find<Track>(QStringLiteral("Threshold"));
        QVERIFY(track);
        const double before = m_bench->at(1).values[0];
        QTest::mouseClick(track, Qt::LeftButton, {}, QPoint(track->width() / 4, track->height() / 2));
        const double after = m_bench->at(1).values[0];
        QVERIFY(after < before - 5);
        QCOMPARE(m_bench->at(1).match, MatchState::Waiting); // matched again
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->at(1).match, MatchState::Matched, 20000);
        m_bench->press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(m_bench->at(1).values[0], before);
        m_bench->press(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(m_bench->at(1).values[0], after);
        auto* ratio = m_bench->find<QLineEdit>(QStringLiteral("Ratio"));
        ratio->setFocus();
        ratio->selectAll();
        QTest::keyClicks(ratio, QStringLiteral("6 :1"));
        QTest::keyClick(ratio, Qt::Key_Return);
        QCOMPARE(m_bench->at(1).values[1], 6.0);
        track->setFocus();
    }

    void draggingInTheWaveformMakesASection()
    {
        auto* wave = m_bench->window->findChild<WaveformView*>();
        const int y = wave->height() / 2;
        QTest::mousePress(wave, Qt::LeftButton, {}, QPoint(wave->width() / 4, y));
        QTest::mouseMove(wave, QPoint(wave->width() / 2, y));
        QTest::mouseRelease(wave, Qt::LeftButton, {}, QPoint(wave->width() / 2, y));
        const auto loop = m_bench->desk->transport.loop();
        const double frames = static_cast<double>(m_bench->desk->transport.source()->frames());
        HR_NEAR(static_cast<double>(loop.first) / frames, 0.25, 0.02);
        HR_NEAR(static_cast<double>(loop.frames) / frames, 0.25, 0.02);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
    }

    void measuringShowsTheResponseAndHarmonics()
    {
        QTest::mouseClick(m_bench->button(QStringLiteral("Measure")), Qt::LeftButton);
        QCOMPARE(m_bench->window->page(), PageName::Measure);
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->desk->bench.waiting(), 0, 60000);
        auto* plot = m_bench->window->measurePage()->responsePlot();
        plot->setCursor(1000);
        QVERIFY2(plot->cursorText().contains(QStringLiteral("A ")), qPrintable(plot->cursorText()));
        plot->setFocus();
        const QString before = plot->cursorText();
        QTest::keyClick(plot, Qt::Key_Right);
        QVERIFY(plot->cursorText() != before);
        auto* figures = m_bench->find<QTableWidget>(QStringLiteral("figures"));
        QVERIFY(figures);
        QVERIFY(!figures->item(0, 1)->text().isEmpty());
        QCOMPARE(figures->item(2, 1)->text(), QStringLiteral("none")); // no corner, and the reason in its tip
        QVERIFY(!figures->item(2, 1)->toolTip().isEmpty());
    }

    void keepingPutsItIntoACollection()
    {
        m_bench->press(Qt::Key_2, Qt::ControlModifier);
        QCOMPARE(m_bench->window->page(), PageName::Listen);
        QTest::mouseClick(m_bench->button(QStringLiteral("Keep")), Qt::LeftButton);
        QTRY_VERIFY(QApplication::activePopupWidget());
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu);
        QTest::keyClick(menu, Qt::Key_Return); // "A new collection"
        const auto all = m_bench->desk->store->collections.all();
        QCOMPARE(all->size(), std::size_t{1});
        const auto items = m_bench->desk->store->collections.items(all->front().row_id);
        QCOMPARE(items->size(), std::size_t{1});
        QCOMPARE(items->front().reference, m_bench->at(1).processor);
        QCOMPARE(items->front().settings.back().key, std::string("ratio")); // with its settings
        m_bench->press(Qt::Key_5, Qt::ControlModifier);
        QCOMPARE(m_bench->window->page(), PageName::Keep);
        auto* name = m_bench->find<QLineEdit>(QStringLiteral("name of the collection"));
        QVERIFY(name);
        name->setFocus();
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral("Ferry"));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(m_bench->desk->store->collections.all()->front().name, QStringLiteral("Ferry"));
        const QString file = m_data.path() + QStringLiteral("/ferry.json");
        m_bench->desk->keeping.exportTo(m_bench->desk->store->collections.all()->front(), file);
        m_bench->window->keepPage()->importFrom(file);
        QCOMPARE(m_bench->desk->store->collections.all()->size(), std::size_t{2});
        m_bench->desk->undo.undo(); // takes the keeping back
        QVERIFY(m_bench->desk->store->collections.items(all->front().row_id)->empty());
        m_bench->desk->undo.redo();
    }

    void goingAnywhereByName()
    {
        m_bench->press(Qt::Key_K, Qt::ControlModifier);
        QTRY_VERIFY(QApplication::activePopupWidget());
        auto* edit = QApplication::activePopupWidget()->findChild<QLineEdit*>();
        QTest::keyClicks(edit, QStringLiteral("lantern"));
        QTest::keyClick(edit, Qt::Key_Return);
        QCOMPARE(m_bench->candidates(), 2);
        QCOMPARE(m_bench->at(2).title, QStringLiteral("Lantern Glow"));
        QCOMPARE(m_bench->window->page(), PageName::Listen);
    }

    void everyButtonIsFoundByWhatStandsOnIt()
    {
        for (const PageName page : app::all_pages) {
            m_bench->window->showPage(page);
            QTRY_COMPARE(m_bench->window->page(), page);
            QStringList labels;
            for (const auto* button : m_bench->window->findChildren<app::Button*>())
                if (button->isVisible() && button->isEnabled() &&
                    std::ranges::any_of(button->text(), [](QChar c) { return c.isLetter(); }))
                    labels << button->text();
            QVERIFY(!labels.isEmpty());
            m_bench->press(Qt::Key_K, Qt::ControlModifier);
            QTRY_VERIFY(QApplication::activePopupWidget());
            QWidget* popup = QApplication::activePopupWidget();
            auto* edit = popup->findChild<QLineEdit*>();
            const auto* list = popup->findChild<QListWidget*>();
            for (const QString& label : labels) {
                edit->setText(label);
                bool found = false;
                for (int row = 0; row < list->count(); ++row)
                    found = found || list->item(row)->text().contains(label, Qt::CaseInsensitive);
                QVERIFY2(found, qPrintable(label));
            }
            popup->close();
        }
        // And it is pressed.
        m_bench->window->showPage(PageName::Listen);
        m_bench->press(Qt::Key_K, Qt::ControlModifier);
        QTRY_VERIFY(QApplication::activePopupWidget());
        auto* edit = QApplication::activePopupWidget()->findChild<QLineEdit*>();
        QTest::keyClicks(edit, QStringLiteral("Line-ups"));
        auto* list = QApplication::activePopupWidget()->findChild<QListWidget*>();
        for (int row = 0; row < list->count(); ++row)
            if (list->item(row)->text() == QStringLiteral("In sight: Line-ups"))
                list->setCurrentRow(row);
        QTest::keyClick(edit, Qt::Key_Return);
        QTRY_VERIFY(qobject_cast<QMenu*>(QApplication::activePopupWidget()));
        QApplication::activePopupWidget()->close();
    }

    void everythingIsAsItWasLeft()
    {
        m_bench->press(Qt::Key_0);
        const auto loop = m_bench->desk->transport.loop();
        const auto values = m_bench->at(1).values;
        m_bench->window->showPage(PageName::Keep);
        m_bench->window->close();
        m_bench.reset();
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(m_bench->window->page(), PageName::Keep);
        QCOMPARE(m_bench->candidates(), 2);
        QCOMPARE(m_bench->at(1).values, values);
        QCOMPARE(m_bench->desk->transport.loop(), loop);
        QCOMPARE(m_bench->wanted(), 0);
        QCOMPARE(m_bench->window->findPage()->searchText(), QStringLiteral("cordage lev"));
        QVERIFY(!m_bench->desk->store->runs.latest(m_bench->at(1).processor)->empty());
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
    }

    void closingInTheMiddleOfWorkEndsCleanly()
    {
        m_bench->desk->transport.play(true);
        m_bench->window->showPage(PageName::Measure);
        QTest::mouseClick(m_bench->button(QStringLiteral("Measure all")), Qt::LeftButton);
        lineUp().setValue(m_bench->idAt(1), 0, -50);
        m_bench->desk->scan.start();
        m_bench->window->close();
        m_bench.reset();
        QTRY_COMPARE(test::runningWorkers(), 0);
    }
};

HR_TEST(tst_walk)
#include "tst_walk.moc"
#include "widgets/basics.h"
