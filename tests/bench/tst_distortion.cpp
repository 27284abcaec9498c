// SPDX-License-Identifier: GPL-3.0-or-later
//
// Intermodulation, aliasing and resolution, against what follows from the curve or the steps on paper.
#include "bench/held_samples.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/transform.h"
#include "support/fixtures.h"

#include <cmath>
#include <functional>
#include <numbers>

using namespace hr;

namespace {

using Waveform = std::function<double(double)>;

double cubic(double x, double limit)
{
    const double u = std::clamp(x / limit, -1.0, 1.0);
    return limit * (1.5 * u - 0.5 * u * u * u);
}

/// Amplitudes by hertz of a second of `wave` bent by `curve`, both on paper.
std::vector<double> amplitudes(const Waveform& wave, const Waveform& curve, int rate)
{
    std::vector<double> second;
    for (int i = 0; i < rate; ++i)
        second.push_back(curve(wave(static_cast<double>(i) / rate)));
    std::vector<double> found;
    for (const auto& bin : signal::forwardTransform(second))
        found.push_back(2 * std::abs(bin) / rate);
    return found;
}

double turn(double hz, double t)
{
    return std::sin(2 * std::numbers::pi * hz * t);
}

} // namespace

class tst_distortion : public QObject {
    Q_OBJECT

private slots:
    void twoTonesMakeWhatTheCurveSays_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<double>("clip_dbfs");
        QTest::addColumn<double>("level_dbfs");
        QTest::addColumn<double>("rate_hz");
        QTest::newRow("cubic, gently") << "cubic-clip" << -3.0 << -12.0 << 48000.0;
        QTest::newRow("cubic, hard") << "cubic-clip" << -18.0 << -12.0 << 44100.0;
        QTest::newRow("hard") << "hard-clip" << -14.0 << -12.0 << 48000.0;
        QTest::newRow("hard at full scale") << "hard-clip" << -1.0 << 0.0 << 96000.0;
    }
    void twoTonesMakeWhatTheCurveSays()
    {
        QFETCH(const QString, id);
        QFETCH(const double, clip_dbfs);
        QFETCH(const double, level_dbfs);
        QFETCH(const double, rate_hz);
        bench::Conditions conditions;
        conditions.level_dbfs = level_dbfs;
        conditions.sample_rate_hz = rate_hz;
        const auto reading =
            test::readingOf("intermodulation", qPrintable(id), {{"clip_dbfs", clip_dbfs}}, conditions);
        HR_VERIFY(reading);
        const double limit = signal::dbToLinear(clip_dbfs);
        const double peak = signal::dbToLinear(level_dbfs);
        const Waveform curve = [&](double x) {
            return id.startsWith(QStringLiteral("hard")) ? std::clamp(x, -limit, limit) : cubic(x, limit);
        };
        const auto rate = static_cast<int>(rate_hz);
        const auto smpte =
            amplitudes([&](double t) { return peak * (0.8 * turn(60, t) + 0.2 * turn(7000, t)); }, curve, rate);
        const double first = smpte[6940] + smpte[7060];
        const double second = smpte[6880] + smpte[7120];
        const double percent = 100 * std::hypot(first, second) / smpte[7000];
        HR_NEAR(*reading->number("smpte_percent"), percent, 0.0058 * percent);
        const auto pair = amplitudes(
            [&](double t) { return peak * (0.5 * turn(19000, t) + 0.5 * turn(20000, t)); }, curve, rate);
        if (const double product = 20 * std::log10(pair[1000] / pair[20000]); product > -120)
            HR_NEAR(*reading->number("difference_db"), product, 0.05);
        else
            QVERIFY(reading->number("difference_db").value_or(-200) < -120);
    }

    void tonesAboveHalfTheRateAreNotAskedFor()
    {
        bench::Conditions conditions;
        conditions.sample_rate_hz = 32000;
        const auto reading = test::readingOf("intermodulation", "hard-clip", {}, conditions);
        HR_VERIFY(reading);
        QVERIFY(reading->number("smpte_percent"));
        QCOMPARE(reading->reasons.at("difference_db"), std::string("20 kHz lies above half the sample rate"));
    }

    /// A third harmonic that belongs above half the rate is known in closed form, and is the only one.
    void theFoldedThirdHarmonicIsFound_data()
    {
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<double>("frequency_hz");
        QTest::addColumn<double>("clip_dbfs");
        QTest::newRow("10 kHz") << 48000.0 << 10000.0 << -9.0;
        QTest::newRow("44.1 kHz") << 44100.0 << 13000.0 << -3.0;
        QTest::newRow("weak") << 96000.0 << 30000.0 << 0.0;
    }
    void theFoldedThirdHarmonicIsFound()
    {
        QFETCH(const double, rate_hz);
        QFETCH(const double, frequency_hz);
        QFETCH(const double, clip_dbfs);
        bench::Conditions conditions;
        conditions.sample_rate_hz = rate_hz;
        conditions.frequency_hz = frequency_hz;
        const auto reading = test::readingOf("aliasing", "cubic-clip", {{"clip_dbfs", clip_dbfs}}, conditions);
        HR_VERIFY(reading);
        const double a = signal::dbToLinear(-12 - clip_dbfs);
        HR_NEAR(*reading->number("worst_alias_db"),
                signal::linearToDb(a * a * a / 8 / (1.5 * a - 0.375 * a * a * a)), 0.05);
        HR_NEAR(*reading->number("frequency_hz"), frequency_hz, 3);
        HR_NEAR(*reading->number("alias_hz"), std::abs(rate_hz - 3 * *reading->number("frequency_hz")), 0.1);
    }

    void whatBendsNothingHasNoAlias()
    {
        for (const char* id : {"gain", "added-noise", "tremolo"}) {
            const auto reading = test::readingOf("aliasing", id);
            HR_VERIFY(reading);
            QVERIFY2(!reading->number("worst_alias_db"), id);
            QCOMPARE(reading->reasons.at("worst_alias_db"),
                     std::string("no folded harmonic stands out of the noise"));
        }
    }

    void stepsAndHeldSamplesAreCounted_data()
    {
        QTest::addColumn<double>("bits");
        QTest::addColumn<double>("held");
        for (const double bits : {2.0, 5.0, 8.0, 13.0, 16.0, 20.0, 24.0})
            QTest::addRow("%g bits", bits) << bits << 1.0;
        QTest::newRow("held") << 12.0 << 7.0;
        QTest::newRow("held for long") << 6.0 << 64.0;
    }
    void stepsAndHeldSamplesAreCounted()
    {
        QFETCH(const double, bits);
        QFETCH(const double, held);
        const auto reading =
            test::readingOf("resolution", "reduction", {{"bits", bits}, {"hold_samples", held}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("effective_bits"), bits, 0.01);
        QCOMPARE(reading->number("held_samples"), held > 1 ? std::optional(held) : std::nullopt);
    }

    /// To 11.025 kHz at 48: four samples for some values, five for the others. Alike by chance is not held.
    void aRateThatDividesNothingIsHeldOnTheAverage()
    {
        const auto noise = signal::gaussianNoise(0.25, 24000, 31);
        const auto inSteps = [&](double hold, double steps) {
            std::vector<double> out;
            for (std::size_t i = 0; i < noise.size(); ++i)
                out.push_back(std::round(noise[static_cast<std::size_t>(
                                             std::ceil(std::floor(static_cast<double>(i) / hold) * hold))] *
                                         steps));
            return out;
        };
        HR_NEAR(bench::heldSamples(inSteps(48.0 / 11.025, 1 << 23)), 48.0 / 11.025, 0.001);
        HR_NEAR(bench::heldSamples(inSteps(48.0 / 11.025, 128)), 48.0 / 11.025, 0.02);
        HR_NEAR(bench::heldSamples(inSteps(1.5, 1 << 23)), 1.5, 0.001);
        for (const double steps : {8.0, 128.0, 32768.0})
            QCOMPARE(bench::heldSamples(inSteps(1, steps)), 1.0);
    }

    void aSmoothOutputHasNoSteps()
    {
        for (const char* id : {"gain", "low-pass", "added-noise", "gate"}) {
            const auto reading = test::readingOf("resolution", id);
            HR_VERIFY(reading);
            QVERIFY2(!reading->number("effective_bits") && !reading->number("held_samples"), id);
        }
    }
};

HR_TEST(tst_distortion)
#include "tst_distortion.moc"
