// SPDX-License-Identifier: GPL-3.0-or-later
#include "audition/render.h"
#include "chain/chain.h"
#include "processors/settings.h"
#include "signal/generators.h"
#include "signal/levels.h"
#include "signal/loudness.h"
#include "support/fixtures.h"

using namespace hr;
using audition::Rendered;
using audition::RenderOrder;

class tst_render : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path at(const char* name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }

    static hosting::Location lateLatency()
    {
        return {"lv2:urn:honest-rack:tests:late-latency", test::odd_bundle};
    }

    /// Through one processor into "out.wav".
    Result<Rendered> rendered(const hosting::Location& location, std::vector<double> values, RenderOrder order,
                              bool mono = false) const
    {
        order.in = order.in.empty() ? at("in.wav") : order.in;
        order.out = at("out.wav");
        auto instance = hosting::openInstance(location, {.channels = hosting::Channels::Stereo});
        if (!instance)
            return wrongRequest(hosting::sentence(instance.error()));
        return audition::render(**instance, values, mono, order);
    }
    void write(const signal::AudioBuffer& audio) const
    {
        HR_VERIFY(signal::writeAudioFile(at("in.wav"), audio));
    }
    static signal::AudioBuffer noise(std::size_t channels = 2, double level = 0.05, std::size_t frames = 100000)
    {
        return signal::onChannels(signal::gaussianNoise(level, frames, 3), channels, 48000);
    }

private slots:
    void aLatencyThatIsToldOnlyAtWorkIsTakenOutInFull_data()
    {
        QTest::addColumn<int>("latency");
        QTest::addColumn<bool>("match");
        for (const int latency : {0, 300, 8192, 30000, 99999}) {
            QTest::addRow("%d samples", latency) << latency << false;
            QTest::addRow("%d samples, matched", latency) << latency << true;
        }
    }
    void aLatencyThatIsToldOnlyAtWorkIsTakenOutInFull()
    {
        QFETCH(const int, latency);
        QFETCH(const bool, match);
        const auto in = noise();
        write(in);
        const auto done = rendered(lateLatency(), {static_cast<double>(latency), 0}, {.match = match});
        HR_VERIFY(done);
        const auto out = signal::readAudioFile(at("out.wav"));
        HR_VERIFY(out);
        QCOMPARE(out->frames(), in.frames());
        for (std::size_t i = 0; i < in.frames(); ++i)
            HR_NEAR(out->channel(1)[i], in.channel(1)[i], 1e-6);
    }

    void aBlendInAChainWaitsForIt()
    {
        const auto in = noise();
        write(in);
        chain::Chain chain;
        chain::addStage(chain, lateLatency().id).settings = {{"samples", 60000}};
        chain.nodes.front().blend_percent = 50;
        const auto place =
            chain::place(chain, [](const std::string&) -> Result<hosting::Location> { return lateLatency(); });
        const auto info = (*hosting::openInstance(place.location))->info();
        HR_VERIFY(rendered(place.location, *chain::values(chain, info), {}));
        const auto out = signal::readAudioFile(at("out.wav"));
        for (std::size_t i = 0; i < in.frames(); ++i) // dry and wet are the same sound at the same place
            HR_NEAR(out->channel(0)[i], in.channel(0)[i], 1e-6);
    }

    void theTailIsWhatComesBehindTheEnd()
    {
        write(noise(2, 0.05, 1000));
        HR_VERIFY(rendered(lateLatency(), {500, 0}, {.tail_s = 0.25}));
        const auto out = signal::readAudioFile(at("out.wav"));
        QCOMPARE(out->frames(), std::size_t{13000});
        for (std::size_t i = 1000; i < 13000; ++i)
            QCOMPARE(out->channel(0)[i], 0.0F);
    }

    void figuresAreThoseOfTheFiles_data()
    {
        QTest::addColumn<std::size_t>("channels");
        QTest::addColumn<bool>("mono");
        QTest::addColumn<bool>("match");
        for (const bool match : {false, true}) {
            QTest::addRow("stereo%s", match ? ", matched" : "") << std::size_t{2} << false << match;
            QTest::addRow("mono%s", match ? ", matched" : "") << std::size_t{1} << true << match;
            QTest::addRow("mono made stereo%s", match ? ", matched" : "") << std::size_t{1} << false << match;
        }
    }
    void figuresAreThoseOfTheFiles()
    {
        QFETCH(const std::size_t, channels);
        QFETCH(const bool, mono);
        QFETCH(const bool, match);
        write(noise(channels));
        const auto done = rendered({"reference:gain", {}}, {4.5}, {.match = match}, mono);
        HR_VERIFY(done);
        const auto in = signal::measureFileLoudness(at("in.wav"));
        const auto out = signal::measureFileLoudness(at("out.wav"));
        QCOMPARE(out->channels, mono ? std::size_t{1} : std::size_t{2});
        HR_NEAR(*done->loudness_in_lufs, *in->loudness.integrated_lufs, 0.001);
        HR_NEAR(*done->loudness_out_lufs, *out->loudness.integrated_lufs, 0.001);
        HR_NEAR(*done->true_peak_dbtp, *out->loudness.true_peak_dbtp, 0.001);
        if (match)
            HR_NEAR(*done->loudness_out_lufs, *done->loudness_in_lufs, 0.001);
        else
            QCOMPARE(done->gain_db, 0.0);
    }

    void whatSixteenBitsCannotHoldIsCounted_data()
    {
        QTest::addColumn<int>("format");
        QTest::addRow("16") << static_cast<int>(signal::SampleFormat::Pcm16);
        QTest::addRow("24") << static_cast<int>(signal::SampleFormat::Pcm24);
        QTest::addRow("32") << static_cast<int>(signal::SampleFormat::Float32);
    }
    void whatSixteenBitsCannotHoldIsCounted()
    {
        QFETCH(const int, format);
        signal::AudioBuffer in = noise(2, 0.001);
        for (const std::size_t i : {100U, 2000U, 50000U})
            in.channel(1)[i] = i == 2000 ? -0.9F : 0.9F;
        write(in);
        const auto done =
            rendered({"reference:gain", {}}, {6}, {.format = static_cast<signal::SampleFormat>(format)});
        HR_VERIFY(done);
        const bool whole = format == static_cast<int>(signal::SampleFormat::Float32);
        QCOMPARE(done->clipped_samples, whole ? std::size_t{0} : std::size_t{3});
        const auto out = signal::readAudioFile(at("out.wav"));
        HR_NEAR(out->channel(1)[2000], whole ? -1.796 : -1.0, 0.001);
    }

    void whatFailsLeavesWhatWasThere()
    {
        write(noise());
        {
            QFile earlier(m_folder.filePath(QStringLiteral("out.wav")));
            QVERIFY(earlier.open(QIODevice::WriteOnly) && earlier.write("earlier") == 7);
        }
        for (const bool match : {false, true}) {
            const auto done = rendered(test::faultyAt("not-finite"), {0}, {.match = match});
            HR_VERIFY(done);
            QVERIFY(done->fault);
            QFile earlier(m_folder.filePath(QStringLiteral("out.wav")));
            QVERIFY(earlier.open(QIODevice::ReadOnly));
            QCOMPARE(earlier.readAll(), QByteArray("earlier"));
            QCOMPARE(QDir(m_folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 2);
        }
    }

    void anOutputInAFolderThatIsNotThereIsRefused()
    {
        write(noise());
        auto instance = hosting::openInstance({"reference:gain", {}}, {.channels = hosting::Channels::Stereo});
        for (const bool match : {false, true}) {
            const auto done =
                audition::render(**instance, std::vector<double>{0}, false,
                                 {.in = at("in.wav"), .out = at("nowhere/out.wav"), .match = match});
            QVERIFY(!done);
            QCOMPARE(done.error().blame, Blame::Machine);
            QVERIFY(QString::fromStdString(done.error().text).contains(QStringLiteral("nowhere")));
        }
    }
};

HR_TEST(tst_render)
#include "tst_render.moc"
