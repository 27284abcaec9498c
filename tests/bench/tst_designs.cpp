// SPDX-License-Identifier: GPL-3.0-or-later
//
// Designs that the references do not have: what plugins/designs.cpp says of each, in every figure that it
// has, within half of what is allowed.
#include "known_answers.h"

using namespace hr;

namespace {

bench::Reading measured(const char* name, const char* test)
{
    return test::measured(test::designs_bundle, QString::fromLatin1(name), test);
}

bool flagged(const bench::Reading& reading, const char* flag)
{
    return std::ranges::any_of(reading.flags, [&](const auto& one) { return one.code == flag; });
}

} // namespace

class tst_designs : public QObject {
    Q_OBJECT

private slots:
    void figures_data()
    {
        test::knownColumns();
        const auto& row = test::known;
        row("mean-square", "transfer", {{"threshold_db", -26.9897}, {"ratio", 4}, {"makeup_db", 0}});
        row("two-stages", "transfer", {{"threshold_db", -24}, {"ratio", 3}, {"makeup_db", 8}});
        row("two-stages", "timing", {{"attack_ms", 5}, {"release_ms", 156.7}, {"release_90_ms", 1386}});
        row("feedback", "transfer", {{"threshold_db", -30}, {"ratio", 4}, {"makeup_db", 0}});
        row("feedback", "timing", {{"attack_ms", 10}, {"release_ms", 150}});
        row("chattering", "transfer", {{"threshold_db", -40}, {"makeup_db", 0}, {"range_db", 90}});
        row("chattering", "timing", {{"attack_ms", 1}, {"release_ms", 100}});
        // At 6.5 kHz, where 0.62 of the sound is ridden.
        row("one-band", "timing",
            {{"attack_ms", 1.854}, {"attack_90_ms", 4.875}, {"release_ms", 89.21}, {"release_90_ms", 171.7}});
        row("one-band", "detector", {{"detector_corner_low_hz", 6000}});
        row("one-band", "transfer", {{"at_1000_hz.makeup_db", 0}});
        row("squared", "harmonics", {{"harmonics_db.0", -38.0206}, {"dc_offset", 0.0131548}});
        row("uneven", "transfer", {{"clip_level_dbfs", -6.0206}, {"symmetry_db", -4.0824}});
        row("dead-zone", "transfer", {{"clip_level_dbfs", -4.437}, {"symmetry_db", 0}});
        row("low-cut", "response", {{"corner_low_hz", 20}, {"passband_db", 0}});
        row("top", "response", {{"corner_high_hz", 19000}, {"passband_db", 0}});
        // Its skirts lift the passband by 0.017 dB, and the rate narrows it.
        row("ringing", "response",
            {{"peaks.0.frequency_hz", 2500}, {"peaks.0.gain_db", 29.98}, {"peaks.0.q", 12.23}});
        row("narrow", "response", {{"peaks.0.frequency_hz", 40}, {"peaks.0.gain_db", 9}, {"peaks.0.q", 500}});
        row("phase-only", "response", {{"passband_db", 0}, {"gain_1k_db", 0}, {"polarity", 1}});
        row("late-unsaid", "cost", {{"latency_found_samples", 36000}, {"latency_reported_samples", 0}});
        row("short-echo", "echoes", {{"echoes.0.time_ms", 1}, {"repeat_ms", 1}, {"feedback_db", -4}});
        row("dull-echo", "echoes",
            {{"echoes.0.time_ms", 3}, {"echoes.3.time_ms", 12}, {"repeat_ms", 3}, {"feedback_db", -4}});
        row("long-echo", "echoes", {{"echoes.0.time_ms", 4000}, {"repeat_ms", 4000}, {"feedback_db", -9}});
        row("long-room", "decay", {{"rt60_s", 12}, {"predelay_ms", 61.0208}});
        row("rotor", "movement",
            {{"amplitude_rate_hz", 4},
             {"amplitude_depth_db", 6},
             {"pitch_rate_hz", 1.5},
             {"pitch_depth_cents", 15},
             {"stereo_phase_deg", 180}});
        row("chorus", "movement", {{"amplitude_rate_hz", 0.8}, {"stereo_phase_deg", 90}});
        row("slow-notches", "movement", {{"amplitude_rate_hz", 1 / 33.0}, {"notch_count", 2}});
        row("wide-notches", "movement", {{"amplitude_rate_hz", 0.5}, {"notch_count", 12}});
        row("even-notches", "movement", {{"amplitude_rate_hz", 1}, {"notch_count", 2}});
        row("sleeper", "response", {{"passband_db", 3}, {"gain_1k_db", 3}});
        row("heavy-sleeper", "response", {{"passband_db", 3}, {"gain_1k_db", 3}, {"polarity", 1}});
        row("heavy-sleeper", "cost", {{"latency_found_samples", 0}});
        row("sleeper", "transfer", {{"makeup_db", 3}});
        row("mains", "noise", {{"idle_dbfs", -69.5861}, {"hum_hz.0", 50}, {"hum_hz.1", 150}});
        row("leaky", "stereo", {{"balance_db", 1.7276}, {"crosstalk_db", -30}});
        row("crushed", "resolution", {{"effective_bits", 10}, {"held_samples", 3}});
    }
    void figures() { test::verifyKnown(test::designs_bundle); }

    void kinds_data()
    {
        QTest::addColumn<QString>("kind");
        for (const auto& [name, kind] : {std::pair("mean-square", "compressor"),
                                         {"two-stages", "compressor"},
                                         {"feedback", "compressor"},
                                         {"chattering", "gate"},
                                         {"one-band", "compressor"},
                                         {"squared", "saturating"},
                                         {"uneven", "saturating"},
                                         {"phase-only", "linear"},
                                         {"sleeper", "linear"},
                                         {"crushed", "saturating"}})
            QTest::newRow(name) << QString::fromLatin1(kind);
    }
    void kinds()
    {
        QFETCH(const QString, kind);
        const auto reading = measured(QTest::currentDataTag(), "transfer");
        QVERIFY2(reading.figures.at("kind").is_string(), reading.figures.dump().c_str());
        QCOMPARE(QString::fromStdString(reading.figures.at("kind").get<std::string>()), kind);
    }

    /// Whatever comes late, and however late, is no distortion, and folds nowhere.
    void whatIsLinearDistortsNothing_data()
    {
        QTest::addColumn<QString>("name");
        for (const char* name : {"late-unsaid", "short-echo", "long-echo", "long-room", "low-cut", "ringing"})
            QTest::newRow(name) << QString::fromLatin1(name);
    }
    void whatIsLinearDistortsNothing()
    {
        QFETCH(const QString, name);
        const auto readBy = [&](const char* which) {
            return test::measured(test::designs_bundle, name, which);
        };
        const auto harmonics = readBy("harmonics");
        QVERIFY(*harmonics.number("thd_db") < -140);
        QVERIFY2(*harmonics.number("thdn_db") < -70, harmonics.figures.dump().c_str());
        QVERIFY(std::abs(*harmonics.number("crest_change_db")) < 0.01);
        QVERIFY(readBy("aliasing").figures.at("worst_alias_db").is_null());
        QVERIFY(*readBy("intermodulation").number("smpte_percent") < 1e-4);
    }

    /// What holds each third sample folds all over the band: its response is the hold's own slope.
    void whatFoldsOrBendsIsNoRipple()
    {
        const auto crushed = measured("crushed", "response");
        HR_NEAR(*crushed.number("gain_1k_db"), 20 * std::log10(std::sin(M_PI / 16) / (3 * std::sin(M_PI / 48))),
                0.02);
        HR_NEAR(*crushed.number("corner_high_hz"), 7453,
                0.005 * 7453); // close to where what it adds folds back
        const auto half = test::measured(test::awkward_bundle, QStringLiteral("half-wave"), "response");
        HR_NEAR(*half.number("gain_1k_db"), -6.0206, 0.01);
        for (const auto* one : {&crushed, &half})
            QVERIFY(one->figures.at("peaks").empty() && one->figures.at("notches").empty());
    }

    void whatAFigureCannotSayIsNotSaid()
    {
        const auto both = measured("both-ways", "transfer");
        QVERIFY2(both.figures.at("threshold_db").is_null() || flagged(both, "poor-fit"),
                 both.figures.dump().c_str());
        QVERIFY(flagged(measured("one-band", "transfer"), "poor-fit"));
        const auto hum = measured("mains", "response");
        QVERIFY2(hum.figures.at("peaks").empty() && hum.figures.at("notches").empty(),
                 hum.figures.dump().c_str());
        for (const char* noisy : {"mains", "squared"})
            QVERIFY2(measured(noisy, "stereo").figures.at("crosstalk_db").is_null(), noisy);
        QVERIFY(measured("multiplied", "harmonics").figures.at("thd_db").is_null());
        QVERIFY(flagged(measured("multiplied", "movement"), "fast-movement"));
        for (const char* no_room : {"squared", "mains"})
            QVERIFY2(measured(no_room, "decay").figures.at("rt60_s").is_null(), no_room);
        QVERIFY(measured("long-echo", "movement").figures.at("amplitude_depth_db").is_null());
        const auto phase = measured("phase-only", "response");
        QVERIFY(phase.figures.at("corner_low_hz").is_null() && phase.figures.at("corner_high_hz").is_null());
        QVERIFY(phase.figures.at("peaks").empty() && phase.figures.at("notches").empty());
        QVERIFY(measured("low-cut", "response").figures.at("slope_low_db_per_octave").is_null());
        QVERIFY(measured("heavy-sleeper", "response").figures.at("corner_low_hz").is_null()); // it slept
        QVERIFY(flagged(measured("late-unsaid", "cost"), "latency-misreported"));
        QVERIFY(measured("long-echo", "transfer").figures.at("kind").is_null()); // later than a step can wait
        QVERIFY(measured("ringing", "decay").figures.at("rt60_s").is_null());
    }
};

HR_TEST(tst_designs)
#include "tst_designs.moc"
