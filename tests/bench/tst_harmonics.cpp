// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/harmonics.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <cmath>
#include <numbers>

using namespace hr;

namespace {

/// The n-th Fourier coefficient of a unit sine clipped at `c`, in closed form.
double clipped(double c, int n)
{
    const double t = std::asin(std::min(1.0, c));
    if (n == 1)
        return 2 / std::numbers::pi * (t + c * std::cos(t));
    // 4/pi times the integral of sin x sin nx up to t, and of c sin nx from there to pi/2.
    const double below = 0.5 * (std::sin((n - 1) * t) / (n - 1) - std::sin((n + 1) * t) / (n + 1));
    return 4 / std::numbers::pi * (below + c * std::cos(n * t) / n);
}

hosting::FaultOr<bench::Reading> harmonics(const hosting::Location& location, std::vector<double> values,
                                           bench::Conditions conditions = {})
{
    auto subject = bench::Subject::open(location, std::move(values), conditions);
    if (!subject)
        return tl::make_unexpected(subject.error());
    return bench::measureHarmonics(*subject);
}

} // namespace

class tst_harmonics : public QObject {
    Q_OBJECT

private slots:
    void aClippedSineHasItsClosedForm_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<double>("level_dbfs");
        QTest::addColumn<double>("clip_dbfs");
        QTest::addColumn<double>("frequency_hz");
        QTest::newRow("hard") << 48000.0 << 0.0 << -12.0 << 1000.0;
        QTest::newRow("just touched") << 48000.0 << -6.0 << -6.3 << 1000.0;
        QTest::newRow("44.1 kHz") << 44100.0 << -3.0 << -10.0 << 997.0;
        QTest::newRow("96 kHz, low") << 96000.0 << -12.0 << -18.0 << 60.0;
        QTest::newRow("few below Nyquist") << 48000.0 << -12.0 << -20.0 << 5000.0;
    }
    void aClippedSineHasItsClosedForm()
    {
        QFETCH(double, rate_hz);
        QFETCH(double, level_dbfs);
        QFETCH(double, clip_dbfs);
        QFETCH(double, frequency_hz);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        conditions.level_dbfs = level_dbfs;
        conditions.frequency_hz = frequency_hz;
        const auto reading = harmonics({"reference:hard-clip", {}}, {clip_dbfs}, conditions);
        HR_VERIFY(reading);
        const double c = std::pow(10, (clip_dbfs - level_dbfs) / 20);
        const auto& list = reading->figures["harmonics_db"];
        double power = 0;
        for (std::size_t n = 2; n < list.size() + 2; ++n) {
            const double known = n % 2 ? std::abs(clipped(c, static_cast<int>(n)) / clipped(c, 1)) : 0;
            power += known * known;
            if (known > 1e-5)
                HR_NEAR(list[n - 2].get<double>(), 20 * std::log10(known), 0.1);
        }
        HR_NEAR(*reading->number("thd_db"), 10 * std::log10(power), 0.1);
        HR_NEAR(*reading->number("thd_percent"), 100 * std::sqrt(power), 0.012 * 100 * std::sqrt(power));
        HR_NEAR(*reading->number("odd_db"), 10 * std::log10(power), 0.1);
        QVERIFY(*reading->number("even_db") < -120);
        QVERIFY(std::abs(*reading->number("dc_offset")) < 1e-6);
        // A clipped sine has a lower crest than a sine.
        QVERIFY(*reading->number("crest_change_db") < 0);
        QVERIFY(!reading->figures.contains("at_100_hz"));
    }

    void thdnOfAClippedSineIsItsWholeRest()
    {
        // Slow enough that next to nothing lies above 20 kHz: total power minus the fundamental.
        bench::Conditions conditions;
        conditions.level_dbfs = 0;
        conditions.frequency_hz = 50;
        const auto reading = harmonics({"reference:hard-clip", {}}, {-8}, conditions);
        HR_VERIFY(reading);
        const double c = std::pow(10, -8.0 / 20);
        const double t = std::asin(c);
        const double total =
            (2 / std::numbers::pi) * ((t - std::sin(2 * t) / 2) / 2 + c * c * (std::numbers::pi / 2 - t));
        const double fundamental = clipped(c, 1) * clipped(c, 1) / 2;
        HR_NEAR(*reading->number("thdn_db"), 10 * std::log10((total - fundamental) / total), 0.1);
    }

    void aCleanGainIsClean()
    {
        const auto reading = harmonics({"reference:gain", {}}, {-6});
        HR_VERIFY(reading);
        QVERIFY(*reading->number("thd_db") < -140);
        QVERIFY(*reading->number("thdn_db") < -130);
        HR_NEAR(*reading->number("crest_change_db"), 0, 0.01);
        QVERIFY(reading->figures["at_100_hz"]["thd_db"].get<double>() < -140);
        HR_NEAR(reading->conditions["frequency_hz"].get<double>(), 1000, 1);
        HR_NEAR(reading->conditions["at_100_hz"]["frequency_hz"].get<double>(), 100, 0.4);
    }

    void seriesRiseWhereClippingBegins()
    {
        const auto reading = harmonics({"reference:hard-clip", {}}, {-20});
        HR_VERIFY(reading);
        const auto& points = reading->series.at("thd_over_level").points;
        QCOMPARE(points.front().first, -60.0);
        QCOMPARE(points.back().first, 0.0);
        for (const auto& [level, percent] : points)
            QVERIFY2(level <= -20.5 ? percent < 1e-3 : percent > 0.1, qPrintable(QString::number(level)));
        for (const auto& [frequency, percent] : reading->series.at("thd_over_frequency").points)
            QVERIFY(frequency >= 18 && frequency < 12000 && (frequency > 7500 || percent > 1));
    }

    void aLopsidedSaturatorIsEven()
    {
        auto instance = hosting::openInstance(test::specimenAt("lantern-saturator"));
        HR_VERIFY(instance);
        const auto even = harmonics(test::specimenAt("lantern-saturator"), {12, 100, 0});
        const auto odd = harmonics(test::specimenAt("lantern-saturator"), {12, 0, 0});
        HR_VERIFY(even);
        HR_VERIFY(odd);
        QVERIFY(*even->number("even_db") > *even->number("odd_db"));
        QVERIFY(*odd->number("even_db") < -100);
    }

    void noToneIsNoDistortion()
    {
        // A low pass at 20 Hz of 8th order lets nothing of 5 kHz through: -383 dB.
        bench::Conditions conditions;
        conditions.frequency_hz = 5000;
        const auto reading = harmonics({"reference:low-pass", {}}, {20, 8}, conditions);
        HR_VERIFY(reading);
        QVERIFY(reading->figures["thd_percent"].is_null());
        QVERIFY(!reading->reasons.at("thd_percent").empty());
    }
};

HR_TEST(tst_harmonics)
#include "tst_harmonics.moc"
