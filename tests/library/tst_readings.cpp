// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

using namespace hr;
using test::TemporaryStore;

class tst_readings : public QObject {
    Q_OBJECT

private slots:
    void theNewestOfEachTestIsKeptWithItsConditions()
    {
        TemporaryStore kept;
        bench::Measurement m;
        m.processor.id = "lv2:x";
        m.processor.parameters = {{"gain_db", "Gain", "dB", -60, 24, 0, {}, {}, {}, false}};
        m.started = "2026-01-31T12:00:00Z";
        for (const double gain : {-3.0, -6.0}) {
            m.values = {gain};
            bench::Reading reading;
            reading.put("gain_1k_db", gain);
            reading.series["magnitude"] = {"frequency_hz", "magnitude_db", {{20, gain}, {20000, gain}}};
            m.readings = {{"response", reading}};
            HR_VERIFY(kept.store->readings.store(m));
        }
        m.readings = {{"harmonics", bench::Reading{}}};
        HR_VERIFY(kept.store->readings.store(m));
        kept.store.reset();
        auto again = library::Store::open(kept.path());
        HR_VERIFY(again);
        const auto latest = (*again)->readings.latest(QStringLiteral("lv2:x"));
        HR_VERIFY(latest);
        QCOMPARE(latest->size(), std::size_t{2});
        QCOMPARE(latest->at(0).test, QStringLiteral("response"));
        QCOMPARE(*latest->at(0).reading.number("gain_1k_db"), -6.0);
        QCOMPARE(latest->at(0).settings["gain_db"].get<double>(), -6.0);
        QCOMPARE(latest->at(0).conditions["sample_rate"].get<double>(), 48000.0);
        QCOMPARE(latest->at(0).reading.series.at("magnitude").points.size(), std::size_t{2});
        QCOMPARE(*(*again)->readings.measured(), QStringList{QStringLiteral("lv2:x")});
        QVERIFY((*again)->readings.latest(QStringLiteral("lv2:y"))->empty());
    }
};

HR_TEST(tst_readings)
#include "tst_readings.moc"
