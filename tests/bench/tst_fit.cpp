// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/fit.h"
#include "processors/settings.h"
#include "signal/biquad.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Fitted;

class tst_fit : public QObject {
    Q_OBJECT

    static Fitted reference(const std::string& id, const std::vector<processors::Setting>& settings)
    {
        const auto info = test::infoOf(id);
        return {{id, {}}, info, processors::nearestValues(info, settings)};
    }
    static std::size_t at(const Fitted& of, const char* key) { return *of.info.parameterIndex(key); }

private slots:
    /// Measured on paper: the response of a peak, worked out instead of swept.
    static bench::Measurement onPaper(const Fitted& one, const std::vector<bench::TestInfo>&,
                                      const bench::Conditions&, const std::stop_token&)
    {
        const auto filter = signal::peaking(one.values[0], one.values[1], one.values[2], 48000);
        bench::Reading reading;
        bench::Curve curve{"frequency_hz", "magnitude_db", {}};
        for (double hz = 20; hz < 20000; hz *= 1.03)
            curve.points.emplace_back(hz, signal::linearToDb(std::abs(filter.response(hz, 48000))));
        reading.series["magnitude"] = curve;
        bench::Measurement measurement;
        measurement.readings.emplace_back("response", reading);
        return measurement;
    }

    void thePeakIsFoundWhereverItBegins_data()
    {
        QTest::addColumn<double>("frequency_hz");
        QTest::addColumn<double>("gain_db");
        QTest::addColumn<double>("q");
        QTest::newRow("far below, the other way") << 200.0 << -3.0 << 0.7;
        QTest::newRow("far above, narrow") << 12000.0 << 9.0 << 5.0;
        QTest::newRow("flat") << 1000.0 << 0.0 << 1.0;
    }
    void thePeakIsFoundWhereverItBegins()
    {
        QFETCH(double, frequency_hz);
        QFETCH(double, gain_db);
        QFETCH(double, q);
        const Fitted like = reference("reference:peak-filter", {});
        Fitted target = like;
        target.values = {2300, 7, 2.2};
        Fitted set = like;
        set.values = {frequency_hz, gain_db, q};
        int gains = 0;
        const auto found = bench::fit(
            target, set, {{0, 1, 2}, {"response"}}, {}, {}, [&](const bench::Fit&) { ++gains; }, onPaper);
        HR_VERIFY(found);
        QVERIFY(gains > 1 && found->tried <= 301);
        HR_NEAR(found->values[0], 2300, 70);
        HR_NEAR(found->values[1], 7, 0.5);
        HR_NEAR(found->values[2], 2.2, 0.25);
        QVERIFY(found->before.front().by > found->after.front().by);
        QVERIFY(found->after.front().by < 0.1);
    }

    void aCompressorIsSetLikeAnother()
    {
        const Fitted like =
            reference("reference:compressor", {{"threshold_db", -24}, {"ratio", 3}, {"attack_ms", 20}});
        const Fitted set =
            reference("reference:compressor", {{"threshold_db", -24}, {"ratio", 8}, {"attack_ms", 20}});
        const auto found = bench::fit(like, set, {{at(set, "ratio")}, {"transfer"}}, {});
        HR_VERIFY(found);
        HR_NEAR(found->values[at(set, "ratio")], 3, 0.15);
    }

    void whatCannotBeAlikeStaysAsItIs()
    {
        const Fitted like = reference("reference:peak-filter", {});
        Fitted target = like;
        target.values = {2300, 7, 2.2};
        Fitted flat = like;
        flat.values = {2300, 0, 2.2};
        const auto found = bench::fit(target, flat, {{2}, {"response"}}, {}, {}, {}, onPaper); // a Q of nothing
        HR_VERIFY(found);
        HR_NEAR(found->after.front().by, found->before.front().by, 1e-6);
        QVERIFY(found->tried <= 101); // it makes no difference, and is not tried for ever
    }

    void aFaultIsSaidAndCancellingKeepsTheBest()
    {
        const Fitted set = reference("reference:gain", {});
        const Fitted broken{test::faultyAt("exit-in-run"), {}, {0}};
        QVERIFY(!bench::fit(broken, set, {{0}, {"response"}}, {}));
        QVERIFY(!bench::fit(set, set, {{}, {"response"}}, {}));
        std::stop_source stop;
        const Fitted like = reference("reference:peak-filter", {{"gain_db", 9}});
        const Fitted flat = reference("reference:peak-filter", {{"gain_db", 0}});
        const auto stopped =
            bench::fit(like, flat, {{at(flat, "gain_db"), at(flat, "q")}, {"response"}}, {},
                       {stop.get_token(), {}}, [&](const bench::Fit&) { stop.request_stop(); });
        HR_VERIFY(stopped);
        QVERIFY(stopped->cancelled);
        QVERIFY(stopped->after.front().by < stopped->before.front().by);
    }

    void timesAndHarmonicsAreComparedInWhatCanBeNoticed()
    {
        bench::Reading one;
        bench::Reading other;
        one.put("attack_ms", 10.0, {});
        other.put("attack_ms", 11.0, {});
        one.put("release_ms", 100.0, {});
        other.put("release_ms", std::optional<double>(), "nothing recovers");
        const auto times = bench::apart("timing", one, other);
        QVERIFY(times);
        QVERIFY(times->noticeable > 10); // one has none
        other.put("release_ms", 100.0, {});
        HR_NEAR(bench::apart("timing", one, other)->by, 100 * std::log(1.1) / std::sqrt(2), 0.01);
        one.figures["harmonics_db"] = {-40, -60, -90};
        other.figures["harmonics_db"] = {-46, -60, -120};
        HR_NEAR(bench::apart("harmonics", one, other)->by, 6 / std::sqrt(2), 0.01);
        QVERIFY(!bench::apart("response", one, other));
    }
};

HR_TEST(tst_fit)
#include "tst_fit.moc"
