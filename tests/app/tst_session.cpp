// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_session : public QObject {
    Q_OBJECT

private slots:
    void nonsenseInTheSessionDoesNoHarm_data()
    {
        QTest::addColumn<QString>("session");
        QTest::newRow("nothing") << "";
        QTest::newRow("no JSON") << "{{{";
        QTest::newRow("wrong types")
            << "{'page': 'x', 'line_up': 7, 'search': [], 'wanted': -3, 'window': 1, 'passage_first_s': -9}";
        QTest::newRow("unknown page") << "{'page': 99}";
        QTest::newRow("candidates that are none")
            << "{'line_up': [{'settings': {'x': 1}}, 7, {}], 'wanted': 4}";
        QTest::newRow("vanished source")
            << "{'source': '/nowhere/at/all.wav', 'passage_first_s': 5, 'passage_length_s': 5}";
        QTest::newRow("section beyond the end") << "{'passage_first_s': 1e300, 'passage_length_s': 1e300}";
    }
    void nonsenseInTheSessionDoesNoHarm()
    {
        QFETCH(QString, session);
        session.replace(QLatin1Char('\''), QLatin1Char('"'));
        QTemporaryDir data;
        {
            auto store = library::Store::open(data.path().toStdString());
            HR_VERIFY((*store)->setSetting(QStringLiteral("session"), session));
        }
        Workbench bench(data.path());
        QVERIFY(bench.ready());
        QCOMPARE(bench.candidates(), 0);
        QVERIFY(bench.desk->transport.loop().frames > 0);
    }

    void theSessionIsWrittenSoonAfterAChange()
    {
        QTemporaryDir data;
        Workbench bench(data.path());
        QVERIFY(bench.ready());
        bench.desk->line_up.add(QStringLiteral("reference:gain"), {{"gain_db", -7.5}});
        // Not closed: as after a crash.
        QTRY_VERIFY_WITH_TIMEOUT(!Session::stored(*bench.desk->store)["line_up"]["candidates"].empty(), 5000);
        const auto stored = Session::stored(*bench.desk->store);
        QCOMPARE(stored["line_up"]["candidates"][0]["settings"]["gain_db"].get<double>(), -7.5);
    }

    /// Nothing to be played through it: nobody waits for a match that cannot come.
    void withoutASourceNothingIsBeingMatched()
    {
        QTemporaryDir data;
        Workbench bench(data.path(), Workbench::Data::AsItIs);
        bench.desk->line_up.add(QStringLiteral("reference:gain"), {});
        QTRY_VERIFY_WITH_TIMEOUT(bench.at(1).isOpen(), 10000);
        QVERIFY(bench.desk->line_up.isMatching() && !bench.desk->transport.source());
        QVERIFY(std::ranges::none_of(bench.window->findChildren<QLabel*>(), [](const QLabel* one) {
            return one->text() == QStringLiteral("matching …");
        }));
    }

    void everyPageIsWholeAtItsSmallest_data()
    {
        QTest::addColumn<int>("page");
        for (int page = 0; page < 6; ++page)
            QTest::addRow("page %d", page) << page;
    }
    void everyPageIsWholeAtItsSmallest()
    {
        QFETCH(int, page);
        QTemporaryDir data;
        Workbench bench(data.path());
        QVERIFY(bench.ready());
        bench.desk->line_up.add(QString::fromStdString(test::specimen + "tidepool-equaliser"));
        bench.window->resize(1100, 700);
        bench.window->showPage(static_cast<PageName>(page));
        QTest::qWait(50);
        const int least = bench.window->minimumSizeHint().width();
        QVERIFY2(least <= 1100, qPrintable(QString::number(least)));
        for (const QPushButton* button : bench.window->findChildren<QPushButton*>()) {
            if (!button->isVisible())
                continue;
            QVERIFY2(button->width() >= button->sizeHint().width() ||
                         !button->text().contains(QLatin1Char(' ')),
                     qPrintable(button->text()));
            const QRect place(button->mapTo(bench.window.get(), QPoint(0, 0)), button->size());
            QVERIFY2(bench.window->rect().contains(place) || page == 1, qPrintable(button->text()));
        }
    }

    void demoAndRealWindowsTakeOptions()
    {
        const auto wrong = test::runProgram(QStringLiteral("honest-rack"), {QStringLiteral("--frobnicate")});
        QCOMPARE(wrong.code, 1);
        QVERIFY(wrong.err.contains("honest-rack: "));
        QTemporaryDir data;
        const auto unusable = test::runProgram(QStringLiteral("honest-rack"),
                                               {QStringLiteral("--data"), QStringLiteral("/proc/nothing")});
        QCOMPARE(unusable.code, 3);
    }

    void theTourTakesItsPictures()
    {
        QTemporaryDir data;
        const QString pictures = data.path() + QStringLiteral("/pictures");
        const QStringList pages{QStringLiteral("find-presets"), QStringLiteral("listen"),
                                QStringLiteral("measure"),      QStringLiteral("build"),
                                QStringLiteral("keep"),         QStringLiteral("write")};
        const auto toured = test::runProgram(QStringLiteral("honest-rack"),
                                             {QStringLiteral("--demo"), QStringLiteral("--data"), data.path(),
                                              QStringLiteral("--tour"), pictures, QStringLiteral("--only"),
                                              pages.join(QLatin1Char(','))});
        QVERIFY2(toured.code == 0, toured.err.constData());
        for (const QString& page : pages)
            QCOMPARE(QImage(pictures + QLatin1Char('/') + page + QStringLiteral(".png")).size(),
                     QSize(1280, 800));
    }
};

HR_TEST(tst_session)
#include "tst_session.moc"
