// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/wetness.h"
#include "support/fixtures.h"

using namespace hr;
using processors::ParameterInfo;

class tst_wetness : public QObject {
    Q_OBJECT

private slots:
    void whatMixesIsToldByItsName_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<double>("wet"); // of a range of -60 to 10; 3 is as it was
        QTest::newRow("a mix") << "Mix"
                               << "%" << 10.0;
        QTest::newRow("dry to wet") << "Dry/Wet"
                                    << "" << 10.0;
        QTest::newRow("wet to dry, so called") << "Wet/Dry Mix"
                                               << "%" << 10.0;
        QTest::newRow("the dry level") << "Dry level"
                                       << "dB" << -60.0;
        QTest::newRow("the wet level has no end in dB") << "Wet level"
                                                        << "dB" << 3.0;
        QTest::newRow("neither") << "Drywall"
                                 << "" << 3.0;
        QTest::newRow("the mixing of something else") << "Noise mix"
                                                      << "%" << 3.0;
    }
    void whatMixesIsToldByItsName()
    {
        QFETCH(QString, name);
        QFETCH(QString, unit);
        QFETCH(double, wet);
        ParameterInfo one;
        one.name = name.toStdString();
        one.unit = unit.toStdString();
        one.minimum = -60;
        one.maximum = 10;
        processors::ProcessorInfo info;
        info.parameters = {one};
        QCOMPARE(processors::fullyWet(info, {3}), std::vector<double>{wet});
        QCOMPARE(processors::mixesDryAndWet(info), wet != 3);
    }

    void aChainIsWetWhereItsStagesAre()
    {
        ParameterInfo blend;
        blend.key = processors::text({"s1", true, "blend_percent"});
        blend.name = "Blend";
        blend.maximum = 100;
        ParameterInfo own = blend; // of the plug-in, which calls it the same
        own.key = processors::text({"s1", false, "blend_percent"});
        own.name = "Blend percent";
        processors::ProcessorInfo info;
        info.parameters = {blend, own};
        QCOMPARE(processors::fullyWet(info, {30, 30}), (std::vector<double>{100, 30}));
    }
};

HR_TEST(tst_wetness)
#include "tst_wetness.moc"
