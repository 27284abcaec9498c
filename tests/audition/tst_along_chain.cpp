// SPDX-License-Identifier: GPL-3.0-or-later
//
// Orders of a chain and what it is like from point to point, with the bench's own processors.
#include "audition/before_or_behind.h"
#include "audition/company.h"
#include "audition/harmonic_steps.h"
#include "audition/neutral.h"
#include "audition/sketch.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "support/fixtures.h"

#include <numbers>

using namespace hr;
using namespace hr::audition;

class tst_along_chain : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path m_file;

    static Result<hosting::FaultOr<OpenedChain>> open(const chain::Chain& chain)
    {
        const auto placed = chain::place(chain, [](const std::string& id) {
            return Result<hosting::Location>(hosting::Location{
                id, id.starts_with("lv2") ? test::faultyAt("crash-in-run").bundle : std::filesystem::path()});
        });
        auto instance = hosting::openInstance(placed.location);
        if (!instance)
            return hosting::FaultOr<OpenedChain>(tl::make_unexpected(instance.error()));
        auto values = chain::values(chain, (*instance)->info());
        if (!values)
            return tl::make_unexpected(values.error());
        return hosting::FaultOr<OpenedChain>(OpenedChain{std::move(*instance), *values, placed.location});
    }
    /// Pairs of an id and settings, one after the other.
    static chain::Chain
    chainOf(const std::vector<std::pair<std::string, std::vector<processors::Setting>>>& stages)
    {
        chain::Chain chain;
        for (const auto& [id, settings] : stages)
            chain::addStage(chain, id).settings = settings;
        return chain;
    }

private slots:
    void initTestCase()
    {
        m_file = m_folder.filePath(QStringLiteral("noise.wav")).toStdString();
        HR_VERIFY(
            signal::writeAudioFile(m_file, signal::onChannels(signal::gaussianNoise(0.2, 96000, 3), 2, 48000)));
    }

    /// Two filters may change places, a clip may not; what comes out is sorted, and alike told as alike.
    void ordersThatAreTheSameAreTold()
    {
        const auto chain = chainOf({{"reference:peak-filter", {{"gain_db", 12}}},
                                    {"reference:low-pass", {{"frequency_hz", 3000}}},
                                    {"reference:hard-clip", {{"clip_dbfs", -12}}}});
        std::size_t told = 0;
        const auto heard = compareOrders(chain, *chain::movable(chain, {"s1", "s2", "s3"}), open, m_file,
                                         m_folder.path().toStdString(),
                                         {{}, [&](std::size_t done, std::size_t) { told = done; }});
        HR_VERIFY(heard);
        HR_VERIFY(*heard);
        const Orders& orders = **heard;
        QCOMPARE(told, std::size_t{6});
        QCOMPARE(orders.orders.size(), std::size_t{6});
        QVERIFY(orders.orders[0].as_built && !orders.orders[0].residual_db && *orders.orders[0].gain_db == 0);
        QCOMPARE(orders.distinct, std::size_t{4}); // the clip last, first, or between the two either way
        for (std::size_t i = 2; i < 6; ++i)
            QVERIFY(*orders.orders[i].residual_db <= *orders.orders[i - 1].residual_db);
        const HeardOrder& last = orders.orders.back();
        QCOMPARE(last.stages, (std::vector<std::string>{"s2", "s1", "s3"}));
        QVERIFY(last.same_as == std::size_t{0} && *last.residual_db < same_order_below_db);
    }

    /// What orders have in common is played once, with the same result as each from its beginning, whatever
    /// stands fixed between, however late a stage is and whatever rings on at the end.
    void ordersPlayedInPiecesAreThoseOfTheWhole()
    {
        auto chain = chainOf({{"reference:gain", {{"gain_db", 3}}},
                              {"reference:compressor", {{"threshold_db", -40}}},
                              {"reference:added-latency", {{"latency_samples", 1300}}},
                              {"reference:peak-filter", {{"gain_db", 9}}},
                              {"reference:noise-reverb", {}},
                              {"reference:hard-clip", {{"clip_dbfs", -20}}}});
        const std::vector<std::string> movable{"s2", "s3", "s5", "s6"};
        const auto compared = [&] {
            return compareOrders(chain, movable, open, m_file, m_folder.path().toStdString());
        };
        const auto in_pieces = compared();
        HR_VERIFY(in_pieces);
        chain.nodes[0].key = processors::KeySource::Chain; // which is what it gets anyway, but played otherwise
        const auto whole = compared();
        HR_VERIFY(whole);
        QCOMPARE((*in_pieces)->orders.size(), std::size_t{24});
        QCOMPARE((*in_pieces)->distinct, (*whole)->distinct);
        for (const HeardOrder& order : (*whole)->orders) {
            const auto same = std::ranges::find((*in_pieces)->orders, order.stages, &HeardOrder::stages);
            QVERIFY(same != (*in_pieces)->orders.end());
            QCOMPARE(same->loudness_lufs, order.loudness_lufs);
            QCOMPARE(same->true_peak_dbtp, order.true_peak_dbtp);
            QCOMPARE(same->residual_db, order.residual_db);
        }
    }

    void aSketchTellsADifferenceInPower()
    {
        const auto loud = signal::gaussianNoise(0.2, 200000, 1);
        const auto quiet = signal::gaussianNoise(2e-6, 200000, 2);
        std::vector<float> one(loud.begin(), loud.end());
        std::vector<float> other;
        for (std::size_t i = 0; i < one.size(); ++i)
            other.push_back(static_cast<float>(2 * (loud[i] + quiet[i])));
        Sketch a;
        Sketch b;
        a.add(one);
        b.add(std::span(other).first(77777)); // in any pieces
        b.add(std::span(other).subspan(77777));
        HR_NEAR(signal::powerToDb(Sketch::distance(a, 1, b, 0.5) / a.power()), -100, 0.5);
    }

    /// 6 dB up, 4:1 above -24 dBFS, 2:1 above -30: of a tone of -12 dBFS, 8:1; a clip hides what came before
    /// it.
    void figuresAlongTheChain()
    {
        const auto chain =
            chainOf({{"reference:gain", {{"gain_db", 18}}},
                     {"reference:compressor", {{"threshold_db", -24}, {"ratio", 4}, {"knee_db", 0}}},
                     {"reference:compressor", {{"threshold_db", -30}, {"ratio", 2}, {"knee_db", 0}}},
                     {"reference:hard-clip", {{"clip_dbfs", -12}}},
                     {"reference:added-latency", {{"latency_samples", 64}}}});
        const auto walked = alongPath(chain, open, m_file);
        HR_VERIFY(walked);
        HR_VERIFY(*walked);
        const auto& points = (*walked)->points;
        QCOMPARE(points.size(), std::size_t{6});
        HR_NEAR(*points[0].gain_db, 0, 1e-4);
        HR_NEAR(*points[1].gain_db, 18, 1e-3);
        HR_NEAR(*points[1].loudness_lufs - *points[0].loudness_lufs, 18, 0.01);
        HR_NEAR(*points[2].ratio, 4, 0.08);
        HR_NEAR(*points[3].ratio, 8, 0.16);
        QCOMPARE((*walked)->overload_arises, std::optional<std::string>("s1"));
        QVERIFY(!(*walked)->overload_heard);
        QVERIFY(points[1].response.size() > 100);
        HR_NEAR(points[1].response.front().second, 18, 0.02);
        QCOMPARE(points[5].latency_samples, std::size_t{64});
    }

    /// A clip adds the third harmonic; a filter behind it brings that up by its response, and adds none.
    void harmonicsAreToldWithWhoAddsThem()
    {
        const auto chain = chainOf({{"reference:gain", {{"gain_db", 3}}},
                                    {"reference:hard-clip", {{"clip_dbfs", -15}}},
                                    {"reference:high-shelf", {{"frequency_hz", 1800}, {"gain_db", 12}}}});
        PathQuestion question;
        question.with_in_out = true;
        const auto walked = alongPath(chain, open, m_file, question);
        HR_VERIFY(walked);
        HR_VERIFY(*walked);
        const auto& points = (*walked)->points;
        QVERIFY(!points[1].harmonics_db.at(1) && points[2].harmonics_db.at(1));
        QCOMPARE(points[2].in_out.size(), std::size_t{13});
        HR_NEAR(points[2].in_out.front().second, -57, 0.01);
        HR_NEAR(points[2].in_out.back().second, -15 + 3.0, 0.3); // nearly a square: 3 dB over a sine
        // A sine of peak A, clipped at c: the third by its Fourier integral.
        const double a = signal::dbToLinear(-9);
        const double angle = std::asin(signal::dbToLinear(-15) / a);
        const auto coefficient = [&](double n) {
            double sum = 0;
            constexpr int steps = 20000;
            for (int i = 0; i < steps; ++i) {
                const double x = (i + 0.5) * std::numbers::pi / 2 / steps;
                sum += (x < angle ? std::sin(x) : std::sin(angle)) * std::sin(n * x);
            }
            return std::abs(sum);
        };
        HR_NEAR(*points[2].harmonics_db.at(1), signal::linearToDb(coefficient(3) / coefficient(1)), 0.1);
        const auto steps = harmonicSteps(**walked, 1000);
        QVERIFY(steps.size() >= 2);
        const auto third = [&](const char* node) {
            return std::ranges::find_if(
                steps, [&](const HarmonicStep& step) { return step.order == 3 && step.after == node; });
        };
        QVERIFY(third("s2") != steps.end() && third("s2")->adds);
        QVERIFY(third("s3") != steps.end() && !third("s3")->adds && third("s3")->rise_db > 3);
        QVERIFY(std::ranges::none_of(steps, [](const HarmonicStep& step) { return step.after == "s1"; }));
        QVERIFY(points[3].core_percent > 0 && points[3].core_percent < 100);
    }

    /// Noise is no harmonic, however loud.
    void noiseIsNoHarmonic()
    {
        const auto chain = chainOf({{"reference:added-noise", {}}});
        PathQuestion question;
        question.with_in_out = true;
        question.with_response = false;
        const auto walked = alongPath(chain, open, m_file, question);
        HR_VERIFY(walked);
        HR_VERIFY(*walked);
        for (const auto& db : (*walked)->points.back().harmonics_db)
            QVERIFY(!db);
    }

    void aFlatTopHasNoRatio()
    {
        const auto walked =
            alongPath(chainOf({{"reference:compressor", {{"threshold_db", -40}, {"ratio", 2}}}}), open, m_file,
                      {-50, 200});
        HR_VERIFY(walked);
        HR_NEAR(*(*walked)->points[1].ratio, 1, 0.01); // below its threshold
    }

    void aStageThatFailsIsNamed()
    {
        const auto chain = chainOf({{"reference:gain", {}}, {test::faultyAt("crash-in-run").id, {}}});
        const auto walked = alongPath(chain, open, m_file);
        HR_VERIFY(walked);
        QVERIFY(!*walked && walked->error().cause == hosting::Cause::Crash);
        const auto heard = compareOrders(chain, {"s1", "s2"}, open, m_file, m_folder.path().toStdString());
        HR_VERIFY(heard);
        QVERIFY(!*heard && heard->error().cause == hosting::Cause::Crash);
    }

    /// Stage by stage, and from the beginning for each: the same levels and latencies.
    void levelsInTurnAreThoseOfTheWhole()
    {
        auto chain = chainOf({{"reference:peak-filter", {{"gain_db", 9}}},
                              {"reference:added-latency", {{"latency_samples", 300}}},
                              {"reference:compressor", {{"threshold_db", -40}}},
                              {"reference:noise-reverb", {}}});
        PathQuestion levels;
        levels.with_tone = levels.with_response = false;
        const auto in_turn = alongPath(chain, open, m_file, levels);
        HR_VERIFY(in_turn);
        chain.nodes[0].key = processors::KeySource::Chain; // which is what it gets anyway, but played otherwise
        const auto whole = alongPath(chain, open, m_file, levels);
        HR_VERIFY(whole);
        QCOMPARE((*in_turn)->points.size(), std::size_t{5});
        for (std::size_t i = 0; i < 5; ++i) {
            HR_NEAR(*(*in_turn)->points[i].loudness_lufs, *(*whole)->points[i].loudness_lufs, 0.01);
            HR_NEAR(*(*in_turn)->points[i].true_peak_dbtp, *(*whole)->points[i].true_peak_dbtp, 0.01);
            QCOMPARE((*in_turn)->points[i].latency_samples, (*whole)->points[i].latency_samples);
        }
        QVERIFY((*in_turn)->points[2].latency_samples > 0);
    }

    /// A gain of 6 dB before a compressor that halves what is above its threshold adds 3 dB behind it.
    void anEqualiserBeforeOrBehindACompressorIsToldInFigures()
    {
        auto chain = chainOf({{"reference:gain", {{"gain_db", 6}}},
                              {"reference:compressor",
                               {{"threshold_db", -60}, {"ratio", 2}, {"attack_ms", 1}, {"release_ms", 50}}}});
        const auto found = equaliserBeforeOrBehind(chain, {"s1", "s2"}, open, m_file);
        HR_VERIFY(found);
        HR_VERIFY(*found);
        const auto& [before, behind, without_lufs] = **found;
        HR_NEAR(*before.met_lufs - *behind.met_lufs, 6, 0.02);
        HR_NEAR(*before.takenDb() - *behind.takenDb(), 3, 0.3);
        HR_NEAR(*behind.end_lufs - *without_lufs, 6, 0.02);
        HR_NEAR(*before.end_lufs - *without_lufs, 3, 0.3);
    }

    void neutralStagesAddNoLoudness()
    {
        auto chain = chainOf({{"reference:gain", {{"gain_db", 6}}},
                              {"reference:hard-clip", {{"clip_dbfs", -20}}},
                              {"reference:gain", {{"gain_db", -3}}}});
        chain.nodes[2].on = false;
        const auto trims = neutralTrims(chain, {"s1", "s2", "s3"}, open, m_file);
        HR_VERIFY(trims);
        HR_VERIFY(*trims);
        QCOMPARE((*trims)->size(), std::size_t{2});
        HR_NEAR((*trims)->at("s1"), -6, 0.011);
        for (std::size_t i = 0; i < 2; ++i)
            chain.nodes[i].trim_db = (*trims)->at(chain.nodes[i].id);
        PathQuestion file_alone;
        file_alone.with_tone = file_alone.with_response = false;
        const auto path = alongPath(chain, open, m_file, file_alone);
        HR_VERIFY(path);
        for (std::size_t i = 1; i < 3; ++i)
            HR_NEAR(*(*path)->points[i].loudness_lufs, *(*path)->points[0].loudness_lufs, 0.02);
        QVERIFY(!neutralTrims(chainOf({{"lv2:crash", {}}}), {"s1"}, open, m_file).value().has_value());
    }

    /// What each stage does to the level of what passes it, while it plays.
    void stagesTellTheirGain_data()
    {
        QTest::addColumn<QByteArray>("between");
        QTest::addRow("in this process") << QByteArray("reference:low-pass");
        QTest::addRow("in a worker") << QByteArray(test::specimen.c_str()) + "breakwater";
    }
    void stagesTellTheirGain()
    {
        QFETCH(const QByteArray, between);
        nlohmann::json nodes;
        nlohmann::json edges;
        std::string from = "in";
        for (const auto& [id, processor] :
             {std::pair("s1", "reference:gain"), {"s2", between.constData()}, {"s3", "reference:gain"}}) {
            nodes.push_back({{"id", id}, {"processor", processor}});
            edges.push_back({{"from", std::exchange(from, id)}, {"to", id}});
        }
        edges.push_back({{"from", from}, {"to", "out"}});
        const auto opened = hosting::openInstance(test::chainOf(nodes.dump().c_str(), edges.dump().c_str()));
        HR_VERIFY(opened);
        hosting::Instance& chain = **opened;
        std::vector<double> values;
        for (const auto& parameter : chain.info().parameters)
            values.push_back(parameter.default_value);
        values[*chain.info().parameterIndex("s1.gain_db")] = -7;
        values[*chain.info().parameterIndex("s3.gain_db")] = 3;
        HR_VERIFY(chain.start({48000, 256}, values));
        const auto noise = signal::onChannels(signal::gaussianNoise(0.001, 48000, 4), 2, 48000);
        HR_VERIFY(chain.process(noise));
        const auto gains_db = chain.stageGainsDb();
        QCOMPARE(gains_db.size(), std::size_t{3});
        HR_NEAR(gains_db[0].load(), -7, 0.01);
        HR_NEAR(gains_db[2].load(), 3, 0.01);
        QVERIFY(std::isfinite(gains_db[1].load()));
        HR_VERIFY(chain.process(signal::AudioBuffer(2, 96000, 48000)));
        QVERIFY(std::isnan(gains_db[0].load()));
        HR_VERIFY(chain.start({48000, 5}, values)); // however short a block is
        HR_VERIFY(chain.process(noise));
        HR_NEAR(gains_db[0].load(), -7, 0.01);
    }

    /// One part and its rest are the whole, sample for sample, where nothing bends; over any stretch of time.
    void aPartAndItsRestAreTheWhole()
    {
        const auto short_file = m_folder.filePath(QStringLiteral("short.wav")).toStdString();
        HR_VERIFY(signal::writeAudioFile(short_file,
                                         signal::onChannels(signal::gaussianNoise(0.1, 20000, 9), 2, 48000)));
        chain::Company company;
        company.parts = {
            {"p1", "", m_file.string(), {-3, 20, true}, true, chainOf({{"reference:low-pass", {}}})},
            {"p2", "", short_file, {0, -70, true}, true, {}},
            {"p3", "", short_file, {-6, 0, true}, false, chainOf({{"reference:added-latency", {}}})}};
        company.returns = {{"r1", "", {-6, 0, true}, chainOf({{"reference:high-pass", {}}})}};
        company.parts[0].sends = {{"r1", 3}};
        company.parts[1].sends = {{"r1", -9}};
        std::size_t told = 0;
        const auto soundOf = [&](const chain::Company& of, const CompanyOrder& asked) {
            CompanyOrder order = asked;
            order.find = [](const std::string& file) { return Result<std::filesystem::path>(file); };
            order.progress = [&](std::size_t done, std::size_t) { told = done; };
            const auto out = m_folder.filePath(QStringLiteral("together.wav")).toStdString();
            const auto played = playTogether(of, open, out, order);
            return played && *played ? *signal::readAudioFile(out) : signal::AudioBuffer();
        };
        for (const auto& [first_s, length_s] : {std::pair(0.0, 2.0), {0.7, 0.5}}) {
            CompanyOrder order;
            order.first_s = first_s;
            order.length_s = length_s;
            const auto whole = soundOf(company, order);
            QCOMPARE(told, std::size_t{4});
            order.without = "p1";
            const auto rest = soundOf(company, order);
            auto alone = company;
            alone.parts[1].standing.heard = alone.parts[2].standing.heard = false;
            order.without.clear();
            const auto part = soundOf(alone, order);
            QCOMPARE(whole.frames(), static_cast<std::size_t>(std::lround(length_s * 48000)));
            QVERIFY(signal::peakDbfs(std::span<const float>(whole.channel(0))) > -40 &&
                    rest.frames() == whole.frames());
            for (std::size_t c = 0; c < 2; ++c)
                for (std::size_t i = 0; i < whole.frames(); ++i)
                    HR_NEAR(whole.channel(c)[i], rest.channel(c)[i] + part.channel(c)[i], 3e-6);
            // Or what it sends stays with the others, and it comes without.
            order.without = "p1";
            order.sends_stay = true;
            const auto rest_and_sends = soundOf(company, order);
            order.without.clear();
            alone.parts[0].sends.clear();
            const auto dry = soundOf(alone, order);
            for (std::size_t i = 0; i < whole.frames(); ++i)
                HR_NEAR(whole.channel(1)[i], rest_and_sends.channel(1)[i] + dry.channel(1)[i], 3e-6);
            order.silence_s = 0.25; // before it, where it is put beside a whole source
            const auto later = soundOf(company, order);
            QCOMPARE(later.frames(), whole.frames() + 12000);
            QVERIFY(later.channel(0)[11999] == 0 && later.channel(0)[12100] == whole.channel(0)[100]);
        }
        // What goes into the return is what both send, which its chain is played through.
        CompanyOrder sent;
        sent.into = "r1";
        const auto into = soundOf(company, sent);
        auto back = company;
        back.parts.resize(1);
        back.parts[0] = {"p1",          "",   m_folder.filePath(QStringLiteral("into.wav")).toStdString(),
                         {-6, 0, true}, true, company.returns[0].chain};
        back.returns.clear();
        HR_VERIFY(signal::writeAudioFile(back.parts[0].file, into));
        const auto returned = soundOf(back, {});
        const auto all = soundOf(company, {});
        CompanyOrder others;
        others.without = "r1";
        const auto rest = soundOf(company, others);
        for (std::size_t i = 0; i < all.frames(); ++i)
            HR_NEAR(all.channel(1)[i], rest.channel(1)[i] + returned.channel(1)[i], 3e-6);
        auto broken = company;
        broken.parts[1].chain = chainOf({{"lv2:crash", {}}});
        CompanyOrder order;
        order.find = [](const std::string& file) { return Result<std::filesystem::path>(file); };
        const auto out = m_folder.filePath(QStringLiteral("broken.wav")).toStdString();
        QVERIFY(!playTogether(broken, open, out, order).value().has_value());
        QVERIFY(!std::filesystem::exists(out));
    }
};

HR_TEST(tst_along_chain)
#include "tst_along_chain.moc"
