// SPDX-License-Identifier: GPL-3.0-or-later
//
// When something came, and which way up, whatever filters did to it.
#include "bench/excess_phase.h"
#include "bench/latency.h"
#include "signal/biquad.h"
#include "support/fixtures.h"

#include <numbers>

using namespace hr;

namespace {

using signal::Biquad;

std::vector<double> impulseAt(std::size_t at, const std::vector<Biquad>& filters)
{
    std::vector<double> response(1 << 16);
    response[at] = 1;
    for (const Biquad& filter : filters) {
        signal::BiquadState state;
        for (double& sample : response)
            sample = state.next(filter, sample);
    }
    return response;
}

std::vector<Biquad> stages(std::size_t count, const Biquad& one)
{
    return std::vector<Biquad>(count, one);
}

/// A delay of less than a sample: all-pass of first order (J.-P. Thiran 1971).
Biquad fraction(double delay)
{
    const double c = (1 - delay) / (1 + delay);
    return {.b0 = c, .b1 = 1, .a1 = c};
}

Biquad onePole(double frequency_hz)
{
    const double pole = std::exp(-2 * std::numbers::pi * frequency_hz / 48000);
    return {.b0 = 1 - pole, .a1 = -pole};
}

} // namespace

class tst_excess_phase : public QObject {
    Q_OBJECT

private slots:
    void latencyIsThatOfTheDelayAlone_data()
    {
        QTest::addColumn<std::vector<Biquad>>("filters");
        QTest::addColumn<double>("delay");
        const auto row = [](const char* name, const std::vector<Biquad>& filters, double delay) {
            QTest::newRow(name) << filters << delay;
        };
        row("one all-pass, 8 kHz", stages(1, signal::allPass(8000, 0.7, 48000)), 0);
        row("the same, late", stages(1, signal::allPass(8000, 0.7, 48000)), 131);
        row("two, 5 kHz", stages(2, signal::allPass(5000, 0.7, 48000)), 0);
        row("four, 2 kHz", stages(4, signal::allPass(2000, 0.7, 48000)), 10);
        row("six, 500 Hz", stages(6, signal::allPass(500, 0.7, 48000)), 0);
        row("narrow ones, 1 kHz", stages(2, signal::allPass(1000, 5, 48000)), 3);
        row("a steep low pass", stages(4, signal::lowPass(6000, 0.7, 48000)), 20);
        row("a band", {signal::highPass(400, 0.7, 48000), signal::lowPass(2500, 0.7, 48000)}, 20);
        row("a single pole", stages(2, onePole(700)), 20);
        for (const double part : {0.1, 0.3, 0.5, 0.7, 0.9})
            QTest::addRow("%g samples", 20 + part) << stages(1, fraction(part)) << 20 + part;
    }
    void latencyIsThatOfTheDelayAlone()
    {
        QFETCH(const std::vector<Biquad>, filters);
        QFETCH(const double, delay);
        const auto found = bench::latencyOf(impulseAt(static_cast<std::size_t>(delay), filters), 4096);
        QVERIFY2(found, "none was found");
        QVERIFY2(std::abs(static_cast<double>(*found) - delay) <= 0.5, qPrintable(QString::number(*found)));
    }

    void polarity_data()
    {
        QTest::addColumn<std::vector<Biquad>>("filters");
        QTest::newRow("nothing") << stages(0, {});
        QTest::newRow("low pass") << stages(2, signal::lowPass(300, 0.7, 48000));
        QTest::newRow("high pass that rings") << stages(2, signal::highPass(9000, 8, 48000));
        QTest::newRow("narrow band") << std::vector{signal::highPass(3000, 6, 48000),
                                                    signal::lowPass(3000, 6, 48000)};
        QTest::newRow("four all-passes, 2 kHz") << stages(4, signal::allPass(2000, 0.7, 48000));
        QTest::newRow("eight all-passes, 300 Hz") << stages(8, signal::allPass(300, 0.5, 48000));
        QTest::newRow("half a sample late") << stages(1, fraction(0.5));
    }
    void polarity()
    {
        QFETCH(const std::vector<Biquad>, filters);
        auto response = impulseAt(30, filters);
        QCOMPARE(bench::polarityOf(response), std::optional(1));
        for (double& sample : response)
            sample = -sample;
        QCOMPARE(bench::polarityOf(response), std::optional(-1));
    }
    /// Half a wave later they are as good the other way up: nothing, or what is right.
    void ofNarrowBandsPolarityIsNotGuessed_data()
    {
        QTest::addColumn<std::vector<Biquad>>("filters");
        const auto band = [](std::size_t count, double frequency_hz, double q) {
            auto filters = stages(count, signal::highPass(frequency_hz, q, 48000));
            filters.insert(filters.end(), count, signal::lowPass(frequency_hz, q, 48000));
            return filters;
        };
        QTest::newRow("eight poles, 3 kHz") << band(2, 3000, 6);
        QTest::newRow("eight poles, 1 kHz") << band(2, 1000, 10);
        QTest::newRow("eight poles, 200 Hz") << band(2, 200, 6);
        QTest::newRow("sixteen poles") << band(4, 1000, 3);
        QTest::newRow("twenty-four poles") << band(6, 5000, 1);
        QTest::newRow("very narrow") << band(1, 1000, 30);
        QTest::newRow("extremely narrow") << band(1, 700, 200);
    }
    void ofNarrowBandsPolarityIsNotGuessed()
    {
        QFETCH(const std::vector<Biquad>, filters);
        QCOMPARE(bench::polarityOf(impulseAt(30, filters)).value_or(1), 1);
    }
    void whatHasNoneThatCanBeTold()
    {
        QVERIFY(!bench::latencyOf(impulseAt(20, stages(8, signal::lowPass(3000, 0.6, 48000))), 4096));
        QVERIFY(!bench::latencyOf(impulseAt(20, stages(4, signal::lowPass(900, 0.7, 48000))), 4096));
        QVERIFY(!bench::ExcessPhase(std::vector<double>(512)).delay(2));
        QVERIFY(!bench::latencyOf(std::vector<double>(512), 512));
    }
};

HR_TEST(tst_excess_phase)
#include "tst_excess_phase.moc"
