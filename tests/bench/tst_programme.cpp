// SPDX-License-Identifier: GPL-3.0-or-later
//
// What programme and silence tell: loudness shift, noise and cost.
#include "bench/cost.h"
#include "bench/loudness_shift.h"
#include "bench/noise.h"
#include "bench/programme.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "support/fixtures.h"

using namespace hr;
using bench::Reading;
using bench::Subject;

class tst_programme : public QObject {
    Q_OBJECT

    static Subject open(const hosting::Location& location,
                        const std::vector<processors::Setting>& settings = {})
    {
        const auto info = (*hosting::openInstance(location))->info();
        return std::move(*Subject::open(location, *processors::resolveSettings(info, {}, settings), {}));
    }
    static Subject reference(const std::string& name, const std::vector<processors::Setting>& settings = {})
    {
        return open({"reference:" + name, {}}, settings);
    }

private slots:
    void theProgrammeIsAsLoudAsItSays()
    {
        const auto sound = signal::onChannels(bench::programme(48000), 2, 48000);
        const auto loudness = signal::measureLoudness(sound);
        HR_NEAR(*loudness.integrated_lufs, bench::programme_lufs, 1);
        QVERIFY(*loudness.sample_peak_dbfs > -10 && *loudness.sample_peak_dbfs < -3);
        QCOMPARE(bench::programme(48000), bench::programme(48000));
    }

    void aGainShiftsLoudnessByItself()
    {
        Subject subject = reference("gain", {{"gain_db", -4.5}});
        const Reading reading = *bench::measureLoudnessShift(subject);
        HR_NEAR(*reading.number("shift_lu"), -4.5, 0.01);
        HR_NEAR(*reading.number("true_peak_change_db"), -4.5, 0.02);
        HR_NEAR(*reading.number("crest_change_db"), 0, 0.01);
        HR_NEAR(*reading.number("lra_change_lu"), 0, 0.05);
    }

    void aClipTakesCrest()
    {
        Subject subject = reference("hard-clip", {{"clip_dbfs", -18}});
        QVERIFY(*(*bench::measureLoudnessShift(subject)).number("crest_change_db") < -5);
    }

    void addedNoiseReadsItsLevel()
    {
        Subject subject = reference("added-noise", {{"noise_dbfs", -60}});
        const Reading reading = *bench::measureNoise(subject);
        HR_NEAR(*reading.number("idle_dbfs"), -60, 0.2);
        HR_NEAR(*reading.number("after_signal_dbfs"), -60, 0.3);
        // The A curve takes 2.72 dB from white noise to 24 kHz, by its integral.
        HR_NEAR(*reading.number("idle_a_weighted_dbfs"), -62.72, 0.2);
        QVERIFY(reading.figures.at("follows_signal") == false);
        QVERIFY(reading.figures.at("hum_hz").empty());
    }

    void silenceHasNoNoise()
    {
        Subject subject = reference("gain");
        const Reading reading = *bench::measureNoise(subject);
        for (const char* figure : {"idle_dbfs", "idle_a_weighted_dbfs", "after_signal_dbfs"}) {
            QVERIFY(reading.figures.at(figure).is_null());
            QVERIFY(reading.reasons.contains(figure));
        }
        Subject reverb = reference("noise-reverb", {{"rt60_s", 2}});
        QVERIFY(
            (*bench::measureNoise(reverb)).figures.at("after_signal_dbfs").is_null()); // its tail is not noise
    }

    void noiseThatComesWithTheSignalIsToldFromIdleNoise()
    {
        const auto worker = hosting::Worker::spawn();
        HR_VERIFY(worker);
        const auto specimens = (*worker)->describe(test::specimens_bundle);
        HR_VERIFY(specimens);
        int hums = 0;
        int followers = 0;
        for (const auto& info : specimens->processors) {
            if (info.documentation.find("hum") == std::string::npos &&
                info.documentation.find("breathes") == std::string::npos)
                continue;
            Subject subject = open({info.id, test::specimens_bundle});
            const auto reading = bench::measureNoise(subject);
            if (!reading)
                continue;
            const auto hum = reading->figures.at("hum_hz");
            hums += !hum.empty() && std::abs(hum[0].get<double>() - 50) < 0.5 ? 1 : 0;
            followers += reading->figures.at("follows_signal") == true ? 1 : 0;
        }
        QVERIFY2(hums > 0 && followers > 0, qPrintable(QStringLiteral("%1 %2").arg(hums).arg(followers)));
    }

    void costIsPlausibleAndLatencyExact()
    {
        Subject subject = reference("added-latency", {{"latency_samples", 300}, {"reported", 0}});
        const Reading reading = *bench::measureCost(subject);
        QVERIFY(*reading.number("realtime_factor") > 10);
        QCOMPARE(*reading.number("latency_found_samples"), 300.0);
        QCOMPARE(*reading.number("latency_reported_samples"), 0.0);
        QVERIFY(*reading.number("block_us_p50") <= *reading.number("block_us_p99"));
        QVERIFY(*reading.number("block_us_p99") <= *reading.number("block_us_max"));
        // A block of 1024 costs more than one of 64.
        QVERIFY(reading.figures.at("at_block_1024").at("block_us_p50").get<double>() >
                reading.figures.at("at_block_64").at("block_us_p50").get<double>());
        QVERIFY(reading.figures.at("memory_mib").is_null());
        Subject third_party = open(test::specimenAt("cordage-leveller"));
        QVERIFY(*(*bench::measureCost(third_party)).number("memory_mib") > 1);
    }
};

HR_TEST(tst_programme)
#include "tst_programme.moc"
