// SPDX-License-Identifier: GPL-3.0-or-later
//
// How fast a gain follows, what its detector hears, and what its key does.
#include "bench/plots.h"
#include "support/fixtures.h"

#include <cmath>

using namespace hr;

namespace {

/// Half of what is allowed.
double half(double ms)
{
    return 0.025 * ms + 0.25;
}

} // namespace

class tst_timing : public QObject {
    Q_OBJECT

private slots:
    void compressors_data()
    {
        QTest::addColumn<double>("attack_ms");
        QTest::addColumn<double>("hold_ms");
        QTest::addColumn<double>("release_ms");
        QTest::addColumn<double>("threshold_db");
        QTest::addColumn<double>("rate_hz");
        QTest::newRow("usual") << 10.0 << 0.0 << 100.0 << -24.0 << 48000.0;
        QTest::newRow("fast") << 0.1 << 0.0 << 20.0 << -24.0 << 48000.0;
        QTest::newRow("held") << 3.0 << 50.0 << 300.0 << -40.0 << 44100.0;
        QTest::newRow("slow") << 400.0 << 1000.0 << 5000.0 << -30.0 << 48000.0;
        QTest::newRow("high threshold") << 5.0 << 10.0 << 60.0 << -6.0 << 96000.0;
    }
    void compressors()
    {
        QFETCH(const double, attack_ms);
        QFETCH(const double, hold_ms);
        QFETCH(const double, release_ms);
        QFETCH(const double, threshold_db);
        QFETCH(const double, rate_hz);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        const auto reading = test::readingOf("timing", "compressor",
                                             {{"attack_ms", attack_ms},
                                              {"hold_ms", hold_ms},
                                              {"release_ms", release_ms},
                                              {"threshold_db", threshold_db}},
                                             conditions);
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("attack_ms"), attack_ms, half(attack_ms));
        HR_NEAR(*reading->number("attack_90_ms"), attack_ms * std::log(10), 2 * half(attack_ms));
        // The peak is held for 1 ms at least.
        HR_NEAR(*reading->number("release_ms"), release_ms, half(release_ms) + 0.7);
        HR_NEAR(*reading->number("release_90_ms"), release_ms * std::log(10), 3 * half(release_ms));
        QCOMPARE(reading->figures.at("release_depends_on_depth").get<bool>(), false);
        if (hold_ms >= 3)
            HR_NEAR(*reading->number("hold_ms"), hold_ms, half(hold_ms));
        else
            QVERIFY(!reading->number("hold_ms"));
    }

    void gates()
    {
        for (const auto& [attack_ms, hold_ms, release_ms] :
             {std::array{1.0, 20.0, 100.0}, {30.0, 200.0, 10.0}}) {
            const auto reading = test::readingOf(
                "timing", "gate", {{"attack_ms", attack_ms}, {"hold_ms", hold_ms}, {"release_ms", release_ms}});
            HR_VERIFY(reading);
            HR_NEAR(*reading->number("attack_ms"), attack_ms, half(attack_ms));
            HR_NEAR(*reading->number("hold_ms"), hold_ms, half(hold_ms));
            HR_NEAR(*reading->number("release_ms"), release_ms, half(release_ms));
        }
    }

    void whatRidesNoLevelHasNoTimes()
    {
        for (const auto& [id, why] : {std::pair("gain", "the gain is the same at every level"),
                                      {"hard-clip", "the waveform is bent, not the level ridden"},
                                      {"tremolo", "the level of a steady tone moves by itself"}})
            for (const char* test : {"timing", "detector"}) {
                const auto reading = test::readingOf(test, id);
                HR_VERIFY(reading);
                for (const auto& [key, value] : reading->figures.items()) {
                    QVERIFY2(value.is_null(), key.c_str());
                    QCOMPARE(reading->reasons.at(key), std::string(why));
                }
            }
    }

    void anUnfilteredDetectorHasNoCorners()
    {
        const auto reading = test::readingOf("detector", "compressor");
        HR_VERIFY(reading);
        QVERIFY(!reading->number("detector_corner_low_hz") && !reading->number("detector_corner_high_hz"));
        for (const auto& [frequency_hz, offset_db] : reading->series.at("sensitivity").points)
            if (frequency_hz >= 200)
                HR_NEAR(offset_db, 0, 0.5);
    }

    /// The key goes through cuts of 12 dB an octave, whose corners are those of the detector.
    void aFilteredDetectorHasItsCorners()
    {
        const std::string winch = test::specimen + "winch-bus";
        const auto chain = test::chainOf(
            (R"([{"id":"k","kind":"key","low_cut_hz":250,"high_cut_hz":3000},{"id":"s","processor":")" + winch +
             R"(","settings":{"use_key":1,"attack_ms":1}}])")
                .c_str(),
            R"([{"from":"in","to":"k"},{"from":"in","to":"s"},{"from":"k","to":"s","input":"key"},{"from":"s","to":"out"}])");
        const auto reading = test::readingOf(
            "detector", chain,
            {{"k:low_cut_hz", 250}, {"k:high_cut_hz", 3000}, {"s.use_key", 1}, {"s.attack_ms", 1}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("detector_corner_low_hz"), 250, 12);
        HR_NEAR(*reading->number("detector_corner_high_hz"), 3000, 150);
    }

    void aDeEsserIsMeasuredWhereItListensToo()
    {
        const auto reading = test::readingOf("transfer", test::specimenAt("bosuns-whistle"));
        HR_VERIFY(reading);
        QCOMPARE(reading->conditions.at("frequency_hz").get<double>(),
                 1000.0); // the loudest tones turn it down
        HR_NEAR(reading->figures.at("at_6500_hz").at("range_db").get<double>(), 9, 0.2);
    }

    void theKeyIsSteppedWhileTheSoundHoldsStill()
    {
        const auto winch = test::specimenAt("winch-bus");
        const auto keyed = test::readingOf("key_input", winch, {{"use_key", 1}, {"release_ms", 200}});
        HR_VERIFY(keyed);
        const auto& transfer = keyed->figures.at("transfer");
        QCOMPARE(transfer.at("kind").get<std::string>(), std::string("compressor"));
        HR_NEAR(transfer.at("threshold_db").get<double>(), -20, 0.6); // its detector ripples
        HR_NEAR(transfer.at("ratio").get<double>(), 2, 0.1);
        HR_NEAR(keyed->figures.at("timing").at("release_ms").get<double>(), 200, half(200));
        const auto deaf = test::readingOf("key_input", winch, {{"use_key", 0}});
        HR_VERIFY(deaf);
        QCOMPARE(deaf->figures.at("transfer").at("kind").get<std::string>(), std::string("linear"));
        const auto none = test::readingOf("key_input", "compressor");
        HR_VERIFY(none);
        QCOMPARE(none->reasons.at("timing"), std::string("it has no key input"));
    }

    /// On the curve that is drawn, where the figures say that they were read.
    void attackAndReleaseAreMarkedWhereTheyWereTaken()
    {
        const auto reading =
            test::readingOf("timing", "compressor",
                            {{"threshold_db", -30}, {"ratio", 4}, {"attack_ms", 30}, {"release_ms", 200}});
        HR_VERIFY(reading);
        const auto* plot = bench::plotOf("timing", "gain");
        QVERIFY(plot);
        const auto marks = bench::marksOf(*reading, *plot);
        QCOMPARE(marks.size(), std::size_t{2});
        HR_NEAR(marks[0].x, *reading->number("attack_ms"), 2); // the step up is at 0, the latency none
        QVERIFY(marks[0].text.starts_with("attack 30"));
        QVERIFY(marks[1].text.starts_with("release "));
        const auto& points = reading->series.at("gain").points;
        for (const bench::Mark& mark : marks) {
            const auto near = std::ranges::lower_bound(points, mark.x, {}, &std::pair<double, double>::first);
            QVERIFY(near != points.end());
            HR_NEAR(mark.y, near->second, 0.2);
        }
    }

    void thresholdAndKneeAreMarkedOnTheCurve()
    {
        const auto reading = test::readingOf(
            "transfer", "compressor", {{"threshold_db", -30}, {"ratio", 4}, {"knee_db", 8}, {"makeup_db", 3}});
        HR_VERIFY(reading);
        const auto marks = bench::marksOf(*reading, *bench::plotOf("transfer", "in_out"));
        QCOMPARE(marks.size(), std::size_t{3});
        HR_NEAR(marks[0].x, -30, 0.3);
        QVERIFY(marks[0].text.starts_with("threshold -30"));
        HR_NEAR(marks[2].x - marks[1].x, 8, 1);
        HR_NEAR(marks[1].y, marks[1].x + 3, 0.3); // below the knee it is the makeup alone
        QVERIFY(bench::marksOf(bench::Reading(), *bench::plotOf("transfer", "in_out")).empty());
    }
};

HR_TEST(tst_timing)
#include "tst_timing.moc"
