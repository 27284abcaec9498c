// SPDX-License-Identifier: GPL-3.0-or-later
//
// The reference processors against paper, without the bench that is checked with them.
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using processors::Setting;

namespace {

signal::AudioBuffer through(const std::string& id, const std::vector<Setting>& settings,
                            const signal::AudioBuffer& in)
{
    const auto processor = processors::makeReference(id);
    const auto values = processors::resolveSettings(processor->info(), {}, settings);
    for (std::size_t i = 0; i < values->size(); ++i)
        processor->setParameter(i, (*values)[i]);
    (void)processor->prepare({in.sampleRateHz(), 256});
    signal::AudioBuffer out(2, in.frames(), in.sampleRateHz());
    const float* from[] = {in.channel(0).data(), in.channel(1).data()};
    float* to[] = {out.channel(0).data(), out.channel(1).data()};
    processor->process(from, to, in.frames());
    return out;
}

} // namespace

class tst_references : public QObject {
    Q_OBJECT

private slots:
    void everyOneIsListedMadeAndStartsAtItsDefaults()
    {
        for (const auto& info : processors::referenceInfos()) {
            QVERIFY(processors::isReferenceId(info.id));
            const auto processor = processors::makeReference(info.id);
            QVERIFY(processor);
            QCOMPARE(processor->info().name, info.name);
            HR_VERIFY(processor->prepare({96000, 64}));
        }
        QCOMPARE(processors::referenceInfos().size(), std::size_t{19});
        QVERIFY(!processors::makeReference("reference:nothing"));
        QVERIFY(!processors::makeReference("gain"));
    }

    void toneLevels_data()
    {
        QTest::addColumn<QString>("id");
        QTest::addColumn<QList<QString>>("keys");
        QTest::addColumn<QList<double>>("values");
        QTest::addColumn<double>("frequency_hz");
        QTest::addColumn<double>("gain_db");
        const auto row = [](const char* name, const char* id, QList<QString> keys, QList<double> values,
                            double f, double db) {
            QTest::newRow(name) << QString::fromLatin1(id) << keys << values << f << db;
        };
        row("gain", "reference:gain", {QStringLiteral("gain_db")}, {-7.5}, 1000, -7.5);
        row("low pass below", "reference:low-pass", {QStringLiteral("frequency_hz")}, {4000}, 50, 0);
        row("low pass at the corner", "reference:low-pass", {QStringLiteral("frequency_hz")}, {4000}, 4000,
            -3.0103);
        row("8th order an octave up", "reference:low-pass",
            {QStringLiteral("frequency_hz"), QStringLiteral("order")}, {500, 8}, 1000,
            -10 * std::log10(1 + std::pow(std::tan(M_PI * 1000 / 48000) / std::tan(M_PI * 500 / 48000), 16)));
        row("high pass at the corner", "reference:high-pass", {QStringLiteral("frequency_hz")}, {300}, 300,
            -3.0103);
        row("low shelf far below", "reference:low-shelf", {QStringLiteral("frequency_hz")}, {2000}, 20, 6);
        row("high shelf far above", "reference:high-shelf", {QStringLiteral("frequency_hz")}, {200}, 18000, 6);
        row("cubic clip far below its level", "reference:cubic-clip", {QStringLiteral("clip_dbfs")}, {0}, 1000,
            20 * std::log10(1.5 - 0.375 * 0.01));
        // -20 dBFS is 10 dB over the threshold: 2.5 dB of it are left.
        row("compressor", "reference:compressor", {QStringLiteral("threshold_db"), QStringLiteral("knee_db")},
            {-30, 0}, 1000, -7.5);
        row("open gate", "reference:gate", {QStringLiteral("threshold_db")}, {-21}, 1000, 0);
        row("shut gate", "reference:gate", {QStringLiteral("threshold_db"), QStringLiteral("range_db")},
            {-19, 30}, 1000, -30);
        row("echo", "reference:feedback-delay", {QStringLiteral("delay_ms"), QStringLiteral("feedback_db")},
            {1, -6}, 1000, 20 * std::log10(1 / (1 - std::pow(10, -0.3)))); // all in phase
        row("wide sound in the middle", "reference:width", {QStringLiteral("width_db")}, {12}, 1000, 0);
        row("quantised finely", "reference:reduction", {QStringLiteral("bits")}, {24}, 1000, 0);
        row("vibrato at rest", "reference:vibrato", {QStringLiteral("depth_cents")}, {0}, 1000, 0);
        row("peak at its centre", "reference:peak-filter", {QStringLiteral("gain_db"), QStringLiteral("q")},
            {-12, 3}, 1000, -12);
    }
    void toneLevels()
    {
        QFETCH(QString, id);
        QFETCH(QList<QString>, keys);
        QFETCH(QList<double>, values);
        QFETCH(double, frequency_hz);
        QFETCH(double, gain_db);
        std::vector<Setting> settings;
        for (int i = 0; i < keys.size(); ++i)
            settings.push_back({keys[i].toStdString(), values[i]});
        const auto out = through(id.toStdString(), settings, test::tone(frequency_hz, -20, 1));
        const auto settled = std::as_const(out).channel(0).subspan(24000);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(settled, frequency_hz, 48000)), -20 + gain_db, 0.005);
    }

    void clippingCutsAtItsLevel()
    {
        const auto out = through("reference:hard-clip", {{"clip_dbfs", -10}}, test::tone(100, 0, 0.1));
        const auto [low, high] = std::ranges::minmax(out.channel(0));
        HR_NEAR(high, signal::dbToLinear(-10), 1e-7);
        HR_NEAR(low, -signal::dbToLinear(-10), 1e-7);
        const auto under = through("reference:hard-clip", {{"clip_dbfs", -10}}, test::tone(100, -11, 0.1));
        QVERIFY(std::ranges::equal(under.samples(), test::tone(100, -11, 0.1).samples()));
    }

    void echoesComeOnTheSample()
    {
        signal::AudioBuffer click(2, 48000, 48000);
        click.channel(0)[100] = 1;
        const auto out = through("reference:feedback-delay", {{"delay_ms", 50}, {"feedback_db", -6}}, click);
        double expected = 1;
        for (std::size_t at = 100 + 2400; at < out.frames(); at += 2400, expected *= signal::dbToLinear(-6))
            HR_NEAR(out.channel(0)[at], expected, 1e-6);
        QVERIFY(signal::peakDbfs(out.channel(0).subspan(0, 2500)) < -200);
        const auto late = through("reference:added-latency", {{"latency_samples", 77}}, click);
        QCOMPARE(late.channel(0)[177], 1.0F);
    }

    void theReverbFallsBySixtyDecibels()
    {
        signal::AudioBuffer click(2, 96000, 48000);
        click.channel(0)[0] = click.channel(1)[0] = 1;
        const auto out = through("reference:noise-reverb", {{"rt60_s", 1}, {"predelay_ms", 20}}, click);
        const auto level = [&](std::size_t at) { return signal::rmsDbfs(out.channel(0).subspan(at, 9600)); };
        QVERIFY(signal::peakDbfs(out.channel(0).subspan(0, 959)) < -120);
        HR_NEAR(level(960) - level(960 + 24000), 30, 0.5); // half a second
        QVERIFY(std::abs(out.channel(0)[3000] - out.channel(1)[3000]) > 1e-6);
    }

    void movementsHaveTheirDepth()
    {
        const auto trembling =
            through("reference:tremolo", {{"rate_hz", 4}, {"depth_db", 6}}, test::tone(1000, -20, 1));
        double loudest = -200;
        double quietest = 0;
        for (std::size_t at = 0; at + 480 <= 48000; at += 480) {
            const double level = signal::rmsDbfs(trembling.channel(0).subspan(at, 480));
            loudest = std::max(loudest, level);
            quietest = std::min(quietest, level);
        }
        HR_NEAR(loudest, -20, 0.05);
        HR_NEAR(quietest, -26, 0.05);
        // 20 cents around 1 kHz: zero crossings are nearest together where the pitch is highest.
        const auto bent =
            through("reference:vibrato", {{"rate_hz", 2}, {"depth_cents", 20}}, test::tone(1000, -6, 1.5));
        double last = 0;
        double shortest = 1e9;
        for (std::size_t i = 24000; i + 1 < bent.frames(); ++i) {
            const double a = bent.channel(0)[i];
            const double b = bent.channel(0)[i + 1];
            if (a < 0 && b >= 0) {
                const double at = static_cast<double>(i) - a / (b - a);
                shortest = last > 0 ? std::min(shortest, at - last) : shortest;
                last = at;
            }
        }
        HR_NEAR(1200 * std::log2(48 / shortest), 20, 0.4);
    }

    void noiseAndStepsAreAsSet()
    {
        const signal::AudioBuffer silence(2, 96000, 48000);
        const auto noise = through("reference:added-noise", {{"noise_dbfs", -70}}, silence);
        HR_NEAR(signal::rmsDbfs(noise.channel(1)), -70, 0.1);
        const auto stepped =
            through("reference:reduction", {{"bits", 4}, {"hold_samples", 3}}, test::tone(100, 0, 0.1));
        for (std::size_t i = 0; i < 4800; ++i) {
            QCOMPARE(std::remainder(stepped.channel(0)[i], 1.0 / 8), 0.0);
            QCOMPARE(stepped.channel(0)[i], stepped.channel(0)[i - i % 3]);
        }
        auto wide = test::tone(500, -20, 0.1);
        for (float& s : wide.channel(1))
            s = -s; // all side
        const auto narrowed = through("reference:width", {{"width_db", -9}}, wide);
        HR_NEAR(signal::rmsDbfs(narrowed.channel(0)), signal::rmsDbfs(std::as_const(wide).channel(0)) - 9,
                1e-3);
    }

    void startingOverForgetsTheSound()
    {
        const auto processor = processors::makeReference("reference:low-pass");
        const auto loud = test::tone(100, 0, 0.1);
        signal::AudioBuffer out(2, loud.frames(), 48000);
        const float* in[] = {loud.channel(0).data(), loud.channel(1).data()};
        float* to[] = {out.channel(0).data(), out.channel(1).data()};
        HR_VERIFY(processor->prepare({48000, 256}));
        processor->process(in, to, loud.frames());
        const signal::AudioBuffer first = out;
        HR_VERIFY(processor->prepare({48000, 256}));
        processor->process(in, to, loud.frames());
        QVERIFY(std::ranges::equal(first.samples(), out.samples()));
    }
};

HR_TEST(tst_references)
#include "tst_references.moc"
