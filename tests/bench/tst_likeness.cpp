// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/likeness.h"
#include "support/fixtures.h"

using namespace hr;
using bench::apart;
using bench::Reading;

class tst_likeness : public QObject {
    Q_OBJECT

    /// Magnitudes that rise by so many dB an octave from a level at 1 kHz.
    static Reading response(double db_per_octave, double at_1k_db, double until_hz = 20000)
    {
        Reading reading;
        bench::Curve curve{"frequency_hz", "magnitude_db", {}};
        for (double hz = 10; hz <= until_hz; hz *= 1.02)
            curve.points.emplace_back(hz, at_1k_db + db_per_octave * std::log2(hz / 1000));
        reading.series["magnitude"] = curve;
        return reading;
    }
    static Reading inOut(double ratio, double makeup_db)
    {
        Reading reading;
        bench::Curve curve{"input_dbfs", "output_dbfs", {}};
        for (double in = -60; in <= 0; in += 1)
            curve.points.emplace_back(in, makeup_db + (in > -20 ? -20 + (in + 20) / ratio : in));
        reading.series["in_out"] = curve;
        return reading;
    }

private slots:
    void aLevelIsNoneOfTheShape()
    {
        const auto same = apart("response", response(0, 0), response(0, 6));
        QVERIFY(same);
        HR_NEAR(same->by, 0, 1e-9);
        QCOMPARE(same->note, std::string("and 6.0 dB in level"));
        HR_NEAR(same->noticeable, 0.1 * 6 / 0.5, 1e-9); // a tenth of it counts
        const auto curve = apart("transfer", inOut(4, 0), inOut(4, -2));
        QVERIFY(curve);
        HR_NEAR(curve->by, 0, 1e-9);
        QCOMPARE(curve->note, std::string("and 2.0 dB in level"));
    }

    void aTiltIsMeasuredOverWhatCanBeHeard()
    {
        // Evenly over octaves: the RMS of a straight line about its mean is its height through the root of 12.
        const double octaves = std::log2(18000.0 / 20.0);
        const auto tilted = apart("response", response(0, 0), response(1, 0));
        QVERIFY(tilted);
        HR_NEAR(tilted->by, octaves / std::sqrt(12), 0.03);
        // As far as both go.
        const auto shorter = apart("response", response(0, 0), response(1, 0, 2000));
        QVERIFY(shorter);
        HR_NEAR(shorter->by, std::log2(2000.0 / 20.0) / std::sqrt(12), 0.03);
        QCOMPARE(tilted->unit, std::string("dB"));
    }

    void curvesThatDoNotMeetAreNotCompared()
    {
        QVERIFY(!apart("response", response(0, 0), Reading()));
        QVERIFY(!apart("transfer", Reading(), Reading()));
        QVERIFY(!apart("response", response(0, 0, 15), response(0, 0))); // below what can be heard
        Reading one_point;
        one_point.series["magnitude"] = {"frequency_hz", "magnitude_db", {{1000, 0}}};
        QVERIFY(!apart("response", one_point, response(0, 0)));
    }

    void aRatioIsHeardWhereItWorks()
    {
        const auto two = apart("transfer", inOut(1, 0), inOut(2, 0));
        const auto four = apart("transfer", inOut(1, 0), inOut(4, 0));
        QVERIFY(two && four && four->by > two->by && two->by > 1);
        HR_NEAR(apart("transfer", inOut(4, 0), inOut(4, 0))->noticeable, 0, 1e-9);
    }

    void timesAreComparedAsPartsOfEachOther()
    {
        Reading none;
        Reading fast;
        fast.put("attack_ms", 1.0, {});
        fast.put("release_ms", 100.0, {});
        Reading slow = fast;
        slow.put("attack_ms", 2.0, {});
        QVERIFY(!apart("timing", none, none));
        HR_NEAR(apart("timing", fast, slow)->by, apart("timing", slow, fast)->by, 1e-9);
        HR_NEAR(apart("timing", fast, slow)->by, 100 * std::log(2) / std::sqrt(2), 1e-6);
        const auto missing = apart("timing", fast, none);
        QVERIFY(missing && missing->noticeable >= 20);
        QVERIFY(missing->note.find("has no") != std::string::npos);
    }

    void harmonicsBelowTheFloorDoNotCount()
    {
        Reading clean;
        clean.figures["harmonics_db"] = {-120, -130};
        Reading dirty;
        dirty.figures["harmonics_db"] = {-50, -130};
        HR_NEAR(apart("harmonics", clean, dirty)->by, 30, 1e-9); // from the floor up
        HR_NEAR(apart("harmonics", clean, clean)->by, 0, 1e-9);
        Reading shorter;
        shorter.figures["harmonics_db"] = {-50};
        HR_NEAR(apart("harmonics", dirty, shorter)->by, 0, 1e-9);
        Reading with_gaps;
        with_gaps.figures["harmonics_db"] = {nullptr, -60};
        HR_NEAR(apart("harmonics", clean, with_gaps)->by, 20, 1e-9);
    }

    void severalTestsAreTakenTogether()
    {
        QCOMPARE(bench::togetherApart({}), 0.0);
        HR_NEAR(bench::togetherApart({{"response", 1, "dB", 3, {}}, {"timing", 1, "%", 4, {}}}),
                std::sqrt(12.5), 1e-9);
        for (const std::string& test : bench::comparableTests())
            QVERIFY(!apart(test, response(0, 0), response(0, 0)) || test == "response" || test == "harmonics");
    }
};

HR_TEST(tst_likeness)
#include "tst_likeness.moc"
