// SPDX-License-Identifier: GPL-3.0-or-later
//
// Three hours of sound in the application: opened at once, streamed, in little memory.
#include "app/workbench.h"

#include <QSignalSpy>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_long_source : public QObject {
    Q_OBJECT

    static double residentMiB()
    {
        QFile status(QStringLiteral("/proc/self/status"));
        if (!status.open(QIODevice::ReadOnly))
            return 0;
        const QByteArray all = status.readAll();
        const qsizetype at = all.indexOf("VmRSS:") + 6;
        return all.mid(at, all.indexOf("kB", at) - at).trimmed().toDouble() / 1024;
    }

    /// A header and a hole in the disk: 16 bit stereo, with a tone from two hours on for ten seconds.
    static void writeThreeHours(const QString& path)
    {
        constexpr quint32 rate = 48000;
        constexpr quint32 bytes = 3 * 3600 * rate * 4;
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly));
        const auto word = [&](auto value) { file.write(reinterpret_cast<const char*>(&value), sizeof value); };
        file.write("RIFF");
        word(bytes + 36);
        file.write("WAVEfmt ");
        word(quint32{16});
        for (const quint16 half : {quint16{1}, quint16{2}})
            word(half);
        word(rate);
        word(rate * 4);
        for (const quint16 half : {quint16{4}, quint16{16}})
            word(half);
        file.write("data");
        word(bytes);
        file.seek(44 + 2LL * 3600 * rate * 4);
        for (quint32 i = 0; i < 10 * rate; ++i)
            for (int side = 0; side < 2; ++side)
                word(static_cast<qint16>(8000 * std::sin(i / 20.0)));
        file.resize(44 + static_cast<qint64>(bytes));
    }

private slots:
    void threeHoursAreOpenedStreamedAndHeard()
    {
        QTemporaryDir data;
        Workbench bench(data.path());
        QVERIFY(bench.ready());
        const QString path = data.path() + QStringLiteral("/three hours.wav");
        writeThreeHours(path);
        [[maybe_unused]] const double before = residentMiB(); // sanitizers have memory of their own
        LineUp& line_up = bench.desk->line_up;
        QSignalSpy notice(&bench.desk->transport, &Transport::notice);
        Transport& transport = bench.desk->transport;
        transport.load(path);
        QTRY_COMPARE_WITH_TIMEOUT(transport.sourceFile(), path, 5000);
        QCOMPARE(transport.source()->seconds(), 3 * 3600.0);
        QCOMPARE(transport.loop().frames, std::size_t{120 * 48000}); // not three hours at once
        QVERIFY(notice.back()[0].toString().contains(QStringLiteral("two minutes")));
        transport.setLoop({std::size_t{7200} * 48000, 5 * 48000});
        bench.desk->transport.play(true);
        QTRY_VERIFY_WITH_TIMEOUT(!line_up.isMatching() && bench.at(0).loudnessLufs(), 20000);
        HR_NEAR(*bench.at(0).loudnessLufs(), 20 * std::log10(8000 / 32768.0), 3);
        // A Debug or sanitized program has more of everything.
#ifndef HONEST_RACK_SANITIZED
        QVERIFY2(residentMiB() - before < 60, qPrintable(QString::number(residentMiB() - before)));
#endif
    }
};

HR_TEST(tst_long_source)
#include "tst_long_source.moc"
