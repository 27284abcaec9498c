// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/kinds.h"
#include "processors/reference/registry.h"
#include "support/fixtures.h"

#include <algorithm>

using namespace hr::processors;

class tst_kinds : public QObject {
    Q_OBJECT

private slots:
    void namesTell_data()
    {
        QTest::addColumn<QString>("kind");
        QTest::addColumn<QString>("name");
        QTest::addColumn<QString>("refined");
        const auto row = [](const char* kind, const char* name, const char* refined) {
            QTest::newRow(name) << kind << name << refined;
        };
        row("", "Tarn Reverb", "reverb");
        row("effect", "Quay multiband compressor", "multiband");
        row("dynamics", "Reed De-Esser", "de-esser");
        row("modulation", "Chorus/Flanger", "chorus");
        row("compressor", "Echo of Harbour", "compressor"); // what is placed stays there
        row("dynamics", "Harbour EQ", "dynamics");
        row("effect", "Investigate", "effect"); // "gate" begins no word
        row("", "", "effect");
    }
    void namesTell()
    {
        QFETCH(QString, kind);
        QFETCH(QString, name);
        QFETCH(QString, refined);
        QCOMPARE(QString::fromStdString(refinedKind(kind.toStdString(), name.toStdString())), refined);
    }

    void theTreeHasTwoLevels()
    {
        for (const std::string& kind : allKinds())
            if (const auto above = kindAbove(kind); !above.empty())
                QVERIFY2(kindAbove(above).empty() && std::ranges::count(allKinds(), above) == 1, kind.c_str());
        for (const ProcessorInfo& info : referenceInfos())
            QVERIFY2(std::ranges::count(allKinds(), info.kind) == 1, info.kind.c_str());
    }
};

HR_TEST(tst_kinds)
#include "tst_kinds.moc"
