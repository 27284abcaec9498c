// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which parameters a hand goes to first, and times of rooms that become note values.
#include "processors/fitted_time.h"
#include "processors/foremost.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::processors;

class tst_foremost : public QObject {
    Q_OBJECT

    static ParameterInfo parameter(const std::string& name, const std::string& unit, double most = 100)
    {
        ParameterInfo one;
        one.key = one.name = name;
        one.unit = unit;
        one.maximum = most;
        return one;
    }
    static ProcessorInfo of(std::vector<ParameterInfo> parameters)
    {
        ProcessorInfo info;
        info.parameters = std::move(parameters);
        return info;
    }

private slots:
    void whatItsKindIsTurnedByComesFirst()
    {
        ProcessorInfo info = of({parameter("Output", "dB"), parameter("Attack", "ms"), parameter("Ratio", ":1"),
                                 parameter("Threshold", "dB"), parameter("Bypass", "")});
        info.parameters.back().scale = Scale::Toggle;
        QCOMPARE(foremostParameters(info, "limiter", 1), (std::vector<std::size_t>{3}));
        QCOMPARE(foremostParameters(info, "compressor", 2), (std::vector<std::size_t>{3, 2}));
        QCOMPARE(foremostParameters(info, "pitch", 9), (std::vector<std::size_t>{0, 1, 2, 3}));
        info.parameters[3].hidden = true;
        QCOMPARE(foremostParameters(info, "gate", 2), (std::vector<std::size_t>{2, 1}));
        const ProcessorInfo equaliser =
            of({parameter("Frequency", "Hz"), parameter("Low shelf", "dB"), parameter("Q", "")});
        QCOMPARE(foremostParameters(equaliser, "equaliser", 2), (std::vector<std::size_t>{1, 0}));
    }

    /// A label of 2 s that lasts 1.6: for 2 s, which is a bar at 120, it is set to 2.5.
    void decaysAreFittedByWhatWasMeasured()
    {
        const ProcessorInfo room =
            of({parameter("Mix", "%"), parameter("Decay", "s", 10), parameter("Pre-delay", "ms", 200)});
        const std::vector<double> values{50, 2, 20};
        const auto decay = fitted(RoomTime::Decay, room, values, 1600, 120);
        QVERIFY(decay);
        QCOMPARE(decay->parameter, std::size_t{1});
        QCOMPARE(decay->target_ms, 1500.0); // 1/2. is nearer than a bar
        HR_NEAR(decay->value, 2 * 1500.0 / 1600, 1e-9);
        HR_NEAR(fitted(RoomTime::Decay, room, values, 1900, 120)->target_ms, 2000, 1e-9);
        // What there is before it even at 0 stays: measured 30 at a setting of 20, wanted 31.25.
        const auto predelay = fitted(RoomTime::PreDelay, room, values, 30, 120);
        QVERIFY(predelay);
        QCOMPARE(predelay->note, std::string("1/64"));
        HR_NEAR(predelay->value, 21.25, 1e-9);
        QVERIFY(!fitted(RoomTime::Decay, room, values, 1600, 0));
        QVERIFY(!fitted(RoomTime::Decay, room, values, 0, 120));
        QVERIFY(!fitted(RoomTime::Decay, of({parameter("Size", "%")}), {50}, 1600, 120));
        QVERIFY(!fitted(RoomTime::Decay, room, {50, 9.9, 20}, 1600, 33)); // 10 s is as far as it goes
    }
};

HR_TEST(tst_foremost)
#include "tst_foremost.moc"
