// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description_json.h"
#include "processors/note_value.h"
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
