// SPDX-License-Identifier: GPL-3.0-or-later
//
// What test `transfer` calls what bends the waveform a little, what rides the level as fast as a cycle, and
// what does not follow the level: plugins/shapes.cpp.
#include "known_answers.h"

using namespace hr;

class tst_shapes : public QObject {
    Q_OBJECT

private slots:
    void kinds_data()
    {
        QTest::addColumn<QString>("kind"); // or the beginning of the reason why there is none
        for (const auto& [name, kind] : {std::pair("slightly", "saturating"),
                                         {"hardly", "saturating"},
                                         {"lopsided", "saturating"},
                                         {"lopsided-no-mean", "saturating"},
                                         {"lopsided-late", "saturating"},
                                         {"slightly-dull", "saturating"},
                                         {"slightly-ringing", "saturating"},
                                         {"at-once", "compressor"},
                                         {"at-once-quick", "compressor"},
                                         {"horn", "free-running: "},
                                         {"trigger", "free-running: "},
                                         {"murmur", "nothing-comes-out: "}})
            QTest::newRow(name) << QString::fromLatin1(kind);
    }
    void kinds()
    {
        QFETCH(const QString, kind);
        const auto reading =
            test::measured(test::shapes_bundle, QLatin1String(QTest::currentDataTag()), "transfer");
        const auto& found = reading.figures.at("kind");
        const std::string word = found.is_string() ? found.get<std::string>() : reading.reasons.at("kind");
        QVERIFY2(QString::fromStdString(word).startsWith(kind), word.c_str());
    }

    void whatIsMultipliedIsNotSurelyBent()
    {
        QVERIFY(!test::measured(test::shapes_bundle, QStringLiteral("turned"), "transfer")
                     .whyUnsure("kind")
                     .empty());
        QVERIFY(test::measured(test::shapes_bundle, QStringLiteral("slightly"), "transfer")
                    .whyUnsure("kind")
                    .empty());
    }

    /// Gaps of its own move the level of some steps and not of others: no ratio.
    void gapsAreNoDynamics()
    {
        bench::LevelCurve curve;
        for (int level = -60; level <= 0; ++level)
            curve.emplace_back(level, level - (level % 7 == 0 || level % 11 == 3 ? 0.15 : 0));
        QCOMPARE(QString::fromStdString(bench::readLevelCurve(curve).kind), QStringLiteral("linear"));
        for (auto& [in, out] : curve)
            out = in - std::max(0.0, in + 20) * 0.02; // 1.02:1, as quietly
        QCOMPARE(QString::fromStdString(bench::readLevelCurve(curve).kind), QStringLiteral("compressor"));
    }
};

HR_TEST(tst_shapes)
#include "tst_shapes.moc"
