// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench/suite.h"
#include "processors/settings.h"
#include "support/fixtures.h"

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
        QVERIFY(document["readings"].empty());
    }

    void cancellingStopsBetweenTests()
    {
        std::atomic<bool> cancel{false};
        bench::MeasureControl control;
        control.cancel = &cancel;
        control.progress = [&](const std::string&, double) { cancel = true; };
        const auto measurement = measure({"reference:gain", {}}, control);
        QVERIFY(measurement.cancelled);
        QCOMPARE(measurement.outcome(), std::string("partial"));
    }
};

HR_TEST(tst_suite)
#include "tst_suite.moc"
