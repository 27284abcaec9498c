// SPDX-License-Identifier: GPL-3.0-or-later
//
// A worker outlives nobody: killed parents leave no process behind, even while a plug-in hangs.
#include "hosting/instance.h"
#include "hosting/worker_folder.h"
#include "support/fixtures.h"

#include <csignal>
#include <fcntl.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace hr;

class tst_parent_death : public QObject {
    Q_OBJECT

private slots:
    void killedParentsLeaveNothing_data()
    {
        QTest::addColumn<QString>("plugin");
        QTest::newRow("idle worker") << "pass";
        QTest::newRow("hanging worker") << "hang-in-run";
        QTest::newRow("worker with a child") << "forker";
    }
    void killedParentsLeaveNothing()
    {
        QFETCH(QString, plugin);
        for (int round = 0; round < 5; ++round) {
            const pid_t child = fork();
            if (child == 0) { // the parent that will be killed
                auto instance = hosting::openInstance(test::faultyAt(plugin.toStdString()));
                if (instance && (*instance)->start({48000, 256}, std::vector<double>{0}))
                    (void)(*instance)->process(test::tone(440, -20, 0.1));
                for (;;)
                    pause();
            }
            QTRY_VERIFY(test::runningWorkers() > 0);
            QTest::qWait(round * 15); // another moment each time
            kill(child, SIGKILL);
            waitpid(child, nullptr, 0);
            QTRY_COMPARE(test::runningWorkers(), 0);
        }
    }

    void whatAKilledParentLeftIsRemoved()
    {
        QTemporaryDir temporary;
        qputenv("TMPDIR", temporary.path().toUtf8());
        const auto folders = [&] {
            return QDir(temporary.path()).entryList({QStringLiteral("honest-rack-worker-*")});
        };
        auto living = hosting::Worker::spawn(); // its folder is held, however old
        HR_VERIFY(living);
        const pid_t child = fork();
        if (child == 0) {
            auto killed = hosting::Worker::spawn();
            for (;;)
                pause();
        }
        QTRY_COMPARE(folders().size(), 2);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        QCOMPARE(hosting::WorkerFolder::removeAbandoned(), 0); // somebody may be about to lock it
        const timespec yesterday{std::time(nullptr) - 86400, 0};
        for (const QString& folder : folders())
            utimensat(AT_FDCWD, qPrintable(temporary.filePath(folder)), std::array{yesterday, yesterday}.data(),
                      0);
        QCOMPARE(hosting::WorkerFolder::removeAbandoned(), 1);
        QCOMPARE(folders().size(), 1);
        living->reset();
        QVERIFY(folders().isEmpty());
        qunsetenv("TMPDIR");
    }

    void aKilledWorkerIsAFault()
    {
        auto worker = hosting::Worker::spawn();
        HR_VERIFY(worker);
        HR_VERIFY((*worker)->load(test::faultyAt("pass")));
        kill((*worker)->pid(), SIGKILL);
        const auto started = (*worker)->start({48000, 256}, std::vector<double>{0});
        QVERIFY(!started);
        QCOMPARE(started.error().cause, hosting::Cause::Crash);
        QVERIFY(started.error().detail.find("signal 9") != std::string::npos);
    }
};

HR_TEST(tst_parent_death)
#include "tst_parent_death.moc"
