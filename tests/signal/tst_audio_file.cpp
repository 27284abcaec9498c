// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/audio_file.h"
#include "support/fixtures.h"

#include <QFile>
#include <fcntl.h>
#include <limits>
#include <sys/stat.h>
#include <unistd.h>

using namespace hr;
using signal::AudioBuffer;

class tst_audio_file : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    std::filesystem::path at(const char* name) const
    {
        return std::filesystem::path(m_folder.path().toStdString()) / name;
    }
    void put(const char* name, const QByteArray& bytes) const
    {
        QFile file(QString::fromStdString(at(name).string()));
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size());
    }

private slots:
    void floatsComeBackExactly()
    {
        const AudioBuffer audio = test::tone(997, -3, 0.1);
        HR_VERIFY(signal::writeAudioFile(at("tone.wav"), audio));
        const auto back = signal::readAudioFile(at("tone.wav"));
        HR_VERIFY(back);
        QCOMPARE(back->sampleRateHz(), 48000.0);
        QVERIFY(std::ranges::equal(back->samples(), audio.samples()));
        QCOMPARE(
            QDir(m_folder.path()).entryList(QDir::Files | QDir::Hidden).filter(QStringLiteral(".part")).size(),
            0);
    }

    void fixedPointRoundsToItsStep_data()
    {
        QTest::addColumn<int>("format");
        QTest::addColumn<double>("step");
        QTest::newRow("16 bit") << static_cast<int>(signal::SampleFormat::Pcm16) << 0x1p-15;
        QTest::newRow("24 bit") << static_cast<int>(signal::SampleFormat::Pcm24) << 0x1p-23;
    }
    void fixedPointRoundsToItsStep()
    {
        QFETCH(int, format);
        QFETCH(double, step);
        const AudioBuffer audio = test::tone(997, -3, 0.05);
        HR_VERIFY(signal::writeAudioFile(at("pcm.wav"), audio, static_cast<signal::SampleFormat>(format)));
        const auto back = signal::readAudioFile(at("pcm.wav"));
        HR_VERIFY(back);
        for (std::size_t i = 0; i < audio.samples().size(); ++i)
            HR_NEAR(back->samples()[i], audio.samples()[i], step);
    }

    void badFilesAreRefusedInOneSentence_data()
    {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("says");
        QTest::newRow("no audio") << QByteArray("root:x:0:0:root:/root:/bin/sh\n") << "cannot be read as audio";
        QTest::newRow("empty") << QByteArray() << "empty file";
        QTest::newRow("header only") << wavHeader(2, 48000, 0) << "holds no sound";
        QTest::newRow("0 Hz") << wavHeader(2, 0, 64) << "";
        QTest::newRow("1 MHz") << wavHeader(2, 1000000, 64) << "sample rate of 1000000";
        QTest::newRow("not a number") << wavHeader(1, 48000, 64, std::numeric_limits<float>::quiet_NaN())
                                      << "not finite";
        QTest::newRow("infinite") << wavHeader(1, 48000, 64, std::numeric_limits<float>::infinity())
                                  << "not finite";
    }
    void badFilesAreRefusedInOneSentence()
    {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, says);
        put("bad.wav", bytes);
        const auto read = signal::readAudioFile(at("bad.wav"));
        QVERIFY(!read);
        QCOMPARE(read.error().blame, Blame::Request);
        QVERIFY2(test::why(read).contains(says), qPrintable(test::why(read)));
        QVERIFY(test::why(read).contains(QStringLiteral("bad.wav")));
        QVERIFY(!test::why(read).contains(QLatin1Char('\n')));
    }

    void missingFilesAndFoldersAreNamed()
    {
        QVERIFY(test::why(signal::readAudioFile(at("nowhere.wav"))).contains(QStringLiteral("no file")));
        QVERIFY(
            test::why(signal::readAudioFile(m_folder.path().toStdString())).contains(QStringLiteral("folder")));
    }

    void aShortFileWithALongHeaderYieldsWhatIsThere()
    {
        // The header promises a gigabyte; memory must follow what is read.
        QByteArray bytes = wavHeader(1, 48000, 100);
        bytes.replace(40, 4, QByteArray::fromHex("00000040"));
        put("short.wav", bytes);
        const auto read = signal::readAudioFile(at("short.wav"));
        if (read)
            QCOMPARE(read->frames(), std::size_t{100});
    }

    void anUnwritablePlaceIsAMachineFailure()
    {
        const auto written = signal::writeAudioFile("/nonexistent/folder/a.wav", test::tone(100, -10, 0.01));
        QVERIFY(!written);
        QCOMPARE(written.error().blame, Blame::Machine);
    }

    void whatIsNoFileKeepsItsPlace()
    {
        const auto tone = test::tone(100, -10, 0.01);
        std::filesystem::create_symlink(at("target.wav"), at("link.wav"));
        HR_VERIFY(signal::writeAudioFile(at("target.wav"), test::tone(100, -10, 0.02)));
        HR_VERIFY(signal::writeAudioFile(at("link.wav"), tone));
        QVERIFY(std::filesystem::is_symlink(at("link.wav")));
        QCOMPARE(signal::readAudioFile(at("target.wav"))->frames(), tone.frames());

        QCOMPARE(mkfifo(at("pipe").c_str(), 0600), 0);
        const int reader = ::open(at("pipe").c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC);
        (void)signal::writeAudioFile(at("pipe"), tone); // a WAV file cannot go through every one
        QVERIFY(std::filesystem::is_fifo(at("pipe")));
        ::close(reader);
    }

private:
    /// 32-bit float WAV of `frames` frames, all of one value.
    static QByteArray wavHeader(quint16 channels, quint32 rate, quint32 frames, float value = 0.25F)
    {
        QByteArray bytes;
        QDataStream out(&bytes, QIODevice::WriteOnly);
        out.setByteOrder(QDataStream::LittleEndian);
        out.setFloatingPointPrecision(QDataStream::SinglePrecision);
        const quint32 size = frames * channels * 4;
        out.writeRawData("RIFF", 4);
        out << (36 + size);
        out.writeRawData("WAVEfmt ", 8);
        out << quint32(16) << quint16(3) << channels << rate << quint32(rate * channels * 4)
            << quint16(channels * 4) << quint16(32);
        out.writeRawData("data", 4);
        out << size;
        for (quint32 i = 0; i < frames * channels; ++i)
            out << value;
        return bytes;
    }
};

HR_TEST(tst_audio_file)
#include "tst_audio_file.moc"
