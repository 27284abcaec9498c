// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "exchange/report/html.h"
#include "pages/find/details_panel.h"
#include "print/pdf.h"

#include <QLineEdit>
#include <QListWidget>
#include <QTextEdit>

using namespace hr;
using namespace hr::app;
using test::Workbench;

/// A page from a line-up to what leaves the building.
class tst_write : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    PageBook& book() const { return desk().book; }
    std::string block(std::size_t at, const char* key) const
    {
        return book().page()["blocks"][at].value(key, std::string());
    }
    void start()
    {
        if (m_bench)
            m_bench->window->close();
        m_bench.reset();
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
    }
    void press(const QString& accessible_name)
    {
        const auto find = [&] {
            auto* named = m_bench->find<QPushButton>(accessible_name);
            return named ? named : m_bench->button(accessible_name);
        };
        QTRY_VERIFY2(find(), qPrintable(accessible_name));
        auto* button = find();
        QTest::mouseClick(button, Qt::LeftButton);
    }

    /// Words that read so, once they are there.
    QTextEdit* words(const std::string& text) const
    {
        QTextEdit* found = nullptr;
        (void)QTest::qWaitFor([&] {
            for (auto* one : m_bench->window->findChildren<QTextEdit*>())
                if (one->isVisible() && one->toPlainText().toStdString() == text)
                    found = one;
            return found != nullptr;
        });
        return found;
    }

private slots:
    void initTestCase() { start(); }
    void cleanupTestCase() { m_bench.reset(); }

    void oneKeyBeginsAPageAboutTheLineUp()
    {
        m_bench->window->showPage(PageName::Listen);
        m_bench->window->setFocus();
        m_bench->press(Qt::Key_W);
        QCOMPARE(book().current(), qint64{0}); // nobody is there to write about, which is said
        desk().line_up.add(QStringLiteral("reference:low-pass"), {{"frequency_hz", 700}});
        desk().line_up.add(QStringLiteral("reference:gain"), {{"gain_db", 3}});
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu().has_value(), 20000);
        const QString low_pass = desk().bench.setUpOf(m_bench->at(1)).key();
        const QString gain = desk().bench.setUpOf(m_bench->at(2)).key();
        const auto hold = [this](const char* kind, const QString& first, const QString& second) {
            HR_VERIFY(desk().store->trials.store({0, first, second, {{"kind", kind}}}));
        };
        hold("abx", low_pass, QStringLiteral("source"));
        hold("preference", QStringLiteral("preference"), low_pass + QLatin1Char('\n') + gain);
        hold("abx", QStringLiteral("somebody"), QStringLiteral("source")); // these two are of others
        hold("rating", QStringLiteral("rating"), QStringLiteral("somebody\n") + gain);
        m_bench->press(Qt::Key_W);
        QCOMPARE(std::ranges::count(book().page()["blocks"], "trial",
                                    [](const auto& one) { return one.value("kind", std::string()); }),
                 2);
        QCOMPARE(m_bench->window->page(), PageName::Write);
        QVERIFY(book().current() > 0);
        QCOMPARE(book().page()["subjects"].size(), std::size_t{2});
        HR_NEAR(book().page()["subjects"][0]["settings"]["frequency_hz"].get<double>(), 700, 0);
        QVERIFY(block(0, "markdown").find("within 0.0") != std::string::npos);
        // What is missing is measured, and comes onto the page by itself.
        QTRY_VERIFY_WITH_TIMEOUT(desk().bench.waiting() == 0, 120000);
        QTRY_VERIFY(!book().part(1).contains("missing"));
        bool found = false;
        const auto table = book().part(1);
        for (const auto& row : table["rows"])
            if (row["key"] == "corner_high_hz") {
                HR_NEAR(row["values"][0].get<double>(), 700, 7);
                found = true;
            }
        QVERIFY(found);
        const auto& blocks = book().page()["blocks"];
        const auto settings = std::ranges::find(
            blocks, "settings", [](const auto& one) { return one.value("kind", std::string()); });
        QVERIFY(settings != blocks.end());
        const auto set = book().part(static_cast<std::size_t>(settings - blocks.begin()));
        QCOMPARE(set["rows"][0]["title"].get<std::string>(), std::string("Frequency"));
        QCOMPARE(set["rows"][0]["texts"][0].get<std::string>(), std::string("700 Hz"));
        QCOMPARE(set["rows"][0]["texts"][1].get<std::string>(), std::string()); // a gain has none
    }

    /// From the page back to who was compared, and from a processor to where it is written about.
    void pagesAreTiedToLineUpsAndProcessors()
    {
        const qint64 page = book().current();
        desk().line_up.remove(m_bench->idAt(2));
        press(QStringLiteral("Its line-up"));
        QCOMPARE(m_bench->window->page(), PageName::Listen);
        QTRY_COMPARE(m_bench->candidates(), 2);
        HR_NEAR(m_bench->at(1).values[0], 700, 0);
        book().begin(exchange::newPage("Another", {}));
        const auto about = desk().store->pages.about(QStringLiteral("reference:low-pass"));
        QVERIFY(about && about->size() == 1 && about->front().row_id == page);
        QVERIFY(desk().store->pages.about(QStringLiteral("reference:low"))->empty());
        m_bench->window->showPage(PageName::Find);
        auto* particulars = m_bench->window->findChild<DetailsPanel*>();
        particulars->show(QStringLiteral("reference:low-pass"), {QStringLiteral("reference:low-pass")}, true);
        press(QString::fromStdString(desk().store->pages.one(page)->document["title"].get<std::string>()));
        QCOMPARE(m_bench->window->page(), PageName::Write);
        QCOMPARE(book().current(), page);
    }

    void whatIsWrittenIsKeptAndCanBeTakenBack()
    {
        auto* words = m_bench->find<QTextEdit>(QStringLiteral("words"));
        QVERIFY(words);
        const std::string before = block(0, "markdown");
        words->setFocus();
        words->moveCursor(QTextCursor::End);
        QTest::keyClicks(words, QStringLiteral(" It is **dull**."));
        QVERIFY(block(0, "markdown").ends_with(" It is **dull**."));
        desk().undo.undo(); // typing in one place is one step
        QCOMPARE(block(0, "markdown"), before);
        desk().undo.redo();
        auto* title = m_bench->find<QLineEdit>(QStringLiteral("title of the page"));
        title->setFocus();
        title->selectAll();
        QTest::keyClicks(title, QStringLiteral("Dull & loud"));
        QTest::keyClick(title, Qt::Key_Return);
        start();
        m_bench->window->showPage(PageName::Write);
        auto* search = m_bench->find<QLineEdit>(QStringLiteral("search pages and journal"));
        QTest::keyClicks(search, QStringLiteral("nobody"));
        QCOMPARE(m_bench->find<QListWidget>(QStringLiteral("pages"))->count(), 0);
        search->clear();
        auto* list = m_bench->find<QListWidget>(QStringLiteral("pages"));
        QCOMPARE(list->item(0)->text(), QStringLiteral("Dull & loud"));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QVERIFY(block(0, "markdown").ends_with(" It is **dull**."));
    }

    void blocksAreMovedFrozenAndRemoved()
    {
        QCOMPARE(block(1, "kind"), std::string("figures"));
        press(QStringLiteral("further down the page"));
        QTRY_COMPARE(block(2, "kind"), std::string("figures"));
        desk().undo.undo();
        QCOMPARE(block(1, "kind"), std::string("figures"));
        QTRY_VERIFY(m_bench->button(QStringLiteral("follows the readings")));
        QTest::mouseClick(m_bench->button(QStringLiteral("follows the readings")), Qt::LeftButton);
        QTRY_VERIFY(book().page()["blocks"][1].contains("frozen"));
        QTRY_VERIFY(m_bench->button(QStringLiteral("frozen")));
        const auto blocks = book().blocks();
        press(QStringLiteral("take it off the page"));
        QTRY_COMPARE(book().blocks(), blocks - 1);
        desk().undo.undo();
        QCOMPARE(book().blocks(), blocks);
        book().insert(1, exchange::figuresBlock("noise"));
        QCOMPARE(block(1, "test"), std::string("noise"));
    }

    void wordsAreMovedAndTakenOffByKeys()
    {
        const std::string text = block(0, "markdown");
        QVERIFY(words(text));
        words(text)->setFocus();
        QTest::keyClick(words(text), Qt::Key_Down, Qt::AltModifier);
        QTRY_COMPARE(block(1, "markdown"), text);
        QTRY_VERIFY(words(text)->hasFocus()); // it goes along
        desk().undo.undo();
        QCOMPARE(block(0, "markdown"), text);
        const auto blocks = book().blocks();
        book().insert(0, exchange::textBlock("gone soon"));
        QTextEdit* gone = words("gone soon");
        QVERIFY(gone);
        gone->clear();
        QTest::keyClick(gone, Qt::Key_Backspace);
        QTRY_COMPARE(book().blocks(), blocks);
        QCOMPARE(block(0, "markdown"), text);
    }

    void itLeavesTheBuilding()
    {
        const std::string html = exchange::reportAsHtml(book().report());
        for (const char* wanted :
             {"Dull &amp; loud", "<strong>dull</strong>", "Low pass", "<svg", "frequency_hz = 700"})
            QVERIFY2(html.find(wanted) != std::string::npos, wanted);
        const std::filesystem::path pdf = m_data.filePath(QStringLiteral("page.pdf")).toStdString();
        HR_VERIFY(print::writePdf(book().report(), pdf));
        QVERIFY(std::filesystem::file_size(pdf) > 20000);
        QVERIFY(!print::writePdf(book().report(), "/nowhere/at/all.pdf"));
    }

    void aPageWhoseProcessorIsGoneStays()
    {
        auto page = book().page();
        page["subjects"][0]["processor"] = "lv2:urn:gone";
        page["subjects"][0]["build"] = "gone";
        book().begin(page);
        const auto table = book().part(2);
        QVERIFY(table.contains("rows"));
        QCOMPARE(table["columns"].size(), std::size_t{2});
    }

    void typingOnTwoPagesIsTwoSteps()
    {
        const qint64 first = book().current();
        const std::string before = block(0, "markdown");
        book().setText(0, QStringLiteral("first page"));
        book().begin(exchange::newPage("Second", {}));
        const qint64 second = book().current();
        book().setText(0, QStringLiteral("second page"));
        desk().undo.undo();
        QCOMPARE(block(0, "markdown"), std::string());
        desk().undo.undo(); // opens the page that it belongs to
        QCOMPARE(book().current(), first);
        QCOMPARE(block(0, "markdown"), before);
        book().open(second);
        QCOMPARE(block(0, "markdown"), std::string());
        book().open(first);
    }

    void removingIsAStep()
    {
        const qint64 row_id = book().current();
        const auto pages = book().all({}).size();
        desk().actions.run(QStringLiteral("page.remove"));
        QCOMPARE(book().current(), qint64{0});
        QCOMPARE(book().all({}).size(), pages - 1);
        desk().undo.undo();
        QCOMPARE(book().current(), row_id);
        QCOMPARE(book().all({}).size(), pages);
    }

    void theJournalNotesWhatWasHeardAndTurned()
    {
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu().has_value(), 20000);
        desk().transport.play(true);
        desk().line_up.hear(m_bench->idAt(1));
        QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), m_bench->idAt(1), 10000);
        QTest::qWait(200); // as long as somebody hears at least
        desk().line_up.hear(m_bench->idAt(2));
        QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), m_bench->idAt(2), 10000);
        desk().line_up.setValue(m_bench->idAt(2), 0, 6);
        const auto said = [this](const QString& words) {
            for (const library::JournalLine& line : desk().journal.newest(20))
                if (line.text.contains(words))
                    return true;
            return false;
        };
        QTRY_VERIFY_WITH_TIMEOUT(said(QStringLiteral("heard the source, A Low pass, B Gain on")), 20000);
        QTRY_VERIFY_WITH_TIMEOUT(said(QStringLiteral("B Gain: Gain 3")), 20000);
        QCOMPARE(desk().journal.newest(20, QStringLiteral("gain 3")).size(), std::size_t{1});
        QVERIFY(desk().journal.newest(20, QStringLiteral("gain 3%")).empty()); // as it stands there
        // It goes onto a page as well, in the order in which it happened.
        m_bench->window->showPage(PageName::Write);
        book().begin(exchange::newPage("What was heard", {}));
        press(QStringLiteral("Journal"));
        const std::string text = block(0, "kind") == "text" ? block(0, "markdown") + block(1, "markdown") : "";
        QVERIFY(text.find("heard the source, A Low pass") != std::string::npos);
        QVERIFY(text.find("heard the source") < text.find("B Gain: Gain 3"));
        desk().transport.play(false);
    }
};

HR_TEST(tst_write)
#include "tst_write.moc"
