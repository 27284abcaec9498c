// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that try to get out of their worker: each is refused, what it wanted is told, and the host goes on.
#include "hosting/protection.h"
#include "hosting/scanner.h"
#include "support/fixtures.h"

#include <QElapsedTimer>
#include <QRegularExpression>
#include <QScopeGuard>
#include <cerrno>
#include <csignal>
#include <fcntl.h>
#include <unistd.h>

using namespace hr;
using namespace hr::hosting;

class tst_cage : public QObject {
    Q_OBJECT

    static Location intruder(const QString& name)
    {
        return {"lv2:urn:honest-rack:tests:" + name.toStdString(), test::intruders_bundle};
    }
    /// What its attempt came to: 0, or the error number.
    static FaultOr<int> outcomeOf(Instance& instance)
    {
        if (auto started = instance.start({48000, 256}, std::vector<double>{0}); !started)
            return tl::make_unexpected(started.error());
        auto out = instance.process(test::tone(1000, -20, 0.05));
        if (!out)
            return tl::make_unexpected(out.error());
        return static_cast<int>(std::lround(1000 * out->channel(0)[100]));
    }

    const QByteArray m_temporary_before = qgetenv("TMPDIR");
    const QTemporaryDir m_temporary; // others have theirs beside it

    static QStringList folders()
    {
        return QDir::temp().entryList({QStringLiteral("honest-rack-worker-*")}, QDir::Dirs);
    }

private slots:
    void initTestCase() { qputenv("TMPDIR", m_temporary.path().toUtf8()); }
    void cleanupTestCase()
    {
        m_temporary_before.isNull() ? qunsetenv("TMPDIR") : qputenv("TMPDIR", m_temporary_before);
    }

    void everyWayOutIsClosed_data()
    {
        QTest::addColumn<QString>("plugin");
        QTest::addColumn<int>("outcome");
        QTest::addColumn<QString>("wanted");
        QTest::addColumn<QString>("pretended");
        struct Attempt {
            const char* plugin;
            int outcome;
            const char* wanted;
        };
        constexpr const char* processes = "wanted to reach into other processes";
        constexpr const char* letter = "wanted to write to HOME/letter.txt";
        const std::vector<Attempt> attempts{
            {"shrinks-the-block", EPERM, ""},
            {"starts-a-program", EPERM, "wanted other programs"},
            {"forks", EPERM, "wanted other programs"},
            {"traces-its-host", EPERM, processes},
            {"signals-its-host", EPERM, processes},
            {"reaches-the-network", EPERM, "wanted the network"},
            {"reaches-other-programs", EPERM, "wanted other programs"},
            {"writes-to-the-home", EACCES, "wanted to write to HOME/intruder.txt"},
            {"writes-to-its-folder", 0, ""},
            {"raises-its-limits", EPERM, processes},
            {"sends-by-owner", EPERM, processes},
            {"finds-our-files", 1, ""},
            {"changes-a-mode", EPERM, letter},
            {"changes-an-owner", EPERM, letter},
            {"changes-a-time", EPERM, letter},
            {"changes-an-attribute", EPERM, letter},
            {"cuts-off", -1, ""},
            {"reads-a-letter", EACCES, "wanted to read HOME/letter.txt"},
            {"lists-the-home", EACCES, "wanted to read HOME"},
            {"opens-unseen", EACCES, ""},
            {"pairs-sockets", EPERM, "wanted other programs"},
            {"sends-by-owner-in-disguise", EPERM, processes},
            {"renices-the-user", EPERM, processes},
            {"makes-a-queue", EPERM, processes},
            {"makes-semaphores", EPERM, processes},
            {"takes-a-lease", EPERM, processes},
            {"makes-a-memory-file", EPERM, ""},
            {"makes-a-pipe-file", EPERM, "wanted to write to FOLDER/pipe"},
            {"outlives-the-host", EPERM, ""},
            {"asks-an-old-table", ENOSYS, processes},
            {"watches-files", EPERM, ""},
            {"makes-a-folder-nobody-may-enter", 0, ""}};
        for (const char* pretended : {"", "landlock=1", "landlock=2", "landlock=3", "landlock=4", "landlock=6"})
            for (const auto& [plugin, outcome, wanted] : attempts)
                QTest::addRow("%s %s", plugin, pretended) << plugin << outcome << wanted << pretended;
    }
    void everyWayOutIsClosed()
    {
        QFETCH(QString, plugin);
        QFETCH(int, outcome);
        QFETCH(QString, wanted);
        QFETCH(QString, pretended);
        if (!missingFrom(protection()).empty())
            QSKIP("this kernel offers less");
        const QTemporaryDir home;
        QFile letter(home.filePath(QStringLiteral("letter.txt")));
        QVERIFY(letter.open(QIODevice::WriteOnly) && letter.write("Dear A, …") > 0);
        letter.close();
        const auto mode_before = letter.permissions();
        const QByteArray before = qgetenv("HOME");
        qputenv("HOME", home.path().toUtf8());
        qputenv("HONEST_RACK_PRETEND", pretended.toUtf8());
        test::runningWorkers(); // ends those in reserve
        const QStringList folders_before = folders();
        const int inherited = open("/dev/null", O_RDONLY); // as a library of ours might leave one open
        auto instance = openInstance(intruder(plugin), {.workers = Workers::Fresh});
        close(inherited);
        qputenv("HOME", before);
        qunsetenv("HONEST_RACK_PRETEND");
        HR_VERIFY(instance);
        const auto found = outcomeOf(**instance);
        HR_VERIFY(found);
        if (outcome >= 0) // by the call or by Landlock, as this version has it
            QCOMPARE(*found, outcome);
        else
            QVERIFY2(*found == EPERM || *found == EACCES, qPrintable(QString::number(*found)));
        if (outcome >= 0) {
            const auto refusals = (*instance)->refusals();
            QString words = QString::fromStdString(inWords(refusals));
            words.replace(QRegularExpression(QStringLiteral("[^ ]*/honest-rack-worker-[^/]*")),
                          QStringLiteral("FOLDER"));
            QCOMPARE(words, wanted.replace(QStringLiteral("HOME"), home.path()));
        }
        HR_VERIFY((*instance)->stop());
        instance->reset();
        QVERIFY(!QFile::exists(home.filePath(QStringLiteral("intruder.txt"))));
        QCOMPARE(letter.permissions(), mode_before);
        QVERIFY(letter.open(QIODevice::ReadOnly) && letter.readAll() == QByteArray("Dear A, …"));
        QTRY_COMPARE(test::runningWorkers(), 0);
        QCOMPARE(folders(), folders_before);
    }

    void whatIsNotBoundedByTheSystemIsBoundedHere_data()
    {
        QTest::addColumn<QString>("cause");
        QTest::addColumn<QString>("says");
        QTest::newRow("pretends-to-get-on") << "hang"
                                            << "nothing within";
        QTest::newRow("starts-threads") << "out-of-memory"
                                        << "more than 300 threads";
        QTest::newRow("fills-its-folder") << "out-of-memory"
                                          << "beyond 256 MiB";
    }
    void whatIsNotBoundedByTheSystemIsBoundedHere()
    {
        QFETCH(QString, cause);
        QFETCH(QString, says);
        TimeLimits quick;
        quick.block = std::chrono::milliseconds(1500);
        QElapsedTimer clock;
        clock.start();
        const Finding finding = tryProcessor(intruder(QLatin1String(QTest::currentDataTag())), quick);
        QVERIFY(finding.fault);
        QCOMPARE(QString::fromStdString(word(finding.fault->cause)), cause);
        QVERIFY2(finding.fault->detail.find(says.toStdString()) != std::string::npos,
                 finding.fault->detail.c_str());
        QVERIFY(clock.elapsed() < 20000);
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void whereItCannotBeClosedNothingRuns_data()
    {
        QTest::addColumn<QString>("reason");
        QTest::addColumn<int>("outcome"); // of writing to its own folder, where the user has waived it
        QTest::newRow("landlock=0") << "no Landlock" << EACCES; // the list of calls closes all writing
        QTest::newRow("no-filter") << "no seccomp" << 0;
        QTest::newRow("no-filter,landlock=0") << "no Landlock" << 0;
    }
    void whereItCannotBeClosedNothingRuns()
    {
        QFETCH(QString, reason);
        QFETCH(int, outcome);
        qputenv("HONEST_RACK_PRETEND", QTest::currentDataTag());
        const auto again = qScopeGuard([] {
            qunsetenv("HONEST_RACK_PRETEND");
            qunsetenv("HONEST_RACK_UNPROTECTED");
        });
        const auto refused =
            openInstance(intruder(QStringLiteral("writes-to-its-folder")), {.workers = Workers::Fresh});
        QVERIFY(!refused);
        QCOMPARE(refused.error().cause, Cause::Unprotected);
        const Error error = toError(refused.error(), "lv2:x");
        QCOMPARE(error.blame, Blame::Machine);
        QVERIFY2(error.text.find(reason.toStdString()) != std::string::npos &&
                     error.text.find("HONEST_RACK_UNPROTECTED=1") != std::string::npos,
                 error.text.c_str());
        qputenv("HONEST_RACK_UNPROTECTED", "1"); // the user has decided
        auto waived =
            openInstance(intruder(QStringLiteral("writes-to-its-folder")), {.workers = Workers::Fresh});
        HR_VERIFY(waived);
        QCOMPARE(*outcomeOf(**waived), outcome);
    }

    void twentyTimesInARowTheHostLives()
    {
        for (int i = 0; i < 20; ++i) {
            auto instance =
                openInstance(intruder(QStringLiteral("shrinks-the-block")), {.workers = Workers::Fresh});
            HR_VERIFY(instance);
            HR_VERIFY(outcomeOf(**instance));
        }
    }

    void whatIsAllowedIsOpen()
    {
        if (!missingFrom(protection()).empty())
            QSKIP("this kernel offers less");
        Location network = intruder(QStringLiteral("reaches-the-network"));
        network.permissions.network = true;
        auto instance = openInstance(network);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), 0);
        QVERIFY(!(*instance)->refusals().any());
        instance->reset();
        // Revoked: the worker that was allowed it is not given out again.
        network.permissions.network = false;
        instance = openInstance(network);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), EPERM);

        const QTemporaryDir folder;
        Location reader = intruder(QStringLiteral("reads-a-letter"));
        reader.permissions.readable = folder.path().toStdString();
        QFile letter(folder.filePath(QStringLiteral("letter.txt")));
        QVERIFY(letter.open(QIODevice::WriteOnly));
        const QByteArray home_before = qgetenv("HOME");
        qputenv("HOME", folder.path().toUtf8());
        instance = openInstance(reader);
        qputenv("HOME", home_before);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), 0);

        Location writer = intruder(QStringLiteral("writes-to-the-home"));
        writer.permissions.folder = folder.path().toStdString();
        const QByteArray before = qgetenv("HOME");
        qputenv("HOME", folder.path().toUtf8());
        instance = openInstance(writer);
        qputenv("HOME", before);
        HR_VERIFY(instance);
        QCOMPARE(*outcomeOf(**instance), 0);
        QVERIFY(QFile::exists(folder.filePath(QStringLiteral("intruder.txt"))));
    }

    void aChainMayOnlyWhatAllItsStagesMay()
    {
        Location chain;
        chain.graph.nodes = {{"a"}, {"b"}};
        chain.graph.edges = processors::inSeries(chain.graph.nodes);
        chain.stages = {{"a", "lv2:x", "/x", {}, {true, "/f"}}, {"b", "lv2:y", "/y", {}, {true, "/f"}}};
        QVERIFY((permissionsOf(chain) == Permissions{true, "/f"}));
        chain.stages[1].permissions = {false, "/other"};
        QVERIFY(permissionsOf(chain) == Permissions());
    }

    void aFolderOfItsOwnIsEmptied()
    {
        test::runningWorkers(); // ends those in reserve
        const QStringList before = folders();
        auto instance =
            openInstance(intruder(QStringLiteral("writes-to-its-folder")), {.workers = Workers::Fresh});
        HR_VERIFY(instance);
        HR_VERIFY(outcomeOf(**instance));
        QCOMPARE(folders().size(), before.size() + 1);
        instance->reset();
        QTRY_COMPARE(test::runningWorkers(), 0);
        QCOMPARE(folders(), before);
    }
};

HR_TEST(tst_cage)
#include "tst_cage.moc"
