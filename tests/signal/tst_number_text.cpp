// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/number_text.h"
#include "support/fixtures.h"

#include <clocale>
#include <cmath>
#include <limits>

using namespace hr;

class tst_number_text : public QObject {
    Q_OBJECT

private slots:
    void numbersReadTheSameWhereTheCommaIsTheSign()
    {
        const std::string before = setlocale(LC_NUMERIC, nullptr);
        if (!setlocale(LC_NUMERIC, "de_DE.utf8"))
            QSKIP("the locale was not made: package locales");
        QCOMPARE(std::string(localeconv()->decimal_point), std::string(","));
        QCOMPARE(signal::fixedText(-2.345, 2), std::string("-2.35"));
        QCOMPARE(signal::fixedText(1e20, 1), std::string("100000000000000000000.0"));
        QCOMPARE(signal::shortText(100, 3), std::string("100"));
        QCOMPARE(signal::shortText(87.25, 3), std::string("87.2"));
        QCOMPARE(*signal::numberIn("2.5"), 2.5);
        setlocale(LC_NUMERIC, before.c_str());
    }

    void whatIsTypedIsUnderstood_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("value"); // NaN: nothing
        constexpr double none = std::numeric_limits<double>::quiet_NaN();
        QTest::newRow("point") << "2.5" << 2.5;
        QTest::newRow("comma") << "2,5" << 2.5;
        QTest::newRow("comma, three digits: over a thousand?") << "1,250" << none;
        QTest::newRow("comma behind nought") << "0,125" << 0.125;
        QTest::newRow("two commas") << "1,250,000" << none;
        QTest::newRow("comma and point") << "1,250.5" << none;
        QTest::newRow("real minus, spaces") << QStringLiteral(" \u2212 6 ") << -6.0;
        QTest::newRow("plus") << "+3" << 3.0;
        QTest::newRow("words") << "three" << none;
        QTest::newRow("empty") << "" << none;
        QTest::newRow("infinite") << "inf" << none;
        QTest::newRow("more behind it") << "3x" << none;
    }
    void whatIsTypedIsUnderstood()
    {
        QFETCH(QString, text);
        QFETCH(double, value);
        const auto got = signal::typedNumber(text.toStdString());
        QCOMPARE(got.has_value(), !std::isnan(value));
        if (got)
            QCOMPARE(*got, value);
    }
};

HR_TEST(tst_number_text)
#include "tst_number_text.moc"
