// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description_json.h"
#include "processors/note_value.h"
#include "signal/tap_tempo.h"
#include "support/fixtures.h"

using namespace hr::processors;

class tst_note_value : public QObject {
    Q_OBJECT

private slots:
    void timesAreNotes_data()
    {
        QTest::addColumn<double>("ms");
        QTest::addColumn<double>("bpm");
        QTest::addColumn<QString>("note");
        QTest::newRow("a beat") << 500.0 << 120.0 << "1/4";
        QTest::newRow("a bar") << 2500.0 << 96.0 << "1/1";
        QTest::newRow("dotted") << 375.0 << 120.0 << "1/8.";
        QTest::newRow("triplet") << 166.67 << 120.0 << "1/8t";
        QTest::newRow("half a percent off") << 502.5 << 120.0 << "1/4";
        QTest::newRow("two percent off") << 510.0 << 120.0 << "";
        QTest::newRow("no tempo") << 500.0 << 0.0 << "";
        QTest::newRow("no time") << 0.0 << 120.0 << "";
        QTest::newRow("nonsense") << std::nan("") << 120.0 << "";
    }
    void timesAreNotes()
    {
        QFETCH(double, ms);
        QFETCH(double, bpm);
        QFETCH(QString, note);
        QCOMPARE(QString::fromStdString(noteValue(ms, bpm).value_or("")), note);
    }

    void notesAreTimes_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<double>("value"); // at 120 beats a minute; 0: it is none
        QTest::newRow("a beat") << "1/4"
                                << "ms" << 500.0;
        QTest::newRow("dotted") << "1/8."
                                << "ms" << 375.0;
        QTest::newRow("triplet") << "1/4t"
                                 << "ms" << 1000.0 / 3;
        QTest::newRow("two bars") << "2 bars"
                                  << "s" << 4.0;
        QTest::newRow("a rate") << "1/16"
                                << "Hz" << 8.0;
        QTest::newRow("three sixteenths") << "3/16"
                                          << "ms" << 375.0;
        QTest::newRow("spaces") << " 1 / 8 T "
                                << "ms" << 500.0 / 3;
        QTest::newRow("of decibels") << "1/4"
                                     << "dB" << 0.0;
        for (const char* text : {"", "1", "1/", "/4", "0/4", "1/0", "1/4x", "-1/4", "1/4..", "bars", "1.5/4"})
            QTest::newRow(text) << text << "ms" << 0.0;
    }
    void notesAreTimes()
    {
        QFETCH(QString, text);
        QFETCH(QString, unit);
        QFETCH(double, value);
        HR_NEAR(noteInUnit(text.toStdString(), 120, unit.toStdString()).value_or(0), value, 1e-9);
        QVERIFY(!noteInUnit(text.toStdString(), 0, unit.toStdString())); // no tempo
    }

    void timesOfATempoAreListed()
    {
        const auto times = noteTimes(120, *meterIn("6/8"));
        QCOMPARE(times.size(), std::size_t{24});
        QCOMPARE(times.front().note, std::string("1/64t"));
        HR_NEAR(times.front().ms, 500.0 / 16 * 2 / 3, 1e-9);
        HR_NEAR(times.back().ms, 4 * 1500, 1e-9); // quarters count, bars are of six eighths
        for (const char* none : {"", "4", "4/", "/4", "4/3", "0/4", "4/128", "4/4x", "65/4"})
            QVERIFY2(!meterIn(none), none);
    }

    void tapsAreATempo()
    {
        hr::signal::TapTempo taps;
        for (const double at : {0.0, 0.5, 1.0})
            QVERIFY(!taps.tap(at));
        HR_NEAR(*taps.tap(1.5), 120, 1e-9);
        HR_NEAR(*taps.tap(2.1), 120, 1e-9); // one slip
        QVERIFY(!taps.tap(10));             // begun again
    }

    void presetsSurviveAsJson()
    {
        const PresetInfo preset{"Quay", "urn:x:quay", {{"ratio", 3.5}, {"gain", -6}}, "Harbour"};
        const auto again = presetFromJson(toJson(preset));
        HR_VERIFY(again);
        QCOMPARE(again->bank, preset.bank);
        QVERIFY(again->values.size() == 2);
        for (const char* bad :
             {"{}", "[]", R"({"name": 1, "id": "", "values": {}})",
              R"({"name": "", "id": "", "values": {"a": "b"}})", R"({"name": "", "id": "", "values": 3})"})
            QVERIFY2(!presetFromJson(nlohmann::json::parse(bad)), bad);
    }
};

HR_TEST(tst_note_value)
#include "tst_note_value.moc"
