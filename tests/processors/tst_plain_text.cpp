// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/plain_text.h"
#include "support/fixtures.h"

using namespace hr::processors;

class tst_plain_text : public QObject {
    Q_OBJECT

private slots:
    void onlyTextIsLeft_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QByteArray>("plain");
        const auto row = [](const char* name, const QByteArray& text, const QByteArray& plain) {
            QTest::newRow(name) << text << plain;
        };
        row("as it is", "Größe, 音, 🎺", "Größe, 音, 🎺");
        row("not UTF-8", "caf\xe9!", "caf\xef\xbf\xbd!");
        row("cut off", "\xe2\x82", "\xef\xbf\xbd\xef\xbf\xbd");
        row("overlong", "\xc0\xaf", "\xef\xbf\xbd\xef\xbf\xbd");
        row("half a pair", "\xed\xa0\x80", "\xef\xbf\xbd\xef\xbf\xbd\xef\xbf\xbd");
        row("controls", "a\x01\x7f\n\tb", "a    b");
        row("turned round",
            "a\xe2\x80\xae"
            "b",
            "a b");
        row("markup stays text", "<b>x</b>", "<b>x</b>");
        row("too long", QByteArray(100, 'x'), QByteArray(37, 'x') + "…");
    }
    void onlyTextIsLeft()
    {
        QFETCH(QByteArray, text);
        QTEST(QByteArray::fromStdString(plainText(text.toStdString(), 40)), "plain");
    }

    void linesStayWhereTheyMay()
    {
        QCOMPARE(plainText("a\nb\tc\rd", 40, Lines::Many), std::string("a\nb\tc d"));
    }

    void itIsNeverCutInTheMiddleOfACharacter()
    {
        for (std::size_t most = 3; most < 20; ++most) {
            const std::string plain = plainText("ööööööööööö", most);
            QVERIFY(plain.size() <= most && plainText(plain, 100) == plain);
        }
    }
};

HR_TEST(tst_plain_text)
#include "tst_plain_text.moc"
