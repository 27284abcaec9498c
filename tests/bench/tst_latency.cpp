// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/latency.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;

class tst_latency : public QObject {
    Q_OBJECT

private slots:
    void foundWhateverIsReported_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("value");
        QTest::addColumn<int>("latency"); // -1: none to be found
        QTest::newRow("none") << "reference:gain"
                              << "gain_db" << -20.0 << 0;
        QTest::newRow("reported") << "reference:added-latency"
                                  << "latency_samples" << 777.0 << 777;
        QTest::newRow("kept to itself") << "reference:added-latency"
                                        << "reported" << 0.0 << 64;
        QTest::newRow("a low pass has none of its own") << "reference:low-pass"
                                                        << "frequency_hz" << 3000.0 << 0;
        QTest::newRow("an equaliser") << "reference:peak-filter"
                                      << "gain_db" << 18.0 << 0;
        QTest::newRow("a compressor at work") << "reference:compressor"
                                              << "threshold_db" << -50.0 << 0;
        QTest::newRow("a clip at work") << "reference:hard-clip"
                                        << "clip_dbfs" << -36.0 << 0;
        QTest::newRow("a second, told late") << "lv2:urn:honest-rack:tests:late-latency"
                                             << "samples" << 48000.0 << 48000;
        QTest::newRow("nearly a second, kept to itself") << "reference:added-latency:0"
                                                         << "latency_samples" << 47000.0 << 47000;
        QTest::newRow("dry and an echo") << "reference:feedback-delay"
                                         << "dry_percent" << 100.0 << 0;
        QTest::newRow("only echoes") << "reference:feedback-delay"
                                     << "delay_ms" << 300.0 << -1;
        QTest::newRow("reverb") << "reference:noise-reverb"
                                << "rt60_s" << 0.5 << -1;
    }
    void foundWhateverIsReported()
    {
        QFETCH(QString, id);
        QFETCH(QString, key);
        QFETCH(double, value);
        QFETCH(int, latency);
        const bool untold = id.endsWith(QStringLiteral(":0"));
        id.remove(QStringLiteral(":0"));
        auto instance = hosting::openInstance({id.toStdString(), id.startsWith(QStringLiteral("lv2"))
                                                                     ? test::odd_bundle
                                                                     : std::filesystem::path()});
        HR_VERIFY(instance);
        std::vector<processors::Setting> settings{{key.toStdString(), value}};
        if (untold)
            settings.push_back({"reported", 0});
        const auto values = processors::resolveSettings((*instance)->info(), {}, settings);
        const auto found = bench::findLatency(**instance, {48000, 256}, *values);
        HR_VERIFY(found);
        QCOMPARE(*found ? static_cast<int>(**found) : -1, latency);
    }
};

HR_TEST(tst_latency)
#include "tst_latency.moc"
