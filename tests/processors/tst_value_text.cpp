// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/value_text.h"
#include "support/fixtures.h"

using namespace hr;
using processors::ParameterInfo;
using processors::Scale;

class tst_value_text : public QObject {
    Q_OBJECT

    ParameterInfo m_threshold{"t", "Threshold", "dB", -60, 0, -24, Scale::Linear, {}, {}, false};
    ParameterInfo m_frequency{"f", "Frequency", "Hz", 20, 20000, 1000, Scale::Logarithmic, {}, {}, false};
    ParameterInfo m_time{"a", "Attack", "ms", 0.1, 200, 15, Scale::Logarithmic, {}, {}, false};
    ParameterInfo m_voices{"v", "Voices", "", 1, 8, 2, Scale::Integer, {}, {}, false};
    ParameterInfo m_mode{"m", "Mode", "", 0, 2, 0, Scale::Choice, {{0, "Soft knee"}, {1, "Hard"}}, {}, false};
    ParameterInfo m_switch{"s", "Switch", "", 0, 1, 0, Scale::Toggle, {}, {}, false};

private slots:
    void anythingSensibleIsUnderstood_data()
    {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("value");
        QTest::newRow("plain") << 0 << "-6" << -6.0;
        QTest::newRow("real minus and unit") << 0 << QStringLiteral("−6,5 dB") << -6.5;
        QTest::newRow("plus") << 0 << "+3" << 3.0;
        QTest::newRow("1k2") << 1 << "1k2" << 1200.0;
        QTest::newRow("1.2 kHz") << 1 << "1.2 kHz" << 1200.0;
        QTest::newRow("2K") << 1 << "2K" << 2000.0;
        QTest::newRow("440 Hz") << 1 << "440 hz" << 440.0;
        QTest::newRow("half a second in ms") << 2 << "0.5 s" << 500.0;
        QTest::newRow("15ms") << 2 << "15ms" << 15.0;
        QTest::newRow("label") << 3 << "soft KNEE" << 0.0;
        QTest::newRow("on") << 4 << "On" << 1.0;
    }
    void anythingSensibleIsUnderstood()
    {
        QFETCH(int, which);
        QFETCH(QString, typed);
        QFETCH(double, value);
        const ParameterInfo* all[] = {&m_threshold, &m_frequency, &m_time, &m_mode, &m_switch};
        const auto parsed = processors::parseValue(*all[which], typed.toStdString());
        QVERIFY(parsed);
        HR_NEAR(*parsed, value, 1e-9);
    }

    void nonsenseIsNot_data()
    {
        QTest::addColumn<QString>("typed");
        for (const char* typed : {"", "loud", "k", "1k2k", "--3", "nan", "inf", "1e999", "dB", "1 2 3x"})
            QTest::newRow(typed) << QString::fromUtf8(typed);
    }
    void nonsenseIsNot()
    {
        QFETCH(QString, typed);
        QVERIFY(!processors::parseValue(m_threshold, typed.toStdString()));
        QVERIFY(!processors::parseValue(m_frequency, typed.toStdString()));
    }

    void textHasSensibleDigits_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("expected");
        const auto row = [](const char* name, const ParameterInfo& p, double value, const QString& expected) {
            QTest::newRow(name) << QString::fromStdString(processors::valueText(p, value)) << expected;
        };
        row("level", m_threshold, -24, QStringLiteral("−24.0"));
        row("no minus nought", m_threshold, -0.01, QStringLiteral("0.0"));
        row("high frequency", m_frequency, 12345.6, QStringLiteral("12346"));
        row("low frequency", m_frequency, 33.33, QStringLiteral("33.3"));
        row("short time", m_time, 0.25, QStringLiteral("0.25"));
        row("whole", m_voices, 3, QStringLiteral("3"));
        row("choice", m_mode, 1, QStringLiteral("Hard"));
        row("switch", m_switch, 1, QStringLiteral("on"));
    }
    void textHasSensibleDigits()
    {
        QFETCH(QString, text);
        QTEST(text, "expected");
    }

    void trackAndValueAreInverse()
    {
        for (const ParameterInfo* p : {&m_threshold, &m_frequency, &m_time})
            for (const double part : {0.0, 0.25, 0.5, 1.0})
                HR_NEAR(processors::trackPosition(*p, processors::valueAt(*p, part)), part, 1e-12);
        HR_NEAR(processors::valueAt(m_frequency, 0.5), std::sqrt(20.0 * 20000), 1e-6);
        QCOMPARE(processors::valueAt(m_voices, 0.49), 4.0);
        QCOMPARE(processors::valueAt(m_threshold, 7), 0.0); // never beyond the range
    }

    void arrowKeysStepInsideTheRange()
    {
        HR_NEAR(processors::stepped(m_threshold, -24, 1, false), -23.4, 1e-9);
        HR_NEAR(processors::stepped(m_threshold, -24, -1, true), -24.06, 1e-9);
        QCOMPARE(processors::stepped(m_threshold, 0, 1, false), 0.0);
        QCOMPARE(processors::stepped(m_voices, 8, 1, false), 8.0);
        QCOMPARE(processors::stepped(m_voices, 2, 1, true), 3.0);
        // Of named values, only those that there are.
        processors::ParameterInfo order;
        order.minimum = 2;
        order.maximum = 8;
        order.scale = processors::Scale::Choice;
        order.choices = {{8, "8th"}, {2, "2nd"}, {4, "4th"}};
        QCOMPARE(processors::valueAt(order, 0.3), 4.0);
        QCOMPARE(processors::valueAt(order, 0.9), 8.0);
        QCOMPARE(processors::stepped(order, 4, 1, true), 8.0);
        QCOMPARE(processors::stepped(order, 8, 1, false), 8.0);
        QCOMPARE(processors::stepped(order, 5, -1, false), 2.0);
    }
};

HR_TEST(tst_value_text)
#include "tst_value_text.moc"
