// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/passage_text.h"
#include "support/fixtures.h"

using namespace hr;
using audition::passageFromText;

class tst_passage_text : public QObject {
    Q_OBJECT

private slots:
    void whatPeopleType_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("first_s");
        QTest::addColumn<double>("end_s");
        const auto row = [](const char* text, double first_s, double end_s) {
            QTest::newRow(text) << QString::fromUtf8(text) << first_s << end_s;
        };
        row("2.5 to 6", 2.5, 6);
        row("2,5 TO 6", 2.5, 6);
        row("0:02.5 - 1:10", 2.5, 70);
        row("1:00–1:30", 60, 90);
        row("2.5s to 6 s", 2.5, 6);
        row("4", 4, 100); // to the end
        row("4 to 5000", 4, 100);
        row("bar 3 to 5", 4, 8); // at 120 bpm two seconds each
        row("bars 1 - bar 2", 0, 2);
        row("bar 2.5 to 4", 3, 6);
    }
    void whatPeopleType()
    {
        QFETCH(QString, text);
        QFETCH(double, first_s);
        QFETCH(double, end_s);
        const auto typed = passageFromText(text.toStdString(), 100, 120);
        HR_VERIFY(typed);
        HR_NEAR(typed->first_s, first_s, 1e-9);
        HR_NEAR(typed->end_s, end_s, 1e-9);
    }

    void whatMakesNoSenseIsRefused_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("bpm");
        QTest::addColumn<QString>("says");
        const auto row = [](const QString& text, double bpm, const char* says) {
            QTest::newRow(qPrintable(text.left(20))) << text << bpm << QString::fromLatin1(says);
        };
        row({}, 0, "is not a section");
        row(QStringLiteral("to"), 0, "is not a section");
        row(QStringLiteral("back to front"), 0, "is not a section");
        row(QStringLiteral("-3 to 5"), 0, "is not a section");
        row(QStringLiteral("6 to 2"), 0, "ends before it begins");
        row(QStringLiteral("200 to 300"), 0, "lies outside");
        row(QStringLiteral("1e999 to 2"), 0, "is not a section");
        row(QStringLiteral("99999999999 to 2"), 0, "is not a section");
        row(QStringLiteral("bar 3 to 5"), 0, "need a tempo");
        row(QStringLiteral("bar 0 to 5"), 120, "is not a section");
        row(QString(100000, QLatin1Char('9')), 0, "is not a section");
        row(QStringLiteral("1 to 2 to 3"), 0, "is not a section");
    }
    void whatMakesNoSenseIsRefused()
    {
        QFETCH(QString, text);
        QFETCH(double, bpm);
        QFETCH(QString, says);
        const auto typed = passageFromText(text.toStdString(), 100, bpm);
        QVERIFY(!typed);
        const QString why = test::why(typed.error());
        QVERIFY2(why.contains(says), qPrintable(why));
        QVERIFY(why.size() < 400);
    }
};

HR_TEST(tst_passage_text)
#include "tst_passage_text.moc"
