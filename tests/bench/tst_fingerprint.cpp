// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/behaviour.h"
#include "bench/fingerprint.h"
#include "bench/suite.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <random>

using namespace hr;
using bench::Fingerprint;

class tst_fingerprint : public QObject {
    Q_OBJECT

    using Readings = std::vector<std::pair<std::string, bench::Reading>>;

    static Readings measured(const std::string& name, const std::vector<processors::Setting>& settings,
                             const std::vector<std::string>& tests = {"response", "harmonics", "transfer"})
    {
        const auto info = processors::makeReference("reference:" + name)->info();
        return bench::measure({info.id, {}}, info, *processors::resolveSettings(info, {}, settings),
                              *bench::testsNamed(tests), {})
            .readings;
    }

private slots:
    void likeIsNearAndUnlikeIsFar()
    {
        const auto print = [](const std::string& name, const std::vector<processors::Setting>& settings) {
            return bench::fingerprintOf(measured(name, settings));
        };
        const Fingerprint wanted = print("compressor", {{"threshold_db", -20}, {"ratio", 4}});
        const std::vector<Fingerprint> all{print("gain", {{"gain_db", -6}}),
                                           print("hard-clip", {{"clip_dbfs", -20}}),
                                           print("compressor", {{"threshold_db", -21}, {"ratio", 4}}),
                                           print("low-pass", {{"frequency_hz", 1000}})};
        const auto near = bench::nearest(all, wanted, 4);
        QCOMPARE(near.size(), std::size_t{4});
        QCOMPARE(near.front().index, std::size_t{2});
        QVERIFY2(near[0].distance < 1 && near[1].distance > 3, qPrintable(QString::number(near[1].distance)));
        // Make-up is not character: a gain is a gain, however much.
        QVERIFY(bench::distance(all[0], print("gain", {{"gain_db", 3}})) < 0.1F);
    }

    void whatWasNotMeasuredDoesNotCount()
    {
        const auto some = bench::fingerprintOf(measured("gain", {}, {"response"}));
        const auto other = bench::fingerprintOf(measured("gain", {}, {"harmonics"}));
        QVERIFY(std::isinf(bench::distance(some, other)));
        QCOMPARE(bench::distance(bench::merged(some, other), other), 0.0F);
        QVERIFY(bench::nearest(std::vector{some}, other, 5).empty());
    }

    void nearestIsWhatAPlainScanFinds()
    {
        std::mt19937 random(9);
        std::normal_distribution<float> normal(0, 5);
        std::vector<Fingerprint> all(500);
        for (Fingerprint& print : all)
            for (float& figure : print)
                figure = normal(random);
        const auto near = bench::nearest(all, all[77], 20);
        QCOMPARE(near.front().index, std::size_t{77});
        for (const Fingerprint& print : all) {
            const float far = bench::distance(print, all[77]);
            QVERIFY(far >= near.back().distance ||
                    std::ranges::find(near, far, &bench::Near::distance) != near.end());
        }
    }

    void behaviourHasAName_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("value");
        QTest::addColumn<QString>("kind");
        QTest::newRow("compressor") << "compressor"
                                    << "threshold_db" << -30.0 << "compressor";
        QTest::newRow("gate") << "gate"
                              << "threshold_db" << -40.0 << "gate";
        QTest::newRow("clip") << "hard-clip"
                              << "clip_dbfs" << -18.0 << "saturation";
        QTest::newRow("filter") << "low-pass"
                                << "frequency_hz" << 2000.0 << "filter";
        QTest::newRow("equaliser") << "peak-filter"
                                   << "gain_db" << 9.0 << "equaliser";
        QTest::newRow("room") << "noise-reverb"
                              << "rt60_s" << 1.0 << "nothing";
        QTest::newRow("echo") << "feedback-delay"
                              << "delay_ms" << 250.0 << "nothing";
        QTest::newRow("movement") << "tremolo"
                                  << "rate_hz" << 5.0 << "nothing";
        QTest::newRow("nothing of the kind") << "gain"
                                             << "gain_db" << -3.0 << "utility";
    }
    void behaviourHasAName()
    {
        QFETCH(QString, name);
        QFETCH(QString, key);
        QFETCH(double, value);
        QFETCH(QString, kind);
        const auto found = bench::behavesLike(measured(name.toStdString(), {{key.toStdString(), value}}));
        QCOMPARE(QString::fromStdString(found.value_or("nothing")), kind);
        QVERIFY(!bench::behavesLike({}));
    }
};

HR_TEST(tst_fingerprint)
#include "tst_fingerprint.moc"
