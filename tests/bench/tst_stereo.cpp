// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

#include <cmath>

using namespace hr;

class tst_stereo : public QObject {
    Q_OBJECT

private slots:
    void widthAndCrosstalkFollowFromMidAndSide_data()
    {
        QTest::addColumn<double>("width_db");
        QTest::newRow("as it is") << 0.0;
        QTest::newRow("wide") << 6.0;
        QTest::newRow("narrow") << -12.0;
        QTest::newRow("hardly any side") << -40.0;
    }
    void widthAndCrosstalkFollowFromMidAndSide()
    {
        QFETCH(const double, width_db);
        const auto reading = test::readingOf("stereo", "width", {{"width_db", width_db}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("width_db"), width_db, 0.02);
        HR_NEAR(*reading->number("balance_db"), 0, 0.02);
        HR_NEAR(*reading->number("correlation"), 1, 0.001);
        HR_NEAR(*reading->number("mono_loss_db"), 0, 0.01);
        QVERIFY(!reading->number("mono_below_hz"));
        const double g = std::pow(10, width_db / 20);
        if (width_db == 0)
            QCOMPARE(reading->reasons.at("crosstalk_db"),
                     std::string("nothing crosses from one side to the other"));
        else
            HR_NEAR(*reading->number("crosstalk_db"), 20 * std::log10(std::abs(1 - g) / (1 + g)), 0.05);
    }

    /// Low frequencies of the side are cut: below the corner the sound is mono.
    void monoBelowAFrequency()
    {
        const auto chain = test::chainOf(
            R"([{"id":"x","kind":"mid_side"},{"id":"f","processor":"reference:high-pass"},{"id":"r","kind":"rejoin"}])",
            R"([{"from":"in","to":"x"},{"from":"x","output":"mid","to":"r","input":"mid"},{"from":"x","output":"side","to":"f"},{"from":"f","to":"r","input":"side"},{"from":"r","to":"out"}])");
        const auto reading = test::readingOf("stereo", chain, {{"f.frequency_hz", 180}, {"f.order", 2}});
        HR_VERIFY(reading);
        HR_NEAR(*reading->number("mono_below_hz"), 180, 1.8);
        HR_NEAR(*reading->number("width_db"), 0, 0.1);
    }

    void balanceHasItsSign()
    {
        const auto reading =
            test::readingOf("stereo", test::specimenAt("spreader"), {{"width_db", 0}, {"balance_db", 4}});
        HR_VERIFY(reading);
        HR_NEAR(std::abs(*reading->number("balance_db")), 4, 0.1);
    }

    void decorrelatedSidesLoseInMono()
    {
        const auto reading = test::readingOf("stereo", "noise-reverb", {{"rt60_s", 0.5}});
        HR_VERIFY(reading);
        QVERIFY(std::abs(*reading->number("correlation")) < 0.5);
        QVERIFY(*reading->number("mono_loss_db") > 1.5);
    }

    void oneChannelHasNoSides()
    {
        const auto reading = test::readingOf("stereo", test::specimenAt("breakwater-mono"));
        HR_VERIFY(reading);
        for (const auto& [key, value] : reading->figures.items())
            QVERIFY2(value.is_null(), key.c_str());
    }
};

HR_TEST(tst_stereo)
#include "tst_stereo.moc"
