// SPDX-License-Identifier: GPL-3.0-or-later
//
// Steps that are taken one after the other, and a search that is answered by keys.
#include "jobs/soon.h"
#include "support/fixtures.h"
#include "tour/steps.h"
#include "widgets/search_popup.h"

#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <QSignalSpy>

using namespace hr;
using namespace hr::app;

class tst_steps : public QObject {
    Q_OBJECT

private slots:
    void theyAreTakenInTheirOrder()
    {
        Steps steps;
        QStringList taken;
        bool holds = false;
        steps.then([&] { taken << QStringLiteral("one"); });
        steps.wait("what comes later", [&] { return holds; });
        steps.then([&] { taken << QStringLiteral("two"); });
        steps.pause(60);
        steps.attempt([&]() -> Result<void> {
            taken << QStringLiteral("three");
            return {};
        });
        QSignalSpy finished(&steps, &Steps::finished);
        steps.start();
        QTest::qWait(120);
        QCOMPARE(taken, QStringList{QStringLiteral("one")});
        holds = true;
        QElapsedTimer since;
        since.start();
        QVERIFY(finished.wait(5000));
        QVERIFY(since.elapsed() >= 60);
        QCOMPARE(taken.size(), 3);
        QVERIFY(finished.front().at(0).toString().isEmpty());
    }

    void oneThatFailsIsTheLast()
    {
        Steps steps;
        bool went_on = false;
        steps.attempt([]() -> Result<void> { return wrongRequest("It cannot be done."); });
        steps.then([&] { went_on = true; });
        QSignalSpy finished(&steps, &Steps::finished);
        steps.start();
        QTest::qWait(100);
        QCOMPARE(finished.count(), 1);
        QCOMPARE(finished.front().at(0).toString(), QStringLiteral("It cannot be done."));
        QVERIFY(!went_on);
    }

    void soonWaitsUntilTheHandRests()
    {
        int done = 0;
        Soon soon(80, [&] { ++done; });
        for (int i = 0; i < 5; ++i) {
            soon.start();
            QTest::qWait(20);
        }
        QCOMPARE(done, 0);
        QTRY_COMPARE(done, 1);
        soon.start();
        soon.stop();
        QTest::qWait(150);
        QCOMPARE(done, 1);
    }

    /// Headings are passed over, by keys and by the mouse.
    void aSearchTakesWhatCanBeTaken()
    {
        QWidget window;
        window.resize(400, 300);
        window.show();
        QPointer popup(new SearchPopup(QStringLiteral("type"), QStringLiteral("what"), {300, 200}, &window));
        const auto row = [&](const char* text, bool can_be_taken) {
            auto* item = new QListWidgetItem(QLatin1String(text), &popup->list());
            if (!can_be_taken)
                item->setFlags(Qt::NoItemFlags);
        };
        row("a heading", false);
        row("first", true);
        row("another heading", false);
        row("second", true);
        QSignalSpy typed(popup, &SearchPopup::typed);
        QStringList taken;
        connect(popup, &SearchPopup::taken, this, [&](QListWidgetItem* item) { taken << item->text(); });
        popup->openAt(window.mapToGlobal(QPoint(10, 10)));
        popup->beginAtTop();
        QTest::keyClicks(&popup->edit(), QStringLiteral("ab"));
        QCOMPARE(typed.count(), 2);
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        QTest::keyClick(&popup->edit(), Qt::Key_Down);
        QTest::keyClick(&popup->edit(), Qt::Key_Down); // there is no third
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        QTest::keyClick(&popup->edit(), Qt::Key_Up);
        QTest::keyClick(&popup->edit(), Qt::Key_Return);
        const auto click = [&](int at) {
            QTest::mouseClick(popup->list().viewport(), Qt::LeftButton, {},
                              popup->list().visualItemRect(popup->list().item(at)).center());
        };
        click(2);
        click(3);
        QCOMPARE(taken, (QStringList{QStringLiteral("first"), QStringLiteral("second"), QStringLiteral("first"),
                                     QStringLiteral("second")}));
        popup->close();
        QTRY_VERIFY(!popup);
    }
};

HR_TEST(tst_steps)
#include "tst_steps.moc"
