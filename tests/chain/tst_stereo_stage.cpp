// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/stereo_stage.h"
#include "processors/settings.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;

class tst_stereo_stage : public QObject {
    Q_OBJECT

private slots:
    void aMonoProcessorRunsTwice()
    {
        if (!std::filesystem::exists("/usr/lib/lv2/eg-amp.lv2"))
            QSKIP("lv2-examples is not installed");
        auto stage =
            chain::StereoStage::open({"lv2:http://lv2plug.in/plugins/eg-amp", "/usr/lib/lv2/eg-amp.lv2"});
        HR_VERIFY(stage);
        QCOMPARE(stage->info().audio_in, std::size_t{1});
        HR_VERIFY(stage->start({48000, 256}, std::vector<double>{0}));
        stage->setParameter(0, -12);
        // Two different sides, so that a mix-up or a mix-down would show.
        const auto left = test::tone(1000, 0, 0.2);
        const auto right = test::tone(3000, -10, 0.2);
        std::vector<float> out_left(9600);
        std::vector<float> out_right(9600);
        HR_VERIFY(stage->process(left.channel(0).data(), right.channel(0).data(), out_left.data(),
                                 out_right.data(), 9600));
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out_left, 1000, 48000)), -12, 0.02);
        HR_NEAR(signal::linearToDb(test::amplitudeAt(out_right, 3000, 48000)), -22, 0.02);
        QVERIFY(test::amplitudeAt(out_left, 3000, 48000) < 1e-5);
    }

    void sidesOfAStereoProcessorStayApart()
    {
        auto stage = chain::StereoStage::open({"reference:gain", {}});
        HR_VERIFY(stage);
        HR_VERIFY(stage->start({48000, 256}, std::vector<double>{6}));
        const auto left = test::tone(1000, -20, 0.1);
        const std::vector<float> silence(4800);
        std::vector<float> out_left(4800);
        std::vector<float> out_right(4800);
        HR_VERIFY(
            stage->process(left.channel(0).data(), silence.data(), out_left.data(), out_right.data(), 4800));
        HR_NEAR(signal::peakDbfs(std::span<const float>(out_left)), -14, 0.01);
        QCOMPARE(signal::peakDbfs(std::span<const float>(out_right)), signal::no_level_db);
    }

    void whatCannotBeOpenedIsAFault()
    {
        const auto stage = chain::StereoStage::open(test::faultyAt("missing-file"));
        QVERIFY(!stage);
        QCOMPARE(stage.error().cause, hosting::Cause::MissingFile);
    }
};

HR_TEST(tst_stereo_stage)
#include "tst_stereo_stage.moc"
