// SPDX-License-Identifier: GPL-3.0-or-later
//
// Every way to fail, committed for real by a plug-in in a worker, becomes a Fault; the caller goes on.
#include "hosting/scanner.h"
#include "support/fixtures.h"

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
                                            << "ended";
        QTest::newRow("hang when started") << "hang-on-start"
                                           << "start"
                                           << "hang"
                                           << "ended";
        QTest::newRow("exit") << "exit-in-run"
                              << "run"
                              << "exit"
                              << "exit code 7; it printed: leaving now";
        QTest::newRow("NaN") << "not-finite"
                             << "run"
                             << "non-finite-output"
                             << "";
        QTest::newRow("crash when stopped") << "crash-on-stop"
                                            << "stop"
                                            << "crash"
                                            << "signal 11";
        QTest::newRow("missing file") << "missing-file"
                                      << "load"
                                      << "missing-file"
                                      << "not_there.so";
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
        QCOMPARE(QString::fromStdString(word(finding.fault->stage)), stage);
        QCOMPARE(QString::fromStdString(word(finding.fault->cause)), cause);
        QVERIFY2(finding.fault->detail.find(says.toStdString()) != std::string::npos,
                 finding.fault->detail.c_str());
        QTRY_COMPARE(test::runningWorkers(), 0);
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
        auto instance = openInstance(test::faultyAt("restless"), Channels::Own, quick);
        HR_VERIFY(instance);
        HR_VERIFY((*instance)->start({48000, 256}, std::vector<double>{0}));
        QTest::qWait(3200); // nobody asks anything of it meanwhile
        const auto out = (*instance)->process(test::tone(440, -20, 0.1));
        QVERIFY(!out);
        QCOMPARE(out.error().cause, Cause::Hang);
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
            Stage stage{};
            QVERIFY(parseWord(text, stage));
            QCOMPARE(word(stage), std::string(text));
        }
        for (const char* text :
             {"crash", "hang", "exit", "missing-file", "missing-symbol", "unsupported-feature",
              "invalid-description", "non-finite-output", "out-of-memory"}) {
            Cause cause{};
            QVERIFY(parseWord(text, cause));
            QCOMPARE(word(cause), std::string(text));
            QVERIFY(sentence({Stage::Run, cause, "why"}).ends_with("why"));
        }
        Cause cause{};
        QVERIFY(!parseWord("sulk", cause));
        QCOMPARE(toError({Stage::Run, Cause::Hang, ""}, "lv2:x").blame, Blame::Processor);
    }
};

HR_TEST(tst_faults)
#include "tst_faults.moc"
