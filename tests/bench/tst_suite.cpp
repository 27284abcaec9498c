// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"
#include "processors/settings.h"
#include "support/fixtures.h"

#include <QElapsedTimer>
#include <thread>

using namespace hr;

class tst_suite : public QObject {
    Q_OBJECT

    static bench::Measurement measure(const hosting::Location& location, bench::MeasureControl control = {})
    {
        auto instance = hosting::openInstance(location);
        const auto info = instance ? (*instance)->info() : processors::ProcessorInfo{};
        return bench::measure(location, info, processors::defaultValues(info), bench::allTests(), {}, control);
    }

private slots:
    void testsAreNamed()
    {
        QCOMPARE(bench::testsNamed({})->size(), bench::allTests().size());
        QCOMPARE(bench::testsNamed({"harmonics"})->front().key, std::string("harmonics"));
        const auto unknown = bench::testsNamed({"response", "warmth"});
        QVERIFY(!unknown);
        QVERIFY(test::why(unknown).contains(QStringLiteral("\"warmth\"")));
    }

    void theDocumentHoldsWhatWasAskedAndFound()
    {
        std::vector<double> progress;
        bench::MeasureControl control;
        control.progress = [&](const std::string&, double done) { progress.push_back(done); };
        const auto document = bench::toJson(measure(test::specimenAt("lantern-saturator"), control));
        QCOMPARE(document["outcome"].get<std::string>(), std::string("complete"));
        QVERIFY(document["failure"].is_null());
        QCOMPARE(document["processor"]["name"].get<std::string>(), std::string("Lantern Glow"));
        QCOMPARE(document["settings"]["drive_db"].get<double>(), 9.0);
        QCOMPARE(document["conditions"]["sample_rate"].get<double>(), 48000.0);
        QCOMPARE(document["conditions"]["channels"].get<int>(), 2);
        QVERIFY(document["conditions"]["started"].get<std::string>().ends_with("Z"));
        QVERIFY(document["readings"]["response"]["series"]["magnitude"]["points"].size() > 400);
        QVERIFY(document["readings"]["harmonics"]["thd_percent"].get<double>() > 1);
        std::vector<double> expected;
        for (std::size_t i = 0; i < bench::allTests().size(); ++i)
            expected.push_back(static_cast<double>(i) / static_cast<double>(bench::allTests().size()));
        QCOMPARE(progress, expected);
    }

    void aFailingProcessorLeavesAValidDocument()
    {
        const auto document = bench::toJson(measure(test::faultyAt("crash-in-run")));
        QCOMPARE(document["outcome"].get<std::string>(), std::string("failed"));
        QCOMPARE(document["failure"]["stage"].get<std::string>(), std::string("run"));
        QCOMPARE(document["failure"]["cause"].get<std::string>(), std::string("crash"));
        QCOMPARE(document["failure"]["test"].get<std::string>(), std::string("response"));
        for (const auto& [test, reading] : document["readings"].items()) // but what did not apply
            QVERIFY2(test == "key_input", test.c_str());
    }

    void cancellingEndsATestInItsMiddle()
    {
        std::stop_source stop;
        bench::MeasureControl control;
        control.cancel = stop.get_token();
        QElapsedTimer since;
        std::optional<std::jthread> later;
        control.progress = [&](const std::string& test, double) {
            if (test == "harmonics")
                later.emplace([&] {
                    std::this_thread::sleep_for(std::chrono::milliseconds(30));
                    since.start();
                    stop.request_stop();
                });
        };
        const auto measurement = measure({"reference:noise-reverb", {}}, control); // takes its time
        QVERIFY2(since.elapsed() < 200, qPrintable(QString::number(since.elapsed())));
        QVERIFY(measurement.cancelled && !measurement.failure);
        QCOMPARE(measurement.readings.size(), std::size_t{1});
    }

    void everyFigureIsDeclaredOnce()
    {
        for (const char* id : {"reference:compressor"}) { // it has most of them
            const auto measurement = measure({id, {}});
            QCOMPARE(measurement.outcome(), std::string("complete"));
            for (const auto& [test, reading] : measurement.readings) {
                const auto& declared =
                    std::ranges::find(bench::allTests(), test, &bench::TestInfo::key)->figures();
                for (const auto& [key, value] : reading.figures.items())
                    QVERIFY2(bench::figureInfo(test, key), (test + "." + key).c_str());
                for (const bench::FigureInfo& figure : declared) {
                    QVERIFY2(reading.figures.contains(figure.key), (test + "." + figure.key).c_str());
                    QVERIFY2(!figure.name.empty() && !figure.definition.empty(), figure.key.c_str());
                    QCOMPARE(std::ranges::count(declared, figure.key, &bench::FigureInfo::key), 1);
                    // A unit in the key is the unit.
                    QVERIFY2(!figure.key.ends_with("_percent") || figure.unit == "%", figure.key.c_str());
                    QVERIFY2(!figure.key.ends_with("_hz") || figure.unit == "Hz" || figure.unit.empty(),
                             figure.key.c_str());
                }
            }
        }
        QCOMPARE(bench::figureInfo("harmonics", "at_100_hz.thd_db")->unit, std::string("dB"));
        QVERIFY(!bench::figureInfo("response", "nonsense") && !bench::figureInfo("nonsense", "kind"));
    }

    void whatWasFedToAKeyIsSaid()
    {
        bench::Conditions conditions;
        const hosting::Location keyed{"lv2:urn:honest-rack:tests:key-in-its-name", test::odd_bundle};
        auto opened = hosting::openInstance(keyed);
        HR_VERIFY(opened);
        for (const auto& [feed, words] : {std::pair(bench::KeyFeed::OwnInput, "its own main input"),
                                          {bench::KeyFeed::Silence, "silence"}}) {
            conditions.key = feed;
            const auto m =
                bench::measure(keyed, (*opened)->info(), processors::defaultValues((*opened)->info()),
                               *bench::testsNamed({"noise"}), conditions);
            QCOMPARE(bench::toJson(m)["conditions"]["key_input"].get<std::string>(), std::string(words));
        }
    }
};

HR_TEST(tst_suite)
#include "tst_suite.moc"
