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

    void startingAnewForgetsTheSound()
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
