// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/wire.h"
#include "support/fixtures.h"

#include <cstring>
#include <random>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

using namespace hr::hosting;
using namespace std::chrono_literals;

class tst_wire : public QObject {
    Q_OBJECT

    std::array<int, 2> m_ends{};

private slots:
    void init() { QCOMPARE(socketpair(AF_UNIX, SOCK_STREAM, 0, m_ends.data()), 0); }
    void cleanup()
    {
        for (const int end : m_ends)
            close(end);
    }

    void messagesArriveWhole_data()
    {
        QTest::addColumn<int>("size");
        for (const int size : {0, 1, 4096, 5000000})
            QTest::addRow("%d bytes", size) << size;
    }
    void messagesArriveWhole()
    {
        QFETCH(int, size);
        const Message sent{Kind::Load, std::string(static_cast<std::size_t>(size), 'x')};
        std::jthread sender([&] { QVERIFY(send(m_ends[0], sent)); });
        Message got;
        QCOMPARE(receive(m_ends[1], got, 5000ms), Reception::Message);
        QCOMPARE(got.kind, Kind::Load);
        QVERIFY(got.body == sent.body);
    }

    void silenceIsATimeoutAndAClosedEndIsSaid()
    {
        Message got;
        QCOMPARE(receive(m_ends[1], got, 20ms), Reception::Timeout);
        ::shutdown(m_ends[0], SHUT_RDWR);
        QCOMPARE(receive(m_ends[1], got, 1000ms), Reception::Closed);
        QVERIFY(!send(m_ends[0], Message{Kind::Stop, {}}));
    }

    void rubbishIsNotBelieved()
    {
        std::mt19937 random(7);
        int believed = 0;
        for (int round = 0; round < 2000; ++round) {
            std::array<std::uint8_t, 8> head{};
            for (auto& byte : head)
                byte = static_cast<std::uint8_t>(random());
            if (const auto length = frameLength(head.data(), head.size())) {
                ++believed;
                QVERIFY(*length <= longest_message + 8);
            }
        }
        QCOMPARE(believed, 0); // of 2^32 kinds seven are valid
        const std::uint32_t huge[] = {0xffffffffU, 1};
        QVERIFY(!frameLength(reinterpret_cast<const std::uint8_t*>(huge), sizeof huge));
        QVERIFY(!frameLength(reinterpret_cast<const std::uint8_t*>(huge), 3));
        QCOMPARE(::write(m_ends[0], "rubbish rubbish", 15), ssize_t{15});
        Message got;
        QCOMPARE(receive(m_ends[1], got, 1000ms), Reception::Rubbish);
    }
};

HR_TEST(tst_wire)
#include "tst_wire.moc"
