// SPDX-License-Identifier: GPL-3.0-or-later
//
// LADSPA by its own example plug-ins (package ladspa-sdk), and a library of ours for every hint.
#include "hosting/formats/ladspa_classes.h"
#include "hosting/scanner.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::hosting;
using processors::Scale;

namespace {

const std::filesystem::path sdk = "/usr/lib/ladspa";
const std::filesystem::path hints = std::filesystem::path(HR_FAULTY_BUNDLES) / "ladspa" / "hints.so";

} // namespace

class tst_ladspa : public QObject {
    Q_OBJECT

private slots:
    void theSdksOwnAreFoundAndRun()
    {
        const auto findings = tryBundle({sdk / "filter.so", {}}).findings;
        QCOMPARE(findings.size(), std::size_t{2}); // low and high pass
        for (const Finding& finding : findings) {
            QVERIFY2(!finding.fault, finding.fault ? sentence(*finding.fault).c_str() : "");
            QCOMPARE(finding.info->audio_in, std::size_t{1});
        }
        const auto generator = tryBundle({sdk / "noise.so", {}});
        QVERIFY(generator.findings.empty());
        QCOMPARE(generator.left_out.size(), std::size_t{1});
        QCOMPARE(generator.left_out.front().reason, std::string("it has no audio input"));
    }

    void anAmplifierAmplifies()
    {
        auto amp = openInstance({"ladspa:amp:amp_stereo", sdk / "amp.so"});
        HR_VERIFY(amp);
        const auto& info = (*amp)->info();
        QCOMPARE(info.format, std::string("LADSPA"));
        QCOMPARE(info.parameters[0].key, std::string("Gain"));
        QCOMPARE(info.parameters[0].default_value, 1.0);
        HR_VERIFY((*amp)->start({48000, 256}, std::vector<double>{2}));
        const auto out = (*amp)->process(test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out->channel(1), 1000, 48000)), -20 + 6.0206, 0.001);
        HR_VERIFY((*amp)->stop());
    }

    void everyHintIsRead_data()
    {
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("minimum");
        QTest::addColumn<double>("maximum");
        QTest::addColumn<double>("default_value");
        QTest::addColumn<int>("scale");
        QTest::addColumn<QString>("unit");
        const auto row = [](const char* key, double low, double high, double def, Scale scale,
                            const char* unit = "") {
            QTest::newRow(key) << QString::fromLatin1(key) << low << high << def << static_cast<int>(scale)
                               << QString::fromLatin1(unit);
        };
        row("Level (dB)", -30, 10, 10, Scale::Linear, "dB");
        row("Cutoff [Hz]", 100, 10000, 1000, Scale::Logarithmic, "Hz"); // the middle, on a log scale
        row("Part of the rate", 0, 24000, 12000, Scale::Linear);
        row("Steps", 0, 7, 2, Scale::Integer); // low: a quarter of the way, rounded
        row("On", 0, 1, 1, Scale::Toggle);
        row("Tuning", 400, 500, 440, Scale::Linear);
        row("Free", 0, 1000, 100, Scale::Linear);
        row("Twin", 0, 1, 0, Scale::Linear);
        row("Twin 2", 0, 1, 0, Scale::Linear);
    }
    void everyHintIsRead()
    {
        QFETCH(QString, key);
        QFETCH(double, minimum);
        QFETCH(double, maximum);
        QFETCH(double, default_value);
        QFETCH(int, scale);
        QFETCH(QString, unit);
        auto instance = openInstance({"ladspa:hints:hints", hints});
        HR_VERIFY(instance);
        const auto index = (*instance)->info().parameterIndex(key.toStdString());
        QVERIFY(index);
        const auto& p = (*instance)->info().parameters[*index];
        QCOMPARE(p.minimum, minimum);
        QCOMPARE(p.maximum, maximum);
        HR_NEAR(p.default_value, default_value, 1e-3);
        QCOMPARE(static_cast<int>(p.scale), scale);
        QCOMPARE(QString::fromStdString(p.unit), unit);
    }

    void whatIsNotStatedIsNotEnforced()
    {
        auto instance = openInstance({"ladspa:hints:hints", hints});
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        QVERIFY(!info.parameters[*info.parameterIndex("Free")].isStated());
        QVERIFY(info.parameters[*info.parameterIndex("Tuning")].isStated());
        HR_VERIFY(processors::resolveSettings(info, {}, {{"Free", -123456}}));
        QVERIFY(!processors::resolveSettings(info, {}, {{"Tuning", 399}}));
        QVERIFY(!processors::resolveSettings(info, {}, {{"Free", std::numeric_limits<double>::infinity()}}));
        auto keyed = openInstance({"ladspa:hints:keyed", hints});
        HR_VERIFY(keyed);
        const auto& attack = (*keyed)->info().parameters.front();
        HR_NEAR(attack.default_value, 0.1, 1e-6); // the bound nearest to 0, not a place before one of ours
        QVERIFY(attack.minimum_stated && !attack.maximum_stated && attack.maximum > 1);
        QVERIFY(!processors::resolveSettings((*keyed)->info(), {}, {{"Attack (s)", 0.05}}));
        HR_VERIFY(processors::resolveSettings((*keyed)->info(), {}, {{"Attack (s)", 1000}}));
    }

    void aPortCalledSideChainIsAKey()
    {
        auto keyed = openInstance({"ladspa:hints:keyed", hints});
        HR_VERIFY(keyed);
        QCOMPARE((*keyed)->info().audio_in, std::size_t{1});
        QCOMPARE((*keyed)->info().key_in, std::size_t{1});
        HR_VERIFY((*keyed)->start({48000, 256}, std::vector<double>{1}));
        signal::AudioBuffer in(2, 512, 48000);
        std::ranges::fill(in.channel(0), 0.25F);
        std::ranges::fill(in.channel(1), 0.5F);
        const auto out = (*keyed)->process(in);
        HR_VERIFY(out);
        QCOMPARE(out->channel(0)[100], 0.25F);
        QCOMPARE(out->channel(1)[100], 0.5F);
    }

    void theFilesThatPlugInsInstallPlaceThem()
    {
        LadspaClasses classes({});
        classes.read(
            "<?xml version='1.0'?><!DOCTYPE rdf:RDF [<!ENTITY l 'http://ladspa.org/ontology#'>]>"
            "<rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#' "
            "xmlns:ladspa='http://ladspa.org/ontology#'>"
            "<ladspa:CompressorPlugin rdf:about='&l;4711'><ladspa:hasPort>"
            "<ladspa:InputControlPort rdf:about='&l;4711.0'/></ladspa:hasPort></ladspa:CompressorPlugin>"
            "<rdf:Description rdf:about='&l;12'><rdf:type rdf:resource='&l;ReverbPlugin'/></rdf:Description>"
            "<what is");
        QCOMPARE(classes.of(4711), std::vector<std::string>{"CompressorPlugin"});
        QCOMPARE(classes.of(12), std::vector<std::string>{"ReverbPlugin"});
        QVERIFY(classes.of(13).empty());
    }

    void boundsMoveWithTheRateAndLatencyIsTold()
    {
        // The plug-in puts out "Part of the rate" as it receives it, and tells 96 frames of latency.
        auto instance = openInstance({"ladspa:hints:hints", hints});
        HR_VERIFY(instance);
        auto values = processors::defaultValues((*instance)->info());
        const auto part = *(*instance)->info().parameterIndex("Part of the rate");
        values[part] = 24000;
        QCOMPARE(processors::atRate((*instance)->info(), 96000).parameters[part].maximum, 48000.0);
        HR_VERIFY(processors::resolveSettings(processors::atRate((*instance)->info(), 96000), {},
                                              {{"Part of the rate", 40000}}));
        for (const auto& [rate_hz, expected] : {std::pair(48000.0, 24000.0), {22050.0, 11025.0}}) {
            HR_VERIFY((*instance)->start({rate_hz, 256}, values));
            const auto out = (*instance)->process(signal::AudioBuffer(1, 256, rate_hz));
            HR_VERIFY(out);
            QCOMPARE(static_cast<double>(out->channel(0)[0]), expected);
            QCOMPARE((*instance)->latencySamples(), std::size_t{96});
        }
    }

    void whatIsNoPluginSaysSo()
    {
        const auto findings =
            tryBundle({std::filesystem::path(HR_FAULTY_BUNDLES) / "faulty.lv2/no_entry.so", {}}).findings;
        QCOMPARE(findings.size(), std::size_t{1});
        QCOMPARE(findings[0].fault->phase, Phase::Load);
        QCOMPARE(findings[0].fault->cause, Cause::MissingSymbol);
        const auto missing = openInstance({"ladspa:amp:nothing", sdk / "amp.so"});
        QVERIFY(!missing);
        QCOMPARE(missing.error().cause, Cause::MissingSymbol);
    }
};

HR_TEST(tst_ladspa)
#include "tst_ladspa.moc"
