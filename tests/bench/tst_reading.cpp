// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/reading.h"

#include "bench/figure_text.h"
#include "bench/suite.h"
#include "support/fixtures.h"

#include <limits>

using namespace hr;

class tst_reading : public QObject {
    Q_OBJECT

private slots:
    void whatIsNotThereIsNullWithAReason()
    {
        bench::Reading reading;
        reading.put("gain_1k_db", -6.5);
        reading.put("corner_low_hz", std::nullopt, "it never falls");
        reading.put("thd_db", -std::numeric_limits<double>::infinity());
        QCOMPARE(*reading.number("gain_1k_db"), -6.5);
        QVERIFY(!reading.number("corner_low_hz") && !reading.number("thd_db") && !reading.number("nothing"));
        const auto json = bench::toJson(reading);
        QVERIFY(json["corner_low_hz"].is_null());
        QCOMPARE(json["reasons"]["corner_low_hz"].get<std::string>(), std::string("it never falls"));
        QVERIFY(!json["reasons"]["thd_db"].get<std::string>().empty());
    }

    void comesBackFromJson()
    {
        bench::Reading reading;
        reading.put("passband_db", 1.5);
        reading.put("corner_low_hz", std::nullopt, "why");
        reading.figures["peaks"] = {{{"frequency_hz", 100}}};
        reading.conditions = {{"level_dbfs", -30}};
        reading.series["magnitude"] = {"frequency_hz", "magnitude_db", {{10, 0}, {20, -1}}};
        reading.flags = {{"varies", "it moves", {"passband_db"}}, {"many-extremes", "20 peaks"}};
        const auto back = bench::readingFromJson(bench::storedJson(reading));
        QVERIFY(back);
        QVERIFY(bench::storedJson(*back) == bench::storedJson(reading));
        QCOMPARE(back->whyUnsure("passband_db"), std::string("it moves"));
        QVERIFY(!bench::readingFromJson(nlohmann::ordered_json::array()));
        QVERIFY(!bench::readingFromJson({{"series", {{"m", 7}}}}));
    }

    void aFigureSaysNoMoreThanItKnows()
    {
        const auto text = [](const char* key, const nlohmann::ordered_json& value) {
            return QString::fromStdString(bench::valueText(value, *bench::figureInfo("harmonics", key)));
        };
        QCOMPARE(text("thd_db", -80.126), QStringLiteral("−80.13"));
        QCOMPARE(text("thd_db", -240), QStringLiteral("< −150"));
        QCOMPARE(text("harmonics_db", {-40, -240}), QStringLiteral("−40.00;  < −150"));
        QCOMPARE(text("thd_percent", 1e-6), QStringLiteral("< 0.0001"));
        QCOMPARE(text("thd_percent", 0), QStringLiteral("0.0000"));
        bench::Reading reading;
        reading.figures = {{"thd_db", -40}, {"odd_db", -41}};
        bench::Reading low = reading;
        low.flags.push_back({"varies", "it moves", {"thd_db"}});
        reading.putGroup("at_100_hz", low);
        const auto cell = [&](const char* key) {
            return QString::fromStdString(bench::cellText(reading, key, *bench::figureInfo("harmonics", key)));
        };
        QCOMPARE(cell("at_100_hz.thd_db"), QStringLiteral("≈ −40.00"));
        QCOMPARE(cell("at_100_hz.odd_db") + cell("thd_db"), QStringLiteral("−41.00−40.00"));
    }

    void groupsOfFiguresAreListedWhereSomeoneHasThem()
    {
        bench::Reading reading;
        const auto keysOf = [&](const char* test) { return bench::figureKeys(test, {&reading}); };
        const auto has = [](const std::vector<std::string>& keys, const char* key) {
            return std::ranges::find(keys, key) != keys.end();
        };
        reading.figures = {{"threshold_db", -20}, {"at_100_hz", nullptr}};
        QVERIFY(has(keysOf("transfer"), "threshold_db") && !has(keysOf("transfer"), "at_100_hz"));
        reading.figures["at_100_hz"] = {{"threshold_db", -12}};
        QVERIFY(has(keysOf("transfer"), "at_100_hz.threshold_db") && !has(keysOf("transfer"), "at_100_hz"));
        QVERIFY(has(keysOf("key_input"), "transfer")); // with what it says of why not
    }
};

HR_TEST(tst_reading)
#include "tst_reading.moc"
