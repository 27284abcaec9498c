// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/response.h"
#include "bench/spectrum.h"
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/biquad.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using processors::Setting;

namespace {

hosting::FaultOr<bench::Reading> response(const hosting::Location& location,
                                          const std::vector<Setting>& settings,
                                          bench::Conditions conditions = {})
{
    auto instance = hosting::openInstance(location);
    if (!instance)
        return tl::make_unexpected(instance.error());
    auto subject = bench::Subject::open(
        location, *processors::resolveSettings((*instance)->info(), {}, settings), conditions);
    if (!subject)
        return tl::make_unexpected(subject.error());
    return bench::measureResponse(*subject);
}

} // namespace

class tst_response : public QObject {
    Q_OBJECT

private slots:
    void noiseHasNoExtremes()
    {
        for (const double noise_dbfs : {-60.0, -45.0}) {
            const auto reading = test::readingOf("response", "added-noise", {{"noise_dbfs", noise_dbfs}});
            HR_VERIFY(reading);
            QVERIFY(reading->figures.at("peaks").empty() && reading->figures.at("notches").empty());
        }
    }

    void onlyTheMostProminentOfManyAreGiven()
    {
        const auto reading = test::readingOf("response", "noise-reverb", {{"rt60_s", 0.3}});
        HR_VERIFY(reading);
        QCOMPARE(reading->figures.at("peaks").size(), std::size_t{16});
        QCOMPARE(reading->flags.front().code, std::string("many-extremes"));
    }

    void narrowBellsAreReadOnTheResponseItself()
    {
        for (const auto& [frequency_hz, gain_db, q] :
             {std::array{30.0, 6.0, 30.0}, {20.0, -9.0, 4.0}, {60.0, 3.0, 30.0}, {25.0, -12.0, 0.5}}) {
            const auto reading = test::readingOf(
                "response", "peak-filter", {{"frequency_hz", frequency_hz}, {"gain_db", gain_db}, {"q", q}});
            HR_VERIFY(reading);
            const auto& list = reading->figures.at(gain_db > 0 ? "peaks" : "notches");
            QCOMPARE(list.size(), std::size_t{1});
            HR_NEAR(list[0].at("frequency_hz").get<double>(), frequency_hz, 0.005 * frequency_hz);
            HR_NEAR(list[0].at("gain_db").get<double>(), gain_db, 0.02);
            HR_NEAR(list[0].at("q").get<double>(), q, 0.015 * q);
            // Where the magnitude squared of the analogue bell is half or twice that at its centre.
            const double amplitude = std::pow(10, std::abs(gain_db) / 40);
            const auto& bandwidth = list[0].at("bandwidth_3db_hz");
            if (std::abs(gain_db) < 3.01) {
                QVERIFY(bandwidth.is_null());
                continue;
            }
            const double known_hz = frequency_hz * amplitude / q / std::sqrt(std::pow(amplitude, 4) - 2);
            HR_NEAR(bandwidth.get<double>(), known_hz, 0.015 * known_hz);
        }
    }

    /// A Q of some hundred at the bottom of the band rings for minutes; it is heard for twenty seconds.
    void whatRingsOnIsWorkedOut()
    {
        constexpr double rate_hz = 44100;
        for (const auto& [frequency_hz, gain_db, q] :
             {std::array{22.12, 23.66, 357.6}, {24.29, 29.97, 264.5}, {37, 25.12, 992}, {29.94, -8.08, 828}}) {
            const auto filter = signal::peaking(frequency_hz, gain_db, q, rate_hz);
            signal::BiquadState state;
            std::vector<double> impulse(static_cast<std::size_t>(26 * rate_hz));
            for (std::size_t i = 0; i < impulse.size(); ++i)
                impulse[i] = state.next(filter, i == 0);
            const std::size_t frames = impulse.size();
            impulse.resize(2 * frames);
            bench::Spectrum spectrum(bench::linearPart(impulse, frames, rate_hz), rate_hz);
            spectrum.refine(500, 20);
            for (double f = 20; f < 60; f *= 1.0003)
                HR_NEAR(spectrum.magnitudeDb(f), signal::powerToDb(std::norm(filter.response(f, rate_hz))),
                        0.01);
            HR_NEAR(spectrum.magnitudeDb(frequency_hz), gain_db, 0.005);
        }
    }

    /// What rides or bends a level is swept where it does neither, and says where; what has been asked for is
    /// done.
    void theLevelIsOneAtWhichItIsLinear()
    {
        struct Case {
            const char* id;
            std::vector<processors::Setting> set;
            double least_dbfs, most_dbfs;
        };
        for (const Case& one : {Case{"compressor", {{"threshold_db", -50}, {"ratio", 8}}, -60, -53},
                                {"compressor", {{"threshold_db", -20}}, -30, -30},
                                {"gate", {{"threshold_db", -20}}, -19, -8},
                                {"hard-clip", {{"clip_dbfs", -40}}, -60, -40}}) {
            const auto reading = test::readingOf("response", one.id, one.set);
            HR_VERIFY(reading);
            const double level_dbfs = reading->conditions.at("level_dbfs");
            QVERIFY2(one.least_dbfs <= level_dbfs && level_dbfs <= one.most_dbfs,
                     qPrintable(QString::number(level_dbfs)));
            HR_NEAR(*reading->number("gain_1k_db"), 0, 0.01);
            HR_NEAR(*reading->number("passband_db"), 0, 0.01);
        }
        bench::Conditions asked;
        asked.level_dbfs = -20;
        const auto reading = test::readingOf("response", "compressor", {{"threshold_db", -40}}, asked);
        HR_VERIFY(reading);
        QCOMPARE(reading->conditions.at("level_dbfs").get<double>(), -20.0);
        QVERIFY(*reading->number("gain_1k_db") < -10);
    }

    void magnitudeIsWithinTwoHundredthsOfADecibel_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<double>("centre_hz");
        QTest::addColumn<double>("gain_db");
        QTest::addColumn<double>("q");
        QTest::newRow("44.1 kHz") << 44100.0 << 200.0 << 9.0 << 3.0;
        QTest::newRow("48 kHz") << 48000.0 << 1000.0 << -12.0 << 0.5;
        QTest::newRow("high and narrow") << 48000.0 << 16000.0 << 18.0 << 10.0;
        QTest::newRow("low and narrow") << 48000.0 << 30.0 << -20.0 << 8.0;
        QTest::newRow("96 kHz") << 96000.0 << 5000.0 << 6.0 << 1.0;
    }
    void magnitudeIsWithinTwoHundredthsOfADecibel()
    {
        QFETCH(double, rate_hz);
        QFETCH(double, centre_hz);
        QFETCH(double, gain_db);
        QFETCH(double, q);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        const auto reading =
            response({"reference:peak-filter", {}},
                     {{"frequency_hz", centre_hz}, {"gain_db", gain_db}, {"q", q}}, conditions);
        HR_VERIFY(reading);
        const auto filter = signal::peaking(centre_hz, gain_db, q, rate_hz);
        for (const auto& [f, db] : reading->series.at("magnitude").points)
            if (f >= 20 && f <= 18000)
                HR_NEAR(db, signal::powerToDb(std::norm(filter.response(f, rate_hz))), 0.02);
    }

    void phaseAndGroupDelayFollowTheFilter()
    {
        const auto reading = response({"reference:low-pass", {}}, {{"frequency_hz", 1000}, {"order", 4}});
        HR_VERIFY(reading);
        const auto exact = [](double f) {
            std::complex<double> h = 1;
            for (int k = 0; k < 2; ++k)
                h *= signal::lowPass(1000, signal::butterworthQ(k, 4), 48000).response(f, 48000);
            return std::arg(h) * 180 / M_PI;
        };
        for (const auto& [f, degrees] : reading->series.at("phase").points)
            if (f >= 30 && f <= 3000)
                HR_NEAR(std::remainder(degrees - exact(f), 360), 0, 0.5);
        for (const auto& [f, ms] : reading->series.at("group_delay").points)
            if (f >= 50 && f <= 2000)
                HR_NEAR(ms, -std::remainder(exact(f + 0.5) - exact(f - 0.5), 360) / 360 * 1000, 0.02);
    }

    /// Its second octave lies 48 to 96 dB down: there nothing but the filter may be seen.
    void aSteepSlopeIsReadFarDown()
    {
        const double corner_hz = 78.3;
        const auto reading =
            response({"reference:high-pass", {}}, {{"frequency_hz", corner_hz}, {"order", 8.0}});
        HR_VERIFY(reading);
        const auto db = [&](double f) {
            return 10 * std::log10(
                            1 + std::pow(std::tan(M_PI * corner_hz / 48000) / std::tan(M_PI * f / 48000), 16));
        };
        const double slope = db(corner_hz / 4) - db(corner_hz / 2);
        HR_NEAR(*reading->number("slope_low_db_per_octave"), slope, 0.015 * slope);
    }

    void cornersOfTheDiscreteFilter_data()
    {
        QTest::addColumn<double>("corner_hz");
        QTest::addColumn<int>("order");
        QTest::addColumn<double>("slope");
        // The slope of the discrete filter over its second octave beyond the corner, from tan-warping.
        const auto slope = [](double corner, int order) {
            const auto db = [&](double f) {
                return 10 *
                       std::log10(1 + std::pow(std::tan(M_PI * f / 48000) / std::tan(M_PI * corner / 48000),
                                               2 * order));
            };
            return db(4 * corner) - db(2 * corner);
        };
        for (const auto& [corner, order] : {std::pair(100.0, 2), {1000.0, 4}, {3000.0, 6}, {5000.0, 8}})
            QTest::addRow("%g Hz, order %d", corner, order) << corner << order << slope(corner, order);
    }
    void cornersOfTheDiscreteFilter()
    {
        QFETCH(double, corner_hz);
        QFETCH(int, order);
        QFETCH(double, slope);
        const auto reading = response({"reference:low-pass", {}},
                                      {{"frequency_hz", corner_hz}, {"order", static_cast<double>(order)}});
        HR_VERIFY(reading);
        // A low pass at 100 Hz has no plateau above it, but most of the axis lies in the fall: its
        // passband by definition is where most values stand together, which is still the top.
        HR_NEAR(*reading->number("corner_high_hz"), corner_hz, 0.01 * corner_hz);
        HR_NEAR(*reading->number("slope_high_db_per_octave"), slope, 0.03 * slope);
        QVERIFY(reading->figures["corner_low_hz"].is_null());
        QVERIFY(!reading->reasons.at("corner_low_hz").empty());
        QCOMPARE(reading->figures["polarity"].get<int>(), 1);
    }

    void anUnknownEqualiserReadsAsItIsSet()
    {
        const auto reading = response(test::specimenAt("tidepool-equaliser"),
                                      {{"bell1_hz", 500}, {"bell1_db", 9}, {"bell1_q", 4}});
        HR_VERIFY(reading);
        QCOMPARE(reading->figures["peaks"].size(), std::size_t{1});
        const auto& peak = reading->figures["peaks"][0];
        HR_NEAR(peak["frequency_hz"].get<double>(), 500, 1);
        HR_NEAR(peak["gain_db"].get<double>() + *reading->number("passband_db"), 9, 0.02);
    }

    void theLevelIsTheOneAskedFor()
    {
        // Clipping at -40: a sweep at -50 passes untouched, at -20 it does not.
        bench::Conditions quiet;
        quiet.level_dbfs = -50;
        HR_NEAR(*response({"reference:hard-clip", {}}, {{"clip_dbfs", -40}}, quiet)->number("gain_1k_db"), 0,
                0.02);
        bench::Conditions loud;
        loud.level_dbfs = -20;
        QVERIFY(*response({"reference:hard-clip", {}}, {{"clip_dbfs", -40}}, loud)->number("gain_1k_db") < -15);
    }

    void nothingThroughIsNothingMeasured()
    {
        const auto reading =
            response(test::specimenAt("lantern-saturator"), {{"drive_db", 0}, {"output_db", -24}});
        HR_VERIFY(reading);
        QVERIFY(reading->number("gain_1k_db"));
        const auto failed = response(test::faultyAt("crash-in-run"), {});
        QVERIFY(!failed);
    }
};

HR_TEST(tst_response)
#include "tst_response.moc"
