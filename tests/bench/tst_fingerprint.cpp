// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/behaviour.h"
#include "bench/fingerprint.h"
#include "bench/likeness_map.h"
#include "bench/suite.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "support/fixtures.h"

#include <numbers>
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

    /// A twin whose comb lies a hair beside is nearer than another comb; what removes DC is no wire.
    void aTwinIsNearerThanAnother()
    {
        const auto print = [](const std::function<double(double)>& power) {
            bench::Reading reading;
            reading.figures["passband_db"] = 0;
            for (double f = 10; f < 23000; f *= std::exp2(1.0 / 48))
                reading.series["magnitude"].points.emplace_back(f, 10 * std::log10(power(f) + 1e-9));
            return bench::fingerprintOf({{"response", reading}});
        };
        const auto comb = [](double delay_s) {
            return [delay_s](double f) { return std::pow(std::cos(std::numbers::pi * f * delay_s), 2); };
        };
        const Fingerprint one = print(comb(0.002));
        QVERIFY(4 * bench::distance(one, print(comb(0.002001))) < bench::distance(one, print(comb(0.0022))));
        const auto no_dc = [](double f) { return f * f / (f * f + 25); };
        QVERIFY(bench::distance(print(no_dc), print([](double) { return 1; })) > 0.01F);
    }

    void whatWasNotMeasuredDoesNotCount()
    {
        const auto some = bench::fingerprintOf(measured("gain", {}, {"response"}));
        const auto other = bench::fingerprintOf(measured("gain", {}, {"harmonics"}));
        QVERIFY(std::isinf(bench::distance(some, other)));
        QCOMPARE(bench::distance(bench::merged(some, other), other), 0.0F);
        QVERIFY(bench::nearest(std::vector{some}, other, 5).empty());
    }

    /// What three tests cannot tell apart, others do.
    void roomsEchoesAndMovementAreToldApart()
    {
        const std::vector<std::string> tests{"response", "harmonics", "transfer",
                                             "decay",    "echoes",    "movement"};
        const auto print = [&](const std::string& name, const std::vector<processors::Setting>& settings) {
            return bench::fingerprintOf(measured(name, settings, tests));
        };
        const auto room = print("noise-reverb", {{"rt60_s", 0.4}});
        const auto same_room = print("noise-reverb", {{"rt60_s", 0.42}});
        const auto hall = print("noise-reverb", {{"rt60_s", 1.6}});
        QVERIFY(bench::distance(room, same_room) < bench::distance(room, hall) / 2);
        const auto slow = print("tremolo", {{"rate_hz", 0.5}, {"depth_db", 6}});
        const auto quick = print("tremolo", {{"rate_hz", 8}, {"depth_db", 6}});
        const auto nearly_slow = print("tremolo", {{"rate_hz", 0.55}, {"depth_db", 6}});
        QVERIFY(bench::distance(slow, nearly_slow) < bench::distance(slow, quick));
        // That neither echoes makes no two alike: of a wire and a wire, only what both have counts.
        const auto gain = print("gain", {});
        QCOMPARE(bench::distance(gain, print("gain", {})), 0.0F);
        const auto low = print("low-pass", {});
        HR_NEAR(bench::distance(gain, low),
                bench::distance(bench::fingerprintOf(measured("gain", {})),
                                bench::fingerprintOf(measured("low-pass", {}))),
                1e-6);
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
                              << "rt60_s" << 0.4 << "nothing";
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

    /// Three heaps of things that are nearly alike, far from each other.
    void whatIsAlikeLiesTogetherOnTheMap_data()
    {
        QTest::addColumn<int>("each");
        QTest::newRow("arranged") << 20;
        QTest::newRow("too many to be arranged") << 300;
    }
    void whatIsAlikeLiesTogetherOnTheMap()
    {
        QFETCH(const int, each);
        constexpr std::size_t size = bench::fingerprint_size;
        const auto noise = signal::gaussianNoise(0.3, static_cast<std::size_t>(3 * each) * size, 9);
        std::vector<bench::Fingerprint> prints;
        for (int i = 0; i < 3 * each; ++i) {
            bench::Fingerprint print;
            for (std::size_t k = 0; k < print.size(); ++k)
                print[k] = static_cast<float>((k % 3 == static_cast<std::size_t>(i % 3) ? 6 : 0) +
                                              noise[static_cast<std::size_t>(i) * size + k]);
            if (i % 7 == 0) // harmonics not measured
                std::fill_n(print.begin() + bench::fingerprint_parts[2].first,
                            bench::fingerprint_parts[2].count, std::numeric_limits<float>::quiet_NaN());
            prints.push_back(print);
        }
        const auto map = bench::mapOf(prints);
        QCOMPARE(map.places.size(), prints.size());
        QVERIFY(map.faithfulness > 0.6);
        const auto apart = [&](std::size_t a, std::size_t b) {
            return std::hypot(map.places[a].x - map.places[b].x, map.places[a].y - map.places[b].y);
        };
        for (std::size_t i = 0; i < prints.size(); ++i) {
            QVERIFY(map.places[i].x >= 0 && map.places[i].x <= 1 && map.places[i].y >= 0 &&
                    map.places[i].y <= 1);
            std::size_t nearest = i == 0 ? 1 : 0;
            for (std::size_t j = 0; j < prints.size(); ++j)
                if (j != i && apart(i, j) < apart(i, nearest))
                    nearest = j;
            QCOMPARE(nearest % 3, i % 3);
        }
        const auto again = bench::mapOf(prints);
        QCOMPARE(again.places[1].x, map.places[1].x);
        QVERIFY(bench::mapOf({}).places.empty());
        QCOMPARE(bench::mapOf(std::span(prints).first(1)).places.size(), std::size_t{1});
    }
};

HR_TEST(tst_fingerprint)
#include "tst_fingerprint.moc"
