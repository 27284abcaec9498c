// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;
using processors::Setting;

class tst_settings : public QObject {
    Q_OBJECT

    static processors::ProcessorInfo lowPass()
    {
        auto info = processors::makeReference("reference:low-pass")->info();
        info.presets = {{"Dark", {}, {{"frequency_hz", 500}}}, {"Broken", {}, {{"frequency_hz", 1e9}}}};
        return info;
    }

private slots:
    void presetThenSettings()
    {
        const auto values = processors::resolveSettings(lowPass(), "Dark", {{"order", 4}});
        HR_VERIFY(values);
        QCOMPARE(*values, (std::vector<double>{500, 4}));
        QCOMPARE(*processors::resolveSettings(lowPass(), {}, {}), (std::vector<double>{2000, 2}));
    }

    void whatWasStoredIsTakenAsFarAsItGoes()
    {
        QCOMPARE(processors::nearestValues(lowPass(), {{"frequency_hz", 1e9}, {"of another version", 3}}),
                 (std::vector<double>{20000, 2}));
        QCOMPARE(processors::nearestValues(lowPass(), {}), (std::vector<double>{2000, 2}));
        auto unstated = lowPass();
        unstated.parameters[0].maximum_stated = false;
        QCOMPARE(processors::nearestValues(unstated, {{"frequency_hz", 30000}})[0], 30000.0);
    }

    void randomSettingsLieWithinLimitsAndLeaveWhatIsHeld()
    {
        auto info = lowPass();
        processors::ParameterInfo choice;
        choice.key = "shape";
        choice.scale = processors::Scale::Choice;
        choice.choices = {{3, "three"}, {7, "seven"}};
        info.parameters.push_back(choice);
        info.parameters.push_back(info.parameters[0]);
        info.parameters.back().key = "hidden";
        info.parameters.back().hidden = true;
        std::mt19937_64 random(5);
        const std::vector<double> before{2000, 2, 3, 440};
        std::set<double> orders, choices;
        int below_the_middle = 0;
        for (int i = 0; i < 400; ++i) {
            const auto values = processors::randomValues(info, before, {}, {}, random);
            const auto& frequency = info.parameters[0];
            QVERIFY(values[0] >= frequency.minimum && values[0] <= frequency.maximum);
            // Evenly along the track, which is logarithmic.
            below_the_middle += values[0] < std::sqrt(frequency.minimum * frequency.maximum);
            orders.insert(values[1]);
            choices.insert(values[2]);
            QCOMPARE(values[3], 440.0);
        }
        QVERIFY2(below_the_middle > 150 && below_the_middle < 250,
                 qPrintable(QString::number(below_the_middle)));
        QVERIFY(orders.size() > 1 && std::ranges::all_of(orders, [](double o) { return o == std::round(o); }));
        QCOMPARE(choices, (std::set<double>{3, 7}));
        const auto held = processors::randomValues(info, before, {0, 2}, {}, random);
        QCOMPARE(held[0], 2000.0);
        QCOMPARE(held[2], 3.0);
        for (int i = 0; i < 40; ++i) {
            const auto limited =
                processors::randomValues(info, before, {}, {{0, {300, 500}}, {2, {5, 9}}}, random);
            QVERIFY(limited[0] >= 300 && limited[0] <= 500);
            QCOMPARE(limited[2], 7.0); // the only one between
        }
    }

    void wrongRequestsAreRefusedNeverClamped_data()
    {
        QTest::addColumn<QString>("preset");
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("value");
        QTest::addColumn<QString>("says");
        QTest::newRow("above") << ""
                               << "frequency_hz" << 20001.0 << "20 to 20000 Hz";
        QTest::newRow("below") << ""
                               << "frequency_hz" << 19.9 << "range";
        QTest::newRow("not a number") << ""
                                      << "frequency_hz" << std::nan("") << "cannot be nan";
        QTest::newRow("unknown key") << ""
                                     << "cutoff" << 100.0 << "it has frequency_hz, order";
        QTest::newRow("between choices") << ""
                                         << "order" << 3.0 << "no choice 3";
        QTest::newRow("unknown preset") << "Bright"
                                        << "" << 0.0 << "no preset \"Bright\"";
        QTest::newRow("preset out of range") << "Broken"
                                             << "" << 0.0 << "range";
    }
    void wrongRequestsAreRefusedNeverClamped()
    {
        QFETCH(QString, preset);
        QFETCH(QString, key);
        QFETCH(double, value);
        QFETCH(QString, says);
        std::vector<Setting> settings;
        if (!key.isEmpty())
            settings.push_back({key.toStdString(), value});
        const auto values = processors::resolveSettings(lowPass(), preset.toStdString(), settings);
        QVERIFY(!values);
        QCOMPARE(values.error().blame, Blame::Request);
        QVERIFY2(test::why(values).contains(says), qPrintable(test::why(values)));
    }

    void settingsAreParsed_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("good");
        QTest::addColumn<double>("value");
        QTest::newRow("number") << "frequency_hz=440.5" << true << 440.5;
        QTest::newRow("exponent") << "frequency_hz=1e3" << true << 1000.0;
        QTest::newRow("label") << "order=4th" << true << 4.0;
        QTest::newRow("no equals") << "order" << false << 0.0;
        QTest::newRow("no key") << "=4" << false << 0.0;
        QTest::newRow("text") << "frequency_hz=high" << false << 0.0;
        QTest::newRow("rest behind") << "frequency_hz=4x" << false << 0.0;
        QTest::newRow("infinite") << "frequency_hz=inf" << false << 0.0;
    }
    void settingsAreParsed()
    {
        QFETCH(QString, text);
        QFETCH(bool, good);
        QFETCH(double, value);
        const auto setting = processors::parseSetting(lowPass(), text.toStdString());
        QCOMPARE(setting.has_value(), good);
        if (good)
            QCOMPARE(setting->value, value);
    }

    void aNameWithAnEqualsSignIsAKey()
    {
        processors::ProcessorInfo info;
        info.parameters = {{"Gain (0=off)", "Gain", "", 0, 1, 0, processors::Scale::Linear, {}, {}, false}};
        QCOMPARE(processors::parseSetting(info, "Gain (0=off)=0.5")->key, std::string("Gain (0=off)"));
    }

    /// By key, else by name and unit; what is called alike and counted otherwise is another thing.
    void settingsAreCarriedOverToWhatMeansTheSame()
    {
        processors::ProcessorInfo from;
        processors::ProcessorInfo to;
        const auto add = [](processors::ProcessorInfo& info, const char* key, const char* name,
                            const char* unit) {
            processors::ParameterInfo p;
            p.key = key;
            p.name = name;
            p.unit = unit;
            p.maximum = 100;
            info.parameters.push_back(p);
        };
        add(from, "threshold", "Threshold", "dB");
        add(from, "att", "Attack time", "ms");
        add(from, "rel", "Release", "ms");
        add(from, "mix", "Mix", "%");
        add(to, "attack", "Attack-Time", "ms");
        add(to, "rel", "Release", "s");
        add(to, "other", "Threshold", "dB");
        add(to, "threshold", "Limit", "dB");
        to.parameters[0].maximum = 10;
        const auto carried = processors::carriedOver(
            {{"threshold", 7}, {"att", 25}, {"rel", 80}, {"mix", 40}, {"gone", 1}}, from, to);
        QCOMPARE(carried.size(), std::size_t{2});
        QVERIFY(carried[0].key == "threshold" && carried[0].value == 7);
        QVERIFY(carried[1].key == "attack" && carried[1].value == 10); // as far as that one goes
        const std::vector<double> values{1, 2};
        QCOMPARE(processors::settingsOf(from, values).size(), std::size_t{2});
        QCOMPARE(processors::settingsOf(from, values)[1].key, std::string("att"));
    }
};

HR_TEST(tst_settings)
#include "tst_settings.moc"
