// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/delivery.h"
#include "signal/dither.h"
#include "signal/levels.h"
#include "support/fixtures.h"

using namespace hr;
using namespace hr::audition;
using nlohmann::ordered_json;

class tst_delivery : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path at(const char* name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }

private slots:
    void limitsTellHowFar_data()
    {
        QTest::addColumn<double>("value");
        QTest::addColumn<bool>("pass");
        QTest::addColumn<double>("change_db");
        QTest::newRow("too quiet") << -30.0 << false << 6.5;
        QTest::newRow("at the limit") << -22.5 << true << 0.0;
        QTest::newRow("too loud") << -20.0 << false << -2.5;
    }
    void limitsTellHowFar()
    {
        QFETCH(const double, value);
        DeliveredFile file;
        file.loudness.integrated_lufs = value;
        const auto target = targetFrom({{"name", "x"},
                                        {"integrated_lufs", {{"at_least", -23.5}, {"at_most", -22.5}}},
                                        {"bits", {{"at_least", 16}}},
                                        {"range_lu", {{"at_most", 5}}}});
        HR_VERIFY(target);
        const auto checks = checksOf(*target, file);
        QTEST(checks[0].pass, "pass");
        QTEST(*checks[0].change_db, "change_db");
        QVERIFY(!checks[1].pass && !checks[1].change_db); // no gain gives bits
        QVERIFY(!checks[2].pass && !checks[2].value && !checks[2].change_db);
    }

    void targetsAreReadStrictly()
    {
        for (const char* bad :
             {"[]", R"({"name": "x"})", R"({"bits": {"at_least": 16}})",
              R"({"name": 3, "bits": {"at_least": 1}})", R"({"name": "x", "loudness": {"at_least": 1}})",
              R"({"name": "x", "bits": {"at_least": "16"}})", R"({"name": "x", "bits": {}})",
              R"({"name": "x", "bits": {"around": 16}})",
              R"({"name": "x", "bits": {"at_least": 24, "at_most": 16}})"})
            QVERIFY2(!targetFrom(ordered_json::parse(bad)), bad);
        for (const DeliveryTarget& target : shippedTargets()) {
            const auto again = targetFrom(toJson(target));
            HR_VERIFY(again);
            QCOMPARE(toJson(*again).dump(), toJson(target).dump());
        }
    }

    /// What is rounded off is triangular noise: 4.77 dB above a step's own, whatever the sound; the same each
    /// time.
    void ditherIsTriangularAndRepeats()
    {
        signal::Dither one(16, 5);
        signal::Dither again(16, 5);
        double square = 0;
        constexpr int count = 200000;
        for (int i = 0; i < count; ++i) {
            const double sample = 0.1 * std::sin(0.01 * i);
            const std::int32_t whole = one.next(sample);
            QCOMPARE(again.next(sample), whole);
            QCOMPARE(whole % 65536, 0);
            const double off = whole * 0x1p-31 - sample;
            square += off * off / count;
        }
        const double step = 0x1p-15;
        HR_NEAR(square / (step * step), 0.25, 0.005); // 1/12 and twice 1/12
        QCOMPARE(one.next(2), std::int32_t{0x7fff0000});
        QCOMPARE(one.clipped(), std::size_t{1});
    }

    void whatIsWrittenIsWhatWasAskedFor_data()
    {
        QTest::addColumn<int>("kind");
        QTest::addColumn<int>("samples");
        QTest::addColumn<double>("rate_hz");
        QTest::addColumn<int>("bits");
        QTest::newRow("flac, 16") << int(signal::FileKind::Flac) << int(signal::SampleFormat::Pcm16) << 44100.0
                                  << 16;
        QTest::newRow("flac, 24") << int(signal::FileKind::Flac) << int(signal::SampleFormat::Pcm24) << 48000.0
                                  << 24;
        QTest::newRow("wav, float") << int(signal::FileKind::Wav) << int(signal::SampleFormat::Float32)
                                    << 96000.0 << 32;
    }
    void whatIsWrittenIsWhatWasAskedFor()
    {
        QFETCH(const int, kind);
        QFETCH(const int, samples);
        QFETCH(const double, rate_hz);
        HR_VERIFY(signal::writeAudioFile(at("in.wav"), test::tone(1000, -20, 2)));
        const auto done = deliver(at("in.wav"), {}, at("out"),
                                  {signal::FileKind(kind), signal::SampleFormat(samples), rate_hz});
        HR_VERIFY(done);
        QCOMPARE(done->file.sample_rate_hz, rate_hz);
        QTEST(int(*done->file.bits), "bits");
        HR_NEAR(done->file.seconds, 2, 1e-3);
        HR_NEAR(*done->file.loudness.integrated_lufs, -20, 0.1);
        HR_NEAR(*done->file.loudness.sample_peak_dbfs, -20, 0.02);
    }

    void wholeNumbersAreKept()
    {
        HR_VERIFY(
            signal::writeAudioFile(at("whole.wav"), test::tone(997, -3, 0.5), signal::SampleFormat::Pcm16));
        const auto done =
            deliver(at("whole.wav"), {}, at("kept"), {signal::FileKind::Flac, signal::SampleFormat::Pcm24, {}});
        HR_VERIFY(done);
        const auto before = signal::readAudioFile(at("whole.wav"));
        const auto after = signal::readAudioFile(at("kept"));
        HR_VERIFY(before);
        HR_VERIFY(after);
        QVERIFY(std::ranges::equal(before->channel(1), after->channel(1)));
    }

    void aChainIsPlayedThrough()
    {
        HR_VERIFY(signal::writeAudioFile(at("in.wav"), test::tone(1000, -20, 2)));
        auto gain = hosting::openInstance({"reference:gain", {}}, {.channels = hosting::Channels::Stereo});
        HR_VERIFY(gain);
        const DeliveryChain chain{gain->get(), {6}, {}};
        const auto tried = tryDelivery(at("in.wav"), chain);
        HR_VERIFY(tried);
        HR_NEAR(*tried->file.loudness.integrated_lufs, -14, 0.1);
        const auto done = deliver(at("in.wav"), chain, at("louder"), {});
        HR_VERIFY(done);
        HR_NEAR(*done->file.loudness.integrated_lufs, -14, 0.1);
    }

    void aFullDiskLeavesNothing()
    {
        HR_VERIFY(signal::writeAudioFile(at("in.wav"), test::tone(1000, -20, 2)));
        const auto full = deliver(at("in.wav"), {}, "/dev/full", {});
        QVERIFY(!full && full.error().blame == Blame::Machine);
        QVERIFY(!deliver(at("in.wav"), {}, at("nowhere/out"), {}));
        const auto onto_itself = deliver(at("in.wav"), {}, at("in.wav"), {});
        QVERIFY(!onto_itself && onto_itself.error().blame == Blame::Request);
        QVERIFY(signal::readAudioFile(at("in.wav")));
    }
};

HR_TEST(tst_delivery)
#include "tst_delivery.moc"
