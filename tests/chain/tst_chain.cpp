// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chains as they sound: in a row, and with branches.
#include "chain/key_signal.h"
#include "chains.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using nlohmann::ordered_json;

namespace {

Result<hosting::Location> findForTests(const std::string& id)
{
    if (id.starts_with("reference:"))
        return hosting::Location{id, {}};
    if (id.starts_with(test::specimen))
        return hosting::Location{id, test::specimens_bundle};
    if (id.starts_with("lv2:urn:honest-rack:tests:"))
        return hosting::Location{id, id.ends_with("late-latency") || id.ends_with("key-in-its-name")
                                         ? test::odd_bundle
                                         : test::faulty_bundle};
    return wrongRequest("it is not installed");
}

/// The sound through the chain: left and right.
hosting::FaultOr<signal::AudioBuffer> through(const chain::Chain& chain, const signal::AudioBuffer& in)
{
    auto instance = hosting::openInstance(chain::place(chain, findForTests).location);
    if (!instance)
        return tl::make_unexpected(instance.error());
    const auto values = chain::values(chain, (*instance)->info());
    if (!values)
        return hosting::fault(hosting::Phase::Start, hosting::Cause::InvalidDescription, values.error().text);
    if (auto started = (*instance)->start({in.sampleRateHz(), 256}, *values); !started)
        return tl::make_unexpected(started.error());
    return (*instance)->process(in);
}

/// A chain from the nodes and edges of a file.
chain::Chain graph(const char* nodes, const char* edges)
{
    auto made = chain::fromJson({{"format", chain::format_name},
                                 {"version", 2},
                                 {"name", "graph"},
                                 {"nodes", ordered_json::parse(nodes)},
                                 {"edges", ordered_json::parse(edges)}});
    if (!made)
        qFatal("%s", made.error().text.c_str());
    return *made;
}

double levelDb(const signal::AudioBuffer& out, std::size_t side = 0)
{
    return signal::linearToDb(test::amplitudeAt(out.channel(side).subspan(12000), 1000, 48000));
}

} // namespace

class tst_chain : public QObject {
    Q_OBJECT

private slots:
    void gainsAddUp_data()
    {
        QTest::addColumn<double>("blend_percent");
        QTest::addColumn<double>("trim_db");
        QTest::addColumn<bool>("on");
        QTest::addColumn<double>("level_db");
        const double half = 20 * std::log10(0.5 + 0.5 * signal::dbToLinear(-12));
        QTest::newRow("all of both") << 100.0 << 0.0 << true << -20.0 - 12 + 3;
        QTest::newRow("half dry") << 50.0 << 0.0 << true << -20.0 + half + 3;
        QTest::newRow("trimmed") << 100.0 << 4.0 << true << -20.0 - 12 + 4 + 3;
        QTest::newRow("off") << 50.0 << 4.0 << false << -20.0 + 3;
    }
    void gainsAddUp()
    {
        QFETCH(double, blend_percent);
        QFETCH(double, trim_db);
        QFETCH(bool, on);
        QFETCH(double, level_db);
        chain::Chain chain = test::series("two", {"reference:gain", test::specimen + "tidepool-equaliser"});
        chain.nodes[0].settings = {{"gain_db", -12}};
        chain.nodes[1].settings = {{"bell1_hz", 1000}, {"bell1_db", 3}};
        chain.nodes[0].blend_percent = blend_percent;
        chain.nodes[0].trim_db = trim_db;
        chain.nodes[0].on = on;
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(levelDb(*out), level_db, 0.02);
        HR_NEAR(levelDb(*out, 1), level_db, 0.02);
    }

    void theDrySideIsAsLateAsTheWet_data()
    {
        QTest::addColumn<QString>("processor");
        QTest::addColumn<double>("samples");
        QTest::addColumn<double>("half"); // a half more is told than there is
        QTest::newRow("known from the start") << "reference:added-latency" << 333.0 << 0.0;
        QTest::newRow("known once it runs") << "lv2:urn:honest-rack:tests:late-latency" << 333.0 << 0.0;
        QTest::newRow("longer than any guess") << "lv2:urn:honest-rack:tests:late-latency" << 50000.0 << 0.0;
        QTest::newRow("none, but half a sample is told")
            << "lv2:urn:honest-rack:tests:late-latency" << 0.0 << 1.0;
    }
    void theDrySideIsAsLateAsTheWet()
    {
        // Half dry and half wet of a pure delay is the delay itself: any shift would comb.
        QFETCH(QString, processor);
        QFETCH(double, samples);
        QFETCH(double, half);
        chain::Chain chain = test::series("late", {processor.toStdString(), "reference:added-latency"});
        const bool reference = processor.startsWith(QStringLiteral("reference"));
        chain.nodes[0].settings = {{reference ? "latency_samples" : "samples", samples}};
        if (!reference)
            chain.nodes[0].settings.push_back({"on", half}); // the plug-in's, not the chain's
        chain.nodes[1].settings = {{"latency_samples", 50}};
        chain.nodes[0].blend_percent = 50;
        const auto in = test::tone(1000, -20, 1.5);
        const auto out = through(chain, in);
        HR_VERIFY(out);
        const auto late = static_cast<std::size_t>(samples) + 50;
        for (std::size_t i = late; i < in.frames(); ++i)
            HR_NEAR(out->channel(0)[i], in.channel(0)[i - late], 1e-6);
        for (std::size_t i = 0; i < late; ++i)
            QCOMPARE(out->channel(0)[i], 0.0F);
    }

    void aPlugInsOwnSwitchStaysItsOwn()
    {
        chain::Chain chain = test::series("collision", {"lv2:urn:honest-rack:tests:late-latency"});
        chain.nodes[0].settings = {{"on", 1}};
        chain.nodes[0].on = false;
        const auto instance = hosting::openInstance(chain::place(chain, findForTests).location);
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        const auto values = *chain::values(chain, info);
        QCOMPARE(values[*info.parameterIndex("s1:on")], 0.0);
        QCOMPARE(values[*info.parameterIndex("s1.on")], 1.0);
        const auto back =
            chain::with(test::series("collision", {"lv2:urn:honest-rack:tests:late-latency"}), info, values);
        QVERIFY(!back.nodes[0].on);
        QVERIFY(std::ranges::any_of(back.nodes[0].settings,
                                    [](const auto& s) { return s.key == "on" && s.value == 1; }));
    }

    void pathsAreLinedUpWhereTheyMeet()
    {
        // One path is 500 samples late and says so, the other is not: their sum is twice the sound, once.
        const auto chain = graph(
            R"([{"id":"a","processor":"lv2:urn:honest-rack:tests:late-latency","settings":{"samples":500}},)"
            R"({"id":"b","kind":"branch","level_db":0},{"id":"m","kind":"sum","level_db":-6.0206}])",
            R"([{"from":"in","to":"a"},{"from":"in","to":"b"},{"from":"a","to":"m"},{"from":"b","to":"m"},)"
            R"({"from":"m","to":"out"}])");
        const auto in = test::tone(1000, -20, 0.5);
        const auto out = through(chain, in);
        HR_VERIFY(out);
        for (std::size_t i = 500; i < in.frames(); ++i)
            HR_NEAR(out->channel(0)[i], in.channel(0)[i - 500], 1e-5);
    }

    void bandsTogetherAreTheWhole()
    {
        const auto chain =
            graph(R"([{"id":"b","kind":"bands","crossovers_hz":[200,1000,5000]},{"id":"m","kind":"sum"}])",
                  R"([{"from":"in","to":"b"},{"from":"b","output":"band_1","to":"m"},)"
                  R"({"from":"b","output":"band_2","to":"m"},{"from":"b","output":"band_3","to":"m"},)"
                  R"({"from":"b","output":"band_4","to":"m"},{"from":"m","to":"out"}])");
        for (const double frequency_hz : {50.0, 200.0, 600.0, 1000.0, 3000.0, 5000.0, 15000.0}) {
            const auto out = through(chain, test::tone(frequency_hz, -20, 0.5));
            HR_VERIFY(out);
            const double level_db =
                signal::linearToDb(test::amplitudeAt(out->channel(0).subspan(12000), frequency_hz, 48000));
            HR_NEAR(level_db, -20, 0.01);
        }
        // One of them alone has 24 dB an octave: at half its lower edge two octaves below the next it is gone.
        const auto top = graph(R"([{"id":"b","kind":"bands","crossovers_hz":[1000]}])",
                               R"([{"from":"in","to":"b"},{"from":"b","output":"band_2","to":"out"}])");
        const auto low = through(top, test::tone(250, -20, 0.5));
        HR_VERIFY(low);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(low->channel(0).subspan(12000), 250, 48000)), -20 - 48.2,
                0.3);
    }

    void midAndSideComeBackTogether()
    {
        const auto chain = graph(
            R"([{"id":"x","kind":"mid_side"},{"id":"s","processor":"reference:gain","settings":{"gain_db":-12}},)"
            R"({"id":"r","kind":"rejoin"}])",
            R"([{"from":"in","to":"x"},{"from":"x","output":"mid","to":"r","input":"mid"},)"
            R"({"from":"x","output":"side","to":"s"},{"from":"s","to":"r","input":"side"},{"from":"r","to":"out"}])");
        signal::AudioBuffer in(2, 4800, 48000);
        for (std::size_t i = 0; i < in.frames(); ++i) {
            in.channel(0)[i] = 0.5F;
            in.channel(1)[i] = -0.1F;
        }
        const auto out = through(chain, in);
        HR_VERIFY(out);
        const double side = 0.3 * signal::dbToLinear(-12);
        HR_NEAR(out->channel(0)[4000], 0.2 + side, 1e-5);
        HR_NEAR(out->channel(1)[4000], 0.2 - side, 1e-5);
    }

    void aKeyListensToWhatItIsTold_data()
    {
        QTest::addColumn<QString>("key");
        QTest::addColumn<double>("level_db"); // of the key, on the right: the chain gets -20, the stage -30
        QTest::newRow("its own input") << "own" << -30.0;
        QTest::newRow("the chain's") << "chain" << -20.0;
        QTest::newRow("what is wired to it") << "wired" << -26.0;
        QTest::newRow("nothing") << "none" << signal::no_level_db;
    }
    void aKeyListensToWhatItIsTold()
    {
        QFETCH(QString, key);
        QFETCH(double, level_db);
        auto nodes =
            ordered_json::parse(R"([{"id":"g","processor":"reference:gain","settings":{"gain_db":-10}},)"
                                R"({"id":"k","kind":"key","level_db":-6},)"
                                R"({"id":"s","processor":"lv2:urn:honest-rack:tests:key-in-its-name"}])");
        nodes[2]["key"] = key.toStdString();
        const auto chain = graph(nodes.dump().c_str(),
                                 R"([{"from":"in","to":"g"},{"from":"in","to":"k"},{"from":"g","to":"s"},)"
                                 R"({"from":"k","to":"s","input":"key"},{"from":"s","to":"out"}])");
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(levelDb(*out, 0), -30, 0.01);
        if (std::isfinite(level_db))
            HR_NEAR(levelDb(*out, 1), level_db, 0.01);
        else
            QVERIFY(levelDb(*out, 1) < -150);
    }

    void aMonoStageRunsTwice()
    {
        if (!std::filesystem::exists("/usr/lib/lv2/eg-amp.lv2"))
            QSKIP("lv2-examples is not installed");
        auto amp = hosting::openInstance({"lv2:http://lv2plug.in/plugins/eg-amp", "/usr/lib/lv2/eg-amp.lv2"},
                                         {.channels = hosting::Channels::Stereo});
        HR_VERIFY(amp);
        QCOMPARE((*amp)->info().audio_in, std::size_t{2});
        HR_VERIFY((*amp)->start({48000, 256}, std::vector<double>{-12}));
        // Two different sides, so that a mix-up or a mix-down would show.
        const auto left = test::tone(1000, 0, 0.2);
        const auto right = test::tone(3000, -10, 0.2);
        std::vector<float> out_left(9600);
        std::vector<float> out_right(9600);
        HR_VERIFY((*amp)->processStereo(left.channel(0).data(), right.channel(0).data(), out_left.data(),
                                        out_right.data(), 9600));
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out_left, 1000, 48000)), -12, 0.02);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out_right, 3000, 48000)), -22, 0.02);
        QVERIFY(test::amplitudeAt(out_left, 3000, 48000) < 1e-5);
    }

    void aMissingStageIsBypassed()
    {
        chain::Chain chain = test::series("gap", {"lv2:urn:not:there", "reference:gain"});
        chain.nodes[0].settings = {{"anything", 5}};
        chain.nodes[1].settings = {{"gain_db", -6}};
        const auto placed = chain::place(chain, findForTests);
        QCOMPARE(placed.missing, std::vector<std::string>{"lv2:urn:not:there"});
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(levelDb(*out), -26, 0.01);
    }

    void aFaultNamesItsStageWhereTwoAreTheSame()
    {
        const std::string crash = "lv2:urn:honest-rack:tests:crash-in-run";
        chain::Chain chain = test::series("breaks", {"reference:gain", crash, crash});
        chain.nodes[1].processor = test::specimen + "lantern-saturator";
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        QVERIFY(!out);
        QCOMPARE(out.error().phase, hosting::Phase::Run);
        QVERIFY2(out.error().detail.starts_with("stage 3, " + crash), out.error().detail.c_str());
        // With the same twice it is the one that broke, not the first of its kind.
        chain = test::series("breaks",
                             {"lv2:urn:honest-rack:tests:pass", "lv2:urn:honest-rack:tests:jealous", crash});
        const auto jealous = through(chain, test::tone(1000, -20, 0.5));
        QVERIFY(!jealous);
        QVERIFY2(jealous.error().detail.starts_with("stage 2, lv2:urn:honest-rack:tests:jealous"),
                 jealous.error().detail.c_str());
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void itsIdStandsForItsStructureAlone()
    {
        const auto idOf = [](const chain::Chain& chain) {
            return chain::place(chain, findForTests).location.id;
        };
        chain::Chain one = test::series("one", {"reference:gain", "lv2:urn:x"});
        chain::Chain other = one;
        other.name = "another title";
        other.nodes[0].settings = {{"gain_db", 3}};
        QCOMPARE(idOf(other), idOf(one));
        std::swap(other.nodes[0].processor, other.nodes[1].processor);
        QVERIFY(idOf(other) != idOf(one));
    }

    void valuesGoBackIntoTheNodes()
    {
        chain::Chain written = test::series(
            "three", {"reference:gain", "lv2:urn:not:here", test::specimen + "tidepool-equaliser"});
        written.nodes[0].settings = {{"gain_db", -12}};
        written.nodes[1].settings = {{"warmth", 5}};
        const auto instance = hosting::openInstance(chain::place(written, findForTests).location);
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        auto values = *chain::values(written, info);
        const auto set = [&](const char* key, double value) { values[*info.parameterIndex(key)] = value; };
        set("s1.gain_db", 0); // its default, which is not as written
        set("s1:on", 0);
        set("s3:blend_percent", 30);
        set("s3.bell1_db", 6);
        const chain::Chain now = chain::with(written, info, values);
        QCOMPARE(*chain::values(*chain::fromJson(chain::toJson(now)), info), values);
        QCOMPARE(now.nodes[1].settings.front().value, 5.0);
    }

    void aSettingThatAStageDoesNotHaveIsRefused()
    {
        chain::Chain chain = test::series("odd", {"reference:gain"});
        chain.nodes[0].settings = {{"warmth", 5}};
        const auto instance = hosting::openInstance(chain::place(chain, findForTests).location);
        HR_VERIFY(instance);
        const auto values = chain::values(chain, (*instance)->info());
        QVERIFY(!values);
        QVERIFY2(test::why(values).startsWith(QStringLiteral("Stage 1, reference:gain")),
                 qPrintable(test::why(values)));
    }

    void theKeyOfAStageComesOut()
    {
        const auto keyed = graph(R"([{"id":"k","kind":"key","level_db":-6},)"
                                 R"({"id":"s","processor":"lv2:urn:honest-rack:tests:key-in-its-name"}])",
                                 R"([{"from":"in","to":"k"},{"from":"in","to":"s"},)"
                                 R"({"from":"k","to":"s","input":"key"},{"from":"s","to":"out"}])");
        const auto key = chain::keySignal(keyed);
        QVERIFY(key);
        const auto tone = test::tone(1000, -20, 0.5);
        const auto heard = through(*key, tone);
        HR_VERIFY(heard);
        HR_NEAR(signal::rmsDbfs(std::span<const float>(heard->channel(0))), -26, 0.01);
        QVERIFY(!chain::keySignal(test::series("plain", {"reference:compressor"})));
        // A detector 3 dB down at 1 kHz.
        const auto detector = through(chain::detectorSignal(1000, std::nullopt), tone);
        HR_VERIFY(detector);
        HR_NEAR(signal::rmsDbfs(std::span<const float>(detector->channel(0)).subspan(4800)), -23, 0.1);
    }

    void theKeyThatComesOutIsThatOfTheFirstStageThatHasOne()
    {
        // By itself it listens to its own input; told to, to the chain's.
        chain::Chain plain =
            test::series("plain", {"reference:gain", "lv2:urn:honest-rack:tests:key-in-its-name"});
        plain.nodes[0].settings = {{"gain_db", 12}};
        QVERIFY(!chain::keySignal(plain));
        plain.nodes[1].key = processors::KeySource::Chain;
        const auto key = chain::keySignal(plain);
        QVERIFY(key);
        const auto tone = test::tone(1000, -30, 0.5);
        const auto heard = through(*key, tone);
        HR_VERIFY(heard);
        HR_NEAR(signal::rmsDbfs(std::span<const float>(heard->channel(0))), -30, 0.01); // before the gain
        plain.nodes[1].on = false; // who is bypassed listens to nothing
        QVERIFY(!chain::keySignal(plain));
        // The same nodes, so the same parameters in the same order.
        plain.nodes[1].on = true;
        const auto names = [](const chain::Chain& of) {
            const auto opened = hosting::openInstance(chain::place(of, findForTests).location);
            std::vector<std::string> keys;
            if (opened)
                for (const auto& parameter : (*opened)->info().parameters)
                    keys.push_back(parameter.key);
            return keys;
        };
        QVERIFY(!names(plain).empty());
        QCOMPARE(names(*chain::keySignal(plain)), names(plain));
    }

    void aDetectorHearsBetweenItsCorners_data()
    {
        QTest::addColumn<double>("frequency_hz");
        QTest::addColumn<double>("level_db");
        QTest::newRow("at the lower corner") << 200.0 << -3.0;
        QTest::newRow("between") << 1000.0 << 0.0;
        QTest::newRow("two octaves below") << 50.0 << -24.0;
        QTest::newRow("at the upper corner") << 5000.0 << -3.0;
    }
    void aDetectorHearsBetweenItsCorners()
    {
        QFETCH(const double, frequency_hz);
        QFETCH(const double, level_db);
        const auto heard = through(chain::detectorSignal(200, 5000), test::tone(frequency_hz, -10, 1));
        HR_VERIFY(heard);
        HR_NEAR(signal::rmsDbfs(std::span<const float>(heard->channel(1)).subspan(24000)) + 10, level_db, 0.3);
    }
};

HR_TEST(tst_chain)
#include "tst_chain.moc"
