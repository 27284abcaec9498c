// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/instance.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::hosting;

namespace {

FaultOr<signal::AudioBuffer> render(const Location& location, const std::vector<processors::Setting>& settings,
                                    const signal::AudioBuffer& in, std::size_t block = 256)
{
    auto instance = openInstance(location);
    if (!instance)
        return tl::make_unexpected(instance.error());
    const auto values = processors::resolveSettings((*instance)->info(), {}, settings);
    if (auto started = (*instance)->start({in.sampleRateHz(), block}, *values); !started)
        return tl::make_unexpected(started.error());
    return (*instance)->process(in);
}

} // namespace

class tst_instance : public QObject {
    Q_OBJECT

private slots:
    void theDescriptionComesThroughWhole()
    {
        auto instance = openInstance(test::specimenAt("cordage-leveller"));
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        QCOMPARE(info.id, test::specimen + "cordage-leveller");
        QCOMPARE(info.name, std::string("Cordage Leveller"));
        QCOMPARE(info.maker, std::string("Kelp & Cordage"));
        QCOMPARE(info.kind, std::string("compressor"));
        QCOMPARE(info.version, std::string("1.2"));
        QCOMPARE(info.audio_in, std::size_t{2});
        QCOMPARE(info.parameters.size(), std::size_t{6});
        const auto& ratio = info.parameters[1];
        QCOMPARE(ratio.key, std::string("ratio"));
        QCOMPARE(ratio.unit, std::string(":1"));
        QCOMPARE(ratio.scale, processors::Scale::Logarithmic);
        QCOMPARE(ratio.maximum, 20.0);
        QCOMPARE(info.presets.size(), std::size_t{2});
        QCOMPARE(info.presets[0].name, std::string("Slow hands"));
        QVERIFY(info.documentation.starts_with("A compressor"));
    }

    void parametersReachThePlugIn()
    {
        // A flat equaliser passes; with its bell up the tone at its centre is louder by as much.
        const auto in = test::tone(350, -20, 1);
        const auto flat = render(test::specimenAt("tidepool-equaliser"), {}, in);
        HR_VERIFY(flat);
        const auto level = [](const signal::AudioBuffer& out) {
            return signal::linearToDb(test::amplitudeAt(out.channel(1).subspan(24000), 350, 48000));
        };
        HR_NEAR(level(*flat), -20, 0.01);
        const auto up = render(test::specimenAt("tidepool-equaliser"), {{"bell1_db", 7}}, in);
        HR_VERIFY(up);
        HR_NEAR(level(*up), -13, 0.01);
    }

    void aChangeTakesEffectFromTheNextStretch()
    {
        auto instance = openInstance(test::specimenAt("tidepool-equaliser"));
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, processors::defaultValues((*instance)->info())));
        HR_VERIFY((*instance)->process(test::tone(350, -20, 0.5)));
        (*instance)->setParameter(*(*instance)->info().parameterIndex("bell1_db"), 12);
        const auto out = (*instance)->process(test::tone(350, -20, 1));
        HR_VERIFY(out);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out->channel(0).subspan(24000), 350, 48000)), -8, 0.02);
    }

    void theBlockLengthChangesNothing_data()
    {
        QTest::addColumn<int>("block");
        for (const int block : {1, 64, 257, 16384})
            QTest::addRow("%d", block) << block;
    }
    void theBlockLengthChangesNothing()
    {
        QFETCH(int, block);
        const auto in = test::tone(440, -6, 0.4);
        const auto usual = render(test::specimenAt("cordage-leveller"), {}, in);
        const auto other =
            render(test::specimenAt("cordage-leveller"), {}, in, static_cast<std::size_t>(block));
        HR_VERIFY(usual);
        HR_VERIFY(other);
        QVERIFY(std::ranges::equal(usual->samples(), other->samples()));
    }

    void aReferenceSoundsTheSameInAWorker()
    {
        auto worker = Worker::spawn();
        HR_VERIFY(worker);
        HR_VERIFY((*worker)->load({"reference:hard-clip", {}}));
        HR_VERIFY((*worker)->start({48000, 256}, std::vector<double>{-12}));
        const auto in = test::tone(440, -3, 0.3);
        std::ranges::copy(in.channel(0).first(8192), (*worker)->block().in[0].begin());
        HR_VERIFY((*worker)->run(8192, {}));
        const auto here = render({"reference:hard-clip", {}}, {{"clip_dbfs", -12}}, in);
        HR_VERIFY(here);
        QVERIFY(
            std::ranges::equal(std::span((*worker)->block().out[0]).first(8192), here->channel(0).first(8192)));
    }

    void aWorkerIsReusedForItsBundleOnly()
    {
        QTRY_COMPARE(test::runningWorkers(), 0);
        const auto in = test::tone(440, -6, 0.1);
        const auto first = render(test::specimenAt("cordage-leveller"), {}, in);
        HR_VERIFY(first);
        QCOMPARE(test::runningWorkers(test::Reserve::Kept), 1);
        QTest::qWait(500); // until it has surely stopped, on a busy machine too
        const auto again = render(test::specimenAt("cordage-leveller"), {}, in);
        HR_VERIFY(again);
        QVERIFY(std::ranges::equal(first->samples(), again->samples()));
        QCOMPARE(test::runningWorkers(test::Reserve::Kept), 1);
        HR_VERIFY(openInstance(test::faultyAt("pass")));
        QCOMPARE(test::runningWorkers(test::Reserve::Kept), 2);
        // One that has failed is not kept.
        QTRY_COMPARE(test::runningWorkers(), 0);
        QVERIFY(!render(test::faultyAt("crash-in-run"), {}, in));
        QCOMPARE(test::runningWorkers(test::Reserve::Kept), 0);
    }

    void startingAgainIsAFreshStart()
    {
        auto instance = openInstance(test::specimenAt("cordage-leveller"));
        HR_VERIFY(instance);
        const auto values = processors::defaultValues((*instance)->info());
        const auto loud = test::tone(440, 0, 0.3);
        HR_VERIFY((*instance)->start({48000, 256}, values));
        const auto first = (*instance)->process(loud);
        HR_VERIFY((*instance)->start({48000, 256}, values));
        const auto again = (*instance)->process(loud);
        HR_VERIFY(first);
        HR_VERIFY(again);
        QVERIFY(std::ranges::equal(first->samples(), again->samples()));
        HR_VERIFY((*instance)->stop());
    }

    void whatIsSaidOddlyIsUnderstood()
    {
        auto instance = openInstance({"lv2:urn:honest-rack:tests:key-in-its-name", test::odd_bundle});
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        QCOMPARE(info.audio_in, std::size_t{1});
        QCOMPARE(info.key_in, std::size_t{1});
        const auto& gain = info.parameters[0];
        QCOMPARE(gain.unit, std::string("dB"));
        QVERIFY(!gain.minimum_stated && !gain.maximum_stated && gain.maximum >= gain.default_value);
        HR_NEAR(info.parameters[1].maximum, 0.45 * 48000, 0.01);
        HR_NEAR(processors::atRate(info, 96000).parameters[1].maximum, 0.45 * 96000, 0.01);
    }

    void aLatencyThatIsToldWhileRunningIsKnownThen()
    {
        auto instance = openInstance({"lv2:urn:honest-rack:tests:late-latency", test::odd_bundle});
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{5000, 0}));
        HR_VERIFY((*instance)->process(test::tone(440, -20, 0.1)));
        QCOMPARE((*instance)->latencySamples(), std::size_t{5000});
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{5, 1})); // and half a sample
        HR_VERIFY((*instance)->process(test::tone(440, -20, 0.1)));
        QCOMPARE((*instance)->latencySamples(), std::size_t{5});
    }

    void aKeyGetsWhatTheMainInputGets()
    {
        auto instance = openInstance({"lv2:urn:honest-rack:tests:key-in-its-name", test::odd_bundle},
                                     {.channels = Channels::Stereo});
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{0, 1000}));
        const auto in = test::tone(440, -20, 0.1);
        std::vector<float> left(4800);
        std::vector<float> right(4800);
        HR_VERIFY((*instance)->processStereo(in.channel(0).data(), in.channel(1).data(), left.data(),
                                             right.data(), 4800));
        QVERIFY(std::ranges::equal(right, in.channel(0))); // its right output is the key
    }

    void exampleEffectsOfTheStandardRun_data()
    {
        QTest::addColumn<QString>("uri");
        QTest::newRow("amp") << "http://lv2plug.in/plugins/eg-amp";
        QTest::newRow("gate with an event input") << "http://lv2plug.in/plugins/eg-midigate";
        QTest::newRow("scope with event outputs") << "http://lv2plug.in/plugins/eg-scope#Stereo";
    }
    void exampleEffectsOfTheStandardRun()
    {
        QFETCH(QString, uri);
        const QString bundle = QStringLiteral("/usr/lib/lv2/") +
                               uri.section(QLatin1Char('/'), -1).section(QLatin1Char('#'), 0, 0) +
                               QStringLiteral(".lv2");
        if (!std::filesystem::exists(bundle.toStdString()))
            QSKIP("lv2-examples is not installed");
        auto instance = openInstance({"lv2:" + uri.toStdString(), bundle.toStdString()});
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        HR_VERIFY((*instance)->start({48000, 256}, processors::defaultValues(info)));
        HR_VERIFY((*instance)->process(signal::AudioBuffer(info.audio_in + info.key_in, 48000, 48000)));
        HR_VERIFY((*instance)->stop());
    }

    void theStandardsAmplifierAmplifies()
    {
        if (!std::filesystem::exists("/usr/lib/lv2/eg-amp.lv2"))
            QSKIP("lv2-examples is not installed");
        auto instance = openInstance({"lv2:http://lv2plug.in/plugins/eg-amp", "/usr/lib/lv2/eg-amp.lv2"});
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{-6}));
        signal::AudioBuffer in(1, 4800, 48000);
        const auto full = test::tone(1000, 0, 0.1);
        std::ranges::copy(full.channel(0), in.channel(0).begin());
        const auto out = (*instance)->process(in);
        HR_VERIFY(out);
        HR_NEAR(signal::peakDbfs(out->channel(0)), -6, 0.01);
    }
};

HR_TEST(tst_instance)
#include "tst_instance.moc"
