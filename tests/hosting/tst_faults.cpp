// SPDX-License-Identifier: GPL-3.0-or-later
//
// Every way to fail, committed for real by a plug-in in a worker, becomes a Fault; the caller goes on.
#include "hosting/scanner.h"
#include "hosting/thread_priority.h"
#include "support/fixtures.h"

#include <QElapsedTimer>
#include <thread>

using namespace hr;
using namespace hr::hosting;

class tst_faults : public QObject {
    Q_OBJECT

private slots:
    void eachFailureIsAValue_data()
    {
        QTest::addColumn<QString>("plugin");
        QTest::addColumn<QString>("stage");
        QTest::addColumn<QString>("cause");
        QTest::addColumn<QString>("says");
        QTest::newRow("crash when started") << "specimen"
                                            << "start"
                                            << "crash"
                                            << "signal 11";
        QTest::newRow("crash while running") << "crash-in-run"
                                             << "run"
                                             << "crash"
                                             << "signal 11";
        QTest::newRow("abort") << "abort-in-run"
                               << "run"
                               << "crash"
                               << "signal 6";
        QTest::newRow("uncaught exception") << "throw-in-run"
                                            << "run"
                                            << "crash"
                                            << "thrown by the plug-in";
        QTest::newRow("hang while running") << "hang-in-run"
                                            << "run"
                                            << "hang"
                                            << "nothing within";
        QTest::newRow("hang when started") << "hang-on-start"
                                           << "start"
                                           << "hang"
                                           << "nothing within";
        QTest::newRow("exit") << "exit-in-run"
                              << "run"
                              << "exit"
                              << "exit code 7; it printed: leaving now";
        QTest::newRow("NaN") << "not-finite"
                             << "run"
                             << "non-finite-output"
                             << "channel 2, 0.111979 s after the start, is not a number";
        QTest::newRow("crash when stopped") << "crash-on-stop"
                                            << "stop"
                                            << "crash"
                                            << "signal 11";
        QTest::newRow("missing file") << "missing-file"
                                      << "load"
                                      << "missing-file"
                                      << "not_there.so";
        QTest::newRow("undefined symbol") << "undefined-symbol"
                                          << "load"
                                          << "missing-symbol"
                                          << "a_symbol_that_nothing_offers";
        QTest::newRow("missing entry point") << "missing-symbol"
                                             << "load"
                                             << "missing-symbol"
                                             << "lv2_descriptor";
        QTest::newRow("feature nobody has") << "needs-feature"
                                            << "load"
                                            << "unsupported-feature"
                                            << "a-feature-nobody-has";
        QTest::newRow("range that ends before it begins") << "bad-range"
                                                          << "read"
                                                          << "invalid-description"
                                                          << "range";
        QTest::newRow("no name") << "no-name"
                                 << "read"
                                 << "invalid-description"
                                 << "name";
        QTest::newRow("not in its library") << "unknown-in-library"
                                            << "start"
                                            << "unsupported-feature"
                                            << "";
#ifndef HONEST_RACK_SANITIZED
        QTest::newRow("memory without bound") << "hoarder"
                                              << "run"
                                              << "out-of-memory"
                                              << "2 GiB";
#endif
    }
    void eachFailureIsAValue()
    {
        QFETCH(QString, plugin);
        QFETCH(QString, stage);
        QFETCH(QString, cause);
        QFETCH(QString, says);
        const Location location = plugin == QStringLiteral("specimen") ? test::specimenAt("stormglass")
                                                                       : test::faultyAt(plugin.toStdString());
        const TimeLimits quick{std::chrono::milliseconds(1000), std::chrono::milliseconds(700)};
        const Finding finding = tryProcessor(location, quick);
        QVERIFY(finding.fault);
        QCOMPARE(QString::fromStdString(word(finding.fault->phase)), stage);
        QCOMPARE(QString::fromStdString(word(finding.fault->cause)), cause);
        QVERIFY2(finding.fault->detail.find(says.toStdString()) != std::string::npos,
                 finding.fault->detail.c_str());
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    /// However loud, what is finite is a remark.
    void whatIsLouderThanAnySoundIsUsed()
    {
        const Finding finding = tryProcessor(test::faultyAt("deafening"));
        QVERIFY(!finding.fault);
        QVERIFY(finding.absurd_output_dbfs && std::abs(*finding.absurd_output_dbfs - 743) < 1);
        QVERIFY(!tryProcessor(test::faultyAt("pass")).absurd_output_dbfs);
    }

    void whatItPrintsNeitherHurtsNorShows()
    {
        const Finding finding = tryProcessor(test::faultyAt("chatter"));
        QVERIFY2(!finding.fault, finding.fault ? sentence(*finding.fault).c_str() : "");
    }

    void aThreadThatNeverRestsIsEnded()
    {
        TimeLimits quick;
        quick.processor_time = std::chrono::seconds(1);
        auto instance = openInstance(test::faultyAt("restless"), {.limits = quick});
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{0}));
        // Nobody asks anything of it meanwhile. On a busy machine it takes longer to use as much.
        QTRY_COMPARE_WITH_TIMEOUT(test::runningWorkers(test::Reserve::Kept), 0, 30000);
        const auto out = (*instance)->process(test::tone(440, -20, 0.1));
        QVERIFY(!out);
        QCOMPARE(out.error().cause, Cause::Hang);
    }

    void aSlowOneOnABusyMachineDoesNotHang()
    {
        std::atomic<bool> busy{true};
        std::vector<std::jthread> load;
        for (unsigned i = 0; i < std::thread::hardware_concurrency(); ++i)
            load.emplace_back([&busy] {
                while (busy)
                    ;
            });
        std::optional<Finding> finding;
        std::jthread([&] {
            setPriority(Priority::Background); // it gets a tenth of a core
            finding = tryProcessor(test::faultyAt("slow"),
                                   {std::chrono::milliseconds(10000), std::chrono::milliseconds(700)});
        }).join();
        busy = false;
        QVERIFY2(!finding->fault, finding->fault ? sentence(*finding->fault).c_str() : "");
    }

    void whatIsCancelledEndsAtOnce()
    {
        std::stop_source stop;
        auto instance = openInstance(test::faultyAt("hang-in-run"), {.cancel = stop.get_token()});
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{0}));
        std::jthread later([&] {
            std::this_thread::sleep_for(std::chrono::milliseconds(100));
            stop.request_stop();
        });
        QElapsedTimer clock;
        clock.start();
        const auto out = (*instance)->process(test::tone(440, -20, 0.1));
        QVERIFY(!out && isCancelled(out.error()));
        QVERIFY2(clock.elapsed() < 250, qPrintable(QString::number(clock.elapsed())));
    }

    void childrenOfAPlugInGoWithIt()
    {
        const Finding finding = tryProcessor(test::faultyAt("forker"));
        QVERIFY(!finding.fault);
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void aFaultedInstanceKeepsSayingSo()
    {
        auto instance = openInstance(test::faultyAt("crash-in-run"));
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{0}));
        const auto sound = test::tone(440, -20, 0.2);
        for (int i = 0; i < 3; ++i) {
            const auto out = (*instance)->process(sound);
            QVERIFY(!out);
            QCOMPARE(out.error().cause, Cause::Crash);
        }
    }

    void everyWordHasItsFaultAndBack()
    {
        for (const char* text : {"read", "load", "start", "run", "stop"}) {
            Phase phase{};
            QVERIFY(parseWord(text, phase));
            QCOMPARE(word(phase), std::string(text));
        }
        for (const char* text :
             {"crash", "hang", "exit", "missing-file", "missing-symbol", "unsupported-feature",
              "invalid-description", "non-finite-output", "absurd-output", "out-of-memory"}) {
            Cause cause{};
            QVERIFY(parseWord(text, cause));
            QCOMPARE(word(cause), std::string(text));
            QVERIFY(sentence({Phase::Run, cause, "why"}).ends_with("why"));
        }
        Cause cause{};
        QVERIFY(!parseWord("sulk", cause));
        QCOMPARE(toError({Phase::Run, Cause::Hang, ""}, "lv2:x").blame, Blame::Processor);
    }
};

HR_TEST(tst_faults)
#include "tst_faults.moc"
