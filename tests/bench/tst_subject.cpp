// SPDX-License-Identifier: GPL-3.0-or-later
//
// What tests rely on: another signal on each input and on the key, parameters that move, other rates and
// blocks.
#include "bench/subject.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Subject;

class tst_subject : public QObject {
    Q_OBJECT

private slots:
    void eachInputGetsItsOwn()
    {
        auto subject = Subject::open({"reference:gain", {}}, {0}, {});
        HR_VERIFY(subject);
        HR_VERIFY(subject->restart());
        const auto out = subject->process({.main = {std::vector(600, 0.25), std::vector(600, -0.5)}});
        HR_VERIFY(out);
        QCOMPARE(out->channel(0)[599], 0.25F);
        QCOMPARE(out->channel(1)[599], -0.5F);
    }

    void theKeyGetsItsOwn_data()
    {
        QTest::addColumn<bool>("silent");
        QTest::addColumn<bool>("given");
        QTest::addColumn<float>("key");
        QTest::newRow("the main input's") << false << false << 0.25F;
        QTest::newRow("silence") << true << false << 0.0F;
        QTest::newRow("its own") << true << true << 0.75F;
    }
    void theKeyGetsItsOwn()
    {
        QFETCH(bool, silent);
        QFETCH(bool, given);
        bench::Conditions conditions;
        conditions.key = silent ? bench::KeyFeed::Silence : bench::KeyFeed::OwnInput;
        auto subject = Subject::open({"lv2:urn:honest-rack:tests:key-in-its-name", test::odd_bundle}, {0, 1000},
                                     conditions);
        HR_VERIFY(subject);
        HR_VERIFY(subject->restart());
        bench::Stimulus stimulus{{std::vector(600, 0.25)}};
        if (given)
            stimulus.key = {std::vector(600, 0.75)};
        const auto out = subject->process(stimulus);
        HR_VERIFY(out);
        QTEST(out->channel(1)[599], "key");
    }

    void parametersMoveWithTheBlocks()
    {
        bench::Conditions conditions;
        conditions.block_frames = 100;
        auto subject = Subject::open({"reference:gain", {}}, {0}, conditions);
        HR_VERIFY(subject);
        HR_VERIFY(subject->restart());
        const auto out = subject->process(
            {.main = {std::vector(1000, 0.5)}, .moves = {{200, 0, -20}, {201, 0, -6}, {950, 0, 0}}});
        HR_VERIFY(out);
        QCOMPARE(out->channel(0)[199], 0.5F);
        HR_NEAR(out->channel(0)[250], 0.05, 1e-4);
        HR_NEAR(out->channel(0)[999], 0.5 * signal::dbToLinear(-6), 0.01);
    }

    void otherRatesAndBlocks()
    {
        auto subject = Subject::open({"reference:low-pass", {}}, {2000, 2}, {});
        HR_VERIFY(subject);
        for (const double rate_hz : {44100.0, 96000.0}) {
            HR_VERIFY(subject->restart({rate_hz, 64}));
            const auto out =
                subject->process(signal::sine(2000, 0.5, rate_hz, static_cast<std::size_t>(rate_hz)));
            HR_VERIFY(out);
            HR_NEAR(signal::linearToDb(test::amplitudeAt(out->channel(0).subspan(10000), 2000, rate_hz) / 0.5),
                    -3.01, 0.02);
        }
    }
};

HR_TEST(tst_subject)
#include "tst_subject.moc"
