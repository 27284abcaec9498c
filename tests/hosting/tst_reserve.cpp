// SPDX-License-Identifier: GPL-3.0-or-later
//
// A worker with nothing to do ends by itself; one that holds a plug-in does not, however long nothing is asked.
#include "hosting/location_json.h"
#include "hosting/wire.h"
#include "hosting/worker_process.h"
#include "support/fixtures.h"

#include <spawn.h>
#include <sys/mman.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>

extern char** environ;

using namespace hr::hosting;
using namespace std::chrono_literals;

class tst_reserve : public QObject {
    Q_OBJECT

    std::array<int, 2> m_ends{};
    pid_t m_pid = -1;
    bool m_ended = false;

    bool hasEnded()
    {
        m_ended = m_ended || waitpid(m_pid, nullptr, WNOHANG) == m_pid;
        return m_ended;
    }

private slots:
    void init()
    {
        m_ended = false;
        QCOMPARE(socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, m_ends.data()), 0);
        const OwnedFd block(memfd_create("block", MFD_CLOEXEC));
        QCOMPARE(ftruncate(block.get(), sizeof(SharedBlock)), 0);
        posix_spawn_file_actions_t actions;
        posix_spawn_file_actions_init(&actions);
        constexpr int aside = 100; // so that neither number is stepped on by the other
        posix_spawn_file_actions_adddup2(&actions, m_ends[1], aside);
        posix_spawn_file_actions_adddup2(&actions, block.get(), aside + 1);
        posix_spawn_file_actions_adddup2(&actions, aside, worker_control_fd);
        posix_spawn_file_actions_adddup2(&actions, aside + 1, worker_block_fd);
        posix_spawn_file_actions_adddup2(&actions, aside, worker_sound_fd); // nothing is asked over it here
        posix_spawnattr_t attributes; // a group of its own, which it ends with itself
        posix_spawnattr_init(&attributes);
        posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP);
        std::string program = HR_BIN "/hrack-worker";
        std::string limit_ms = "200";
        std::array<char*, 3> arguments{program.data(), limit_ms.data(), nullptr};
        QCOMPARE(posix_spawn(&m_pid, program.c_str(), &actions, &attributes, arguments.data(), environ), 0);
        posix_spawn_file_actions_destroy(&actions);
        posix_spawnattr_destroy(&attributes);
        close(m_ends[1]);
    }

    void cleanup() { close(m_ends[0]); }

    void withNothingLoadedItEnds() { QTRY_VERIFY_WITH_TIMEOUT(hasEnded(), 10000); }

    void withAPlugInItWaits()
    {
        nlohmann::json load = toJson(hr::test::faultyAt("pass"));
        load["stereo"] = true;
        load["processor_time_s"] = 60;
        QVERIFY(send(m_ends[0], {Kind::Load, load.dump()}));
        Message answer;
        QCOMPARE(receive(m_ends[0], answer, 10000ms), Reception::Message);
        QVERIFY2(answer.kind == Kind::Done, answer.body.c_str());
        QTest::qSleep(1000); // five times what one in reserve would have had
        QVERIFY(!hasEnded());
        shutdown(m_ends[0], SHUT_RDWR); // its host is gone
        QTRY_VERIFY_WITH_TIMEOUT(hasEnded(), 10000);
    }
};

HR_TEST(tst_reserve)
#include "tst_reserve.moc"
