// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/reading.h"
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
        const auto back = bench::readingFromJson(bench::toJson(reading));
        QVERIFY(back);
        QVERIFY(bench::toJson(*back) == bench::toJson(reading));
        QVERIFY(!bench::readingFromJson(nlohmann::ordered_json::array()));
        QVERIFY(!bench::readingFromJson({{"series", {{"m", 7}}}}));
    }
};

HR_TEST(tst_reading)
#include "tst_reading.moc"
