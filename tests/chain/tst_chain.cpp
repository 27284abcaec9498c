// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chains as they are written down and as they sound: in one worker, and with one a stage.
#include "chain/chain.h"
#include "hosting/isolated.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using nlohmann::ordered_json;

namespace {

chain::Stage stage(const std::string& id, std::vector<processors::Setting> settings = {})
{
    chain::Stage made;
    made.id = id;
    made.settings = std::move(settings);
    return made;
}

Result<hosting::Location> findForTests(const std::string& id)
{
    if (id.starts_with("reference:"))
        return hosting::Location{id, {}};
    if (id.starts_with(test::specimen))
        return hosting::Location{id, test::specimens_bundle};
    if (id.starts_with("lv2:urn:honest-rack:tests:"))
        return hosting::Location{id, test::faulty_bundle};
    return wrongRequest("it is not installed");
}

/// Half a second of a tone through the chain: left and right.
hosting::FaultOr<signal::AudioBuffer> through(const chain::Chain& chain, const signal::AudioBuffer& in)
{
    auto instance = hosting::openInstance(chain::place(chain, findForTests).location);
    if (!instance)
        return tl::make_unexpected(instance.error());
    const auto values = chain::values(chain, (*instance)->info());
    if (!values)
        return hosting::fault(hosting::Stage::Start, hosting::Cause::InvalidDescription, values.error().text);
    if (auto started = (*instance)->start({in.sampleRateHz(), 256}, *values); !started)
        return tl::make_unexpected(started.error());
    return (*instance)->process(in);
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
        chain::Chain chain{
            "two",
            {stage("reference:gain", {{"gain_db", -12}}),
             stage(test::specimen + "tidepool-equaliser", {{"bell1_hz", 1000}, {"bell1_db", 3}})}};
        chain.stages[0].blend_percent = blend_percent;
        chain.stages[0].trim_db = trim_db;
        chain.stages[0].on = on;
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(levelDb(*out), level_db, 0.02);
        HR_NEAR(levelDb(*out, 1), level_db, 0.02);
    }

    void theDrySideIsAsLateAsTheWet()
    {
        // Half dry and half wet of a pure delay is the delay itself: any shift would comb.
        chain::Chain chain{"late",
                           {stage("reference:added-latency", {{"latency_samples", 333}}),
                            stage("reference:added-latency", {{"latency_samples", 50}})}};
        chain.stages[0].blend_percent = 50;
        const auto in = test::tone(1000, -20, 0.5);
        const auto out = through(chain, in);
        HR_VERIFY(out);
        for (std::size_t i = 1000; i < in.frames(); ++i)
            HR_NEAR(out->channel(0)[i], in.channel(0)[i - 383], 1e-6);
    }

    void aMonoStageRunsTwice()
    {
        if (!std::filesystem::exists("/usr/lib/lv2/eg-amp.lv2"))
            QSKIP("lv2-examples is not installed");
        auto amp = hosting::openInstance({"lv2:http://lv2plug.in/plugins/eg-amp", "/usr/lib/lv2/eg-amp.lv2"},
                                         hosting::Channels::Stereo);
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

    void aMissingStageIsPlayedRound()
    {
        const chain::Chain chain{
            "gap", {stage("lv2:urn:not:there", {{"anything", 5}}), stage("reference:gain", {{"gain_db", -6}})}};
        const auto placed = chain::place(chain, findForTests);
        QCOMPARE(placed.missing, std::vector<std::string>{"lv2:urn:not:there"});
        const auto out = through(chain, test::tone(1000, -20, 0.5));
        HR_VERIFY(out);
        HR_NEAR(levelDb(*out), -26, 0.01);
    }

    void aFaultNamesItsStageWhereEachHasAWorker()
    {
        const chain::Chain chain{"breaks",
                                 {stage("reference:gain"), stage("lv2:urn:honest-rack:tests:crash-in-run")}};
        const auto place = chain::place(chain, findForTests).location;
        const auto together = through(chain, test::tone(1000, -20, 0.5));
        QVERIFY(!together);
        QCOMPARE(together.error().cause, hosting::Cause::Crash);
        auto isolated = hosting::openIsolated(place);
        HR_VERIFY(isolated);
        HR_VERIFY((*isolated)->start({48000, 256}, *chain::values(chain, (*isolated)->info())));
        const auto out = (*isolated)->process(test::tone(1000, -20, 0.5));
        QVERIFY(!out);
        QCOMPARE(out.error().stage, hosting::Stage::Run);
        QVERIFY2(out.error().detail.starts_with("stage 2, lv2:urn:honest-rack:tests:crash-in-run"),
                 out.error().detail.c_str());
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void apartOrTogetherTheySoundTheSame()
    {
        const chain::Chain chain{"same",
                                 {stage(test::specimen + "cordage-leveller", {{"threshold_db", -40}}),
                                  stage(test::specimen + "lantern-saturator")}};
        const auto in = test::tone(440, -12, 0.5);
        const auto together = through(chain, in);
        HR_VERIFY(together);
        auto isolated = hosting::openIsolated(chain::place(chain, findForTests).location);
        HR_VERIFY(isolated);
        HR_VERIFY((*isolated)->start({48000, 256}, *chain::values(chain, (*isolated)->info())));
        const auto apart = (*isolated)->process(in);
        HR_VERIFY(apart);
        QVERIFY(std::ranges::equal(together->samples(), apart->samples()));
    }

    void whatIsWrittenComesBack()
    {
        chain::Chain chain{"Corrective first", {stage("reference:gain", {{"gain_db", 2}}), stage("lv2:urn:x")}};
        chain.stages[0].purpose = "tame low-mid";
        chain.stages[1].on = false;
        chain.stages[1].blend_percent = 30;
        chain.stages[1].key = processors::KeySource::Chain;
        const auto again = chain::fromJson(chain::toJson(chain));
        HR_VERIFY(again);
        QCOMPARE(chain::toJson(*again).dump(), chain::toJson(chain).dump());
    }

    void nonsenseIsRefusedByName_data()
    {
        QTest::addColumn<QString>("document");
        QTest::addColumn<QString>("says");
        const auto row = [](const char* name, const char* stages, const char* says) {
            QTest::newRow(name) << QStringLiteral(R"({"format":"honest-rack-chain","version":1,"stages":%1})")
                                       .arg(QLatin1String(stages))
                                << QString::fromLatin1(says);
        };
        QTest::newRow("no chain") << R"({"a":1})"
                                  << "no chain";
        QTest::newRow("newer") << R"({"format":"honest-rack-chain","version":2,"stages":[]})"
                               << "another version";
        row("no stages", "[]", "no list of stages");
        row("no id", R"([{"id":"a"},{"on":true}])", "Stage 2 has no \"id\"");
        row("blend", R"([{"id":"a","blend_percent":101}])", "from 0 to 100");
        row("trim", R"([{"id":"a","trim_db":"loud"}])", "trim_db");
        row("key", R"([{"id":"a","key":"door"}])", "none, own and chain");
        row("setting", R"([{"id":"a","settings":{"x":"y"}}])", "\"x\" that is no number");
    }
    void nonsenseIsRefusedByName()
    {
        QFETCH(QString, document);
        QFETCH(QString, says);
        const auto chain = chain::fromJson(ordered_json::parse(document.toStdString()));
        QVERIFY(!chain);
        QVERIFY2(test::why(chain).contains(says), qPrintable(test::why(chain)));
    }

    void valuesGoBackIntoTheStages()
    {
        const chain::Chain written{
            "three",
            {stage("reference:gain", {{"gain_db", -12}}), stage("lv2:urn:not:here", {{"warmth", 5}}),
             stage(test::specimen + "tidepool-equaliser", {{"bell1_hz", 1000}, {"bell1_db", 3}})}};
        const auto instance = hosting::openInstance(chain::place(written, findForTests).location);
        HR_VERIFY(instance);
        const auto& info = (*instance)->info();
        auto values = *chain::values(written, info);
        const auto set = [&](const char* key, double value) { values[*info.parameterIndex(key)] = value; };
        set("1.gain_db", 0); // as new, which is not as written
        set("1.on", 0);
        set("3.blend_percent", 30);
        set("3.bell1_db", 6);
        const chain::Chain now = chain::with(written, info, values);
        QCOMPARE(*chain::values(*chain::fromJson(chain::toJson(now)), info), values);
        QCOMPARE(now.stages[1].settings.front().value, 5.0);
    }

    void aMillionStagesAreTooMany()
    {
        ordered_json document{
            {"format", chain::format_name}, {"version", 1}, {"stages", ordered_json::array()}};
        for (int i = 0; i < 1000000; ++i)
            document["stages"].push_back({{"id", "a"}});
        const auto chain = chain::fromJson(document);
        QVERIFY(!chain);
        QVERIFY(test::why(chain).contains(QStringLiteral("1000000 stages; a chain has at most 64")));
    }

    void aSettingThatAStageDoesNotHaveIsRefused()
    {
        const chain::Chain chain{"odd", {stage("reference:gain", {{"warmth", 5}})}};
        const auto instance = hosting::openInstance(chain::place(chain, findForTests).location);
        HR_VERIFY(instance);
        const auto values = chain::values(chain, (*instance)->info());
        QVERIFY(!values);
        QVERIFY2(test::why(values).startsWith(QStringLiteral("Stage 1, reference:gain")),
                 qPrintable(test::why(values)));
    }
};

HR_TEST(tst_chain)
#include "tst_chain.moc"
