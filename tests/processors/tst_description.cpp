// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description_json.h"
#include "support/fixtures.h"

using namespace hr;
using nlohmann::json;

class tst_description : public QObject {
    Q_OBJECT

    static processors::ProcessorInfo example()
    {
        processors::ProcessorInfo info;
        info.id = "lv2:urn:x";
        info.name = "Näme \"quoted\"";
        info.kind = "compressor";
        info.format = "LV2";
        info.audio_in = info.audio_out = 2;
        info.key_in = 1;
        info.parameters = {
            {"mode", "Mode", "", 0, 2, 1, processors::Scale::Choice, {{0, "a"}, {2, "b"}}, "why", true},
            {"freq", "Frequency", "Hz", 20, 20000, 1000, processors::Scale::Logarithmic, {}, {}, false}};
        info.presets = {{"Warm", "urn:p", {{"freq", 440}}}};
        return info;
    }

private slots:
    void comesBackFromJson()
    {
        const auto back = processors::processorInfoFromJson(json::parse(processors::toJson(example()).dump()));
        HR_VERIFY(back);
        QVERIFY(processors::toJson(*back) == processors::toJson(example()));
        QCOMPARE(back->parameters[0].choices[1].label, std::string("b"));
        QVERIFY(back->parameters[0].hidden);
        QCOMPARE(*back->parameterIndex("freq"), std::size_t{1});
        QVERIFY(!back->parameterIndex("nothing"));
    }

    void nonsenseIsRefused_data()
    {
        QTest::addColumn<QByteArray>("pointer");
        QTest::addColumn<QByteArray>("value");
        QTest::newRow("no id") << QByteArray("/id") << QByteArray();
        QTest::newRow("name is a number") << QByteArray("/name") << QByteArray("7");
        QTest::newRow("parameters is text") << QByteArray("/parameters") << QByteArray("\"x\"");
        QTest::newRow("unknown scale") << QByteArray("/parameters/0/scale") << QByteArray("\"curly\"");
        QTest::newRow("empty range") << QByteArray("/parameters/0/minimum") << QByteArray("9");
        QTest::newRow("default outside") << QByteArray("/parameters/1/default") << QByteArray("-1");
        QTest::newRow("not a number") << QByteArray("/parameters/1/maximum") << QByteArray("null");
        QTest::newRow("preset value is text") << QByteArray("/presets/0/values/freq") << QByteArray("\"high\"");
    }
    void nonsenseIsRefused()
    {
        QFETCH(QByteArray, pointer);
        QFETCH(QByteArray, value);
        json broken = json::parse(processors::toJson(example()).dump());
        if (value.isEmpty())
            broken.erase("id");
        else
            broken[json::json_pointer(pointer.toStdString())] = json::parse(value.toStdString());
        QVERIFY(!processors::processorInfoFromJson(broken));
        QVERIFY(!processors::processorInfoFromJson(json::parse("not json", nullptr, false)));
    }
};

HR_TEST(tst_description)
#include "tst_description.moc"
