// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/reference/registry.h"
#include "processors/settings.h"
#include "support/fixtures.h"

using namespace hr;
using library::Pictures;

class tst_pictures : public QObject {
    Q_OBJECT

    static Pictures measured(library::Store& store, const char* id, const std::vector<std::string>& tests,
                             std::vector<double> values)
    {
        auto info = store.catalogue.info(QString::fromLatin1(id));
        info->parameters[0].default_value = values[0]; // the list shows processors at their defaults
        const auto measurement = bench::measure({id, {}}, *info, values, *bench::testsNamed(tests), {});
        (void)store.runs.store(library::setUpOf(store.catalogue, {id, {}}, *info, values), measurement);
        return *store.runs.picturesOf(QString::fromLatin1(id));
    }
    static int at(const QByteArray& heights, qsizetype i) { return static_cast<unsigned char>(heights[i]); }

private slots:
    void aGainIsALevelLineAndAShiftedDiagonal()
    {
        test::TemporaryStore kept;
        const auto first = measured(*kept.store, "reference:gain", {"response"}, {-6});
        QCOMPARE(first.response.size(), Pictures::response_columns);
        for (qsizetype i = 0; i < first.response.size(); ++i)
            QCOMPARE(at(first.response, i), 127); // level, whatever the gain
        QVERIFY(first.in_out.isEmpty() && first.harmonics.isEmpty());
        const auto both = measured(*kept.store, "reference:gain", {"transfer"}, {-6});
        QCOMPARE(both.response, first.response); // what was not measured this time stays
        HR_NEAR(at(both.in_out, Pictures::in_out_columns - 1), 254.0 * 54 / 60, 1);
        QCOMPARE(kept.store->runs.pictures()->value(QStringLiteral("reference:gain")), both);
    }

    void otherSettingsLeaveTheListAlone()
    {
        test::TemporaryStore kept;
        const auto info = kept.store->catalogue.info(QStringLiteral("reference:gain"));
        const auto changed =
            bench::measure({"reference:gain", {}}, *info, {-6}, *bench::testsNamed({"response"}), {});
        HR_VERIFY(kept.store->runs.store(
            library::setUpOf(kept.store->catalogue, {"reference:gain", {}}, *info, changed.values), changed));
        QVERIFY(*kept.store->runs.picturesOf(QStringLiteral("reference:gain")) == Pictures());
        QVERIFY(kept.store->runs.fingerprints()->ids.isEmpty());
        QCOMPARE(kept.store->runs.latest(QStringLiteral("reference:gain"))->size(), std::size_t{1});
    }

    void aClipHasOddHarmonics()
    {
        test::TemporaryStore kept;
        const auto pictures = measured(*kept.store, "reference:hard-clip", {"harmonics"}, {-18});
        QCOMPARE(pictures.harmonics.size(), Pictures::harmonic_bars);
        QVERIFY(at(pictures.harmonics, 1) > 150);                           // the third
        QVERIFY(at(pictures.harmonics, 0) < at(pictures.harmonics, 1) / 2); // the second
    }

    /// A decay of 60 dB in its width, falling; and what is shown of which kind.
    void aDecayFallsFromLeftToRight()
    {
        const auto info = processors::makeReference("reference:noise-reverb")->info();
        const auto measured =
            bench::measure({"reference:noise-reverb", {}}, info, processors::defaultValues(info),
                           *bench::testsNamed({"decay"}), {});
        QVERIFY(!measured.readings.empty());
        const QByteArray heights =
            library::heightsOf(library::PictureOf::Decay, measured.readings.front().second);
        QVERIFY(heights.size() > 10);
        QVERIFY(at(heights, 0) > 240 && at(heights, static_cast<int>(heights.size()) - 1) < 20);
        QVERIFY(at(heights, 10) > at(heights, 20));
        QVERIFY(library::heightsOf(library::PictureOf::Response, measured.readings.front().second).isEmpty());
        using enum library::PictureOf;
        const std::pair<const char*, library::PictureOf> kinds[] = {{"limiter", InOut},
                                                                    {"distortion", InOut},
                                                                    {"reverb", Decay},
                                                                    {"equaliser", Response},
                                                                    {"stereo", Response}};
        for (const auto& [kind, what] : kinds)
            QVERIFY2(library::pictureOf(kind) == what && bench::testsNamed({library::testOf(what)}), kind);
    }
};

HR_TEST(tst_pictures)
#include "tst_pictures.moc"
