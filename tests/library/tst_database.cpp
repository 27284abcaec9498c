// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/fixtures.h"

#include <QFile>
#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <csignal>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace hr;
using library::Database;
using library::Store;
using test::TemporaryStore;

class tst_database : public QObject {
    Q_OBJECT

private slots:
    void aDamagedFileIsKeptAsideAndTheUserTold_data()
    {
        QTest::addColumn<int>("from");
        QTest::addColumn<int>("bytes");
        QTest::newRow("its head") << 0 << 64;
        QTest::newRow("its middle") << 4096 << 12000;
    }
    void aDamagedFileIsKeptAsideAndTheUserTold()
    {
        QFETCH(int, from);
        QFETCH(int, bytes);
        TemporaryStore kept;
        const QString file = QString::fromStdString(kept.path("catalogue.sqlite").string());
        HR_VERIFY(kept.store->collections.create(QStringLiteral("Before")));
        HR_VERIFY(kept.store->database().run(QStringLiteral("PRAGMA wal_checkpoint(TRUNCATE)")));
        kept.store.reset();
        QFile damaged(file);
        QVERIFY(damaged.open(QIODevice::ReadWrite) && damaged.seek(from) &&
                damaged.write(QByteArray(bytes, 'x')) == bytes);
        damaged.close();
        auto again = Store::open(kept.path());
        HR_VERIFY(again);
        QVERIFY((*again)->database().notice().contains(QStringLiteral("damaged")));
        QVERIFY((*again)->collections.all()->empty());
        QCOMPARE(QDir(kept.directory.path()).entryList({QStringLiteral("catalogue.damaged-*.sqlite")}).size(),
                 1);
        HR_VERIFY((*again)->collections.create(QStringLiteral("After"))); // and works
    }

    void whatIsNotWhatItsVersionSaysIsKeptAside_data()
    {
        QTest::addColumn<int>("version");
        QTest::newRow("negative") << -5;
        QTest::newRow("older than its tables") << 3;
        QTest::newRow("none") << 0;
    }
    void whatIsNotWhatItsVersionSaysIsKeptAside()
    {
        QFETCH(int, version);
        TemporaryStore kept;
        HR_VERIFY(kept.store->database().run(QStringLiteral("PRAGMA user_version = %1").arg(version)));
        kept.store.reset();
        auto again = Store::open(kept.path());
        HR_VERIFY(again);
        QVERIFY((*again)->database().notice().contains(QStringLiteral("damaged")));
        HR_VERIFY((*again)->collections.create(QStringLiteral("After")));
        QCOMPARE(QDir(kept.directory.path()).entryList({QStringLiteral("catalogue.damaged-*.sqlite")}).size(),
                 1);
    }

    void damageThatShowsLaterIsPutAsideAtTheNextStart()
    {
        TemporaryStore kept;
        HR_VERIFY(library::Database::check(kept.path()));
        QVERIFY(*library::Database::check(kept.path()));
        HR_VERIFY(kept.store->database().run(QStringLiteral("PRAGMA wal_checkpoint(TRUNCATE)")));
        kept.store.reset();
        QFile file(QString::fromStdString(kept.path("catalogue.sqlite").string()));
        QVERIFY(file.open(QIODevice::ReadWrite) && file.seek(file.size() - 3000) &&
                file.write(QByteArray(3000, 'x')) == 3000);
        file.close();
        QVERIFY(!library::Database::check(kept.path()).value_or(false)); // in the background, while it is open
        auto again = Store::open(kept.path());
        HR_VERIFY(again);
        QVERIFY((*again)->database().notice().contains(QStringLiteral("damaged")));
    }

    void anOlderCatalogueIsBroughtUpAndKeepsItsWords()
    {
        TemporaryStore kept;
        const auto file = QString::fromStdString(kept.path("catalogue.sqlite").string());
        kept.store.reset();
        QVERIFY(QFile::remove(file));
        {
            auto version_1 = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("version 1"));
            version_1.setDatabaseName(file);
            QVERIFY(version_1.open());
            QFile sql(QStringLiteral(HR_TESTS "/library/version_1.sql"));
            QVERIFY(sql.open(QIODevice::ReadOnly));
            for (const QString& statement : QString::fromUtf8(sql.readAll()).split(QStringLiteral(";\n")))
                if (QSqlQuery query(version_1); !statement.trimmed().isEmpty())
                    QVERIFY2(query.exec(statement), qPrintable(query.lastError().text()));
        }
        QSqlDatabase::removeDatabase(QStringLiteral("version 1"));
        auto again = library::Store::open(kept.path());
        HR_VERIFY(again);
        QCOMPARE((*again)->catalogue.entry(QStringLiteral("reference:gain"))->note, QStringLiteral("kept"));
        QCOMPARE((*again)->catalogue.info(QStringLiteral("reference:gain"))->parameters.size(), std::size_t{1});
        const auto readings = (*again)->runs.latest(QStringLiteral("reference:gain"));
        QCOMPARE(readings->size(), std::size_t{1}); // of which build it was is not known
        QVERIFY(readings->front().set_up.isEmpty());
        QCOMPARE((*again)->collections.items(1)->front().reference, QStringLiteral("reference:gain"));
        QCOMPARE((*again)->catalogue.signatures()->value(QStringLiteral("/b")), QString()); // to be tried again
        QVERIFY(!(*again)->database().run(QStringLiteral("SELECT * FROM search")));
    }

    void aNewerCatalogueIsLeftAlone()
    {
        TemporaryStore kept;
        HR_VERIFY(kept.store->database().run(QStringLiteral("PRAGMA user_version = 99")));
        kept.store.reset();
        const auto again = Store::open(kept.path());
        QVERIFY(!again);
        QCOMPARE(again.error().blame, Blame::Request);
        QVERIFY(test::why(again).contains(QStringLiteral("newer version")));
    }

    void anUnusableFolderIsOneSentence()
    {
        const auto opened = Store::open("/proc/nothing/here");
        QVERIFY(!opened);
        QCOMPARE(opened.error().blame, Blame::Machine);
        QVERIFY(test::why(opened).contains(QStringLiteral("/proc/nothing/here")));
    }

    void whatCannotBeOpenedIsNotTakenForDamaged()
    {
        QTemporaryDir folder;
        QVERIFY(QDir(folder.path()).mkdir(QStringLiteral("catalogue.sqlite"))); // in place of the file
        const auto opened = Store::open(folder.path().toStdString());
        QVERIFY(!opened);
        QVERIFY2(test::why(opened).contains(QStringLiteral("cannot be opened: check the permissions")),
                 qPrintable(test::why(opened)));
        QCOMPARE(QDir(folder.path()).entryList(QDir::AllEntries | QDir::NoDotAndDotDot),
                 QStringList{QStringLiteral("catalogue.sqlite")});
    }

    void aBusyOneIsWaitedFor()
    {
        TemporaryStore kept;
        HR_VERIFY(kept.store->collections.create(QStringLiteral("Before")));
        HR_VERIFY(kept.store->database().run(QStringLiteral("PRAGMA journal_mode = DELETE")));
        HR_VERIFY(kept.store->database().run(QStringLiteral("BEGIN EXCLUSIVE"))); // nobody else may even read
        std::jthread([&] { // for longer than anybody waits
            const auto again = Store::open(kept.path());
            QVERIFY(!again);
            QVERIFY2(test::why(again).contains(QStringLiteral("another program is writing to it")),
                     qPrintable(test::why(again)));
        })
            .join();
        std::jthread other([&] {
            const auto again = Store::open(kept.path());
            HR_VERIFY(again);
            QVERIFY((*again)->database().notice().isEmpty());
            QCOMPARE((*again)->collections.all()->size(), std::size_t{1});
        });
        QTest::qSleep(500);
        HR_VERIFY(kept.store->database().run(QStringLiteral("COMMIT")));
        other.join();
        QVERIFY(QDir(kept.directory.path()).entryList({QStringLiteral("*damaged*")}).isEmpty());
    }

    void aFailedTransactionKeepsNothing()
    {
        TemporaryStore kept;
        const auto done = kept.store->database().transaction([&]() -> Result<void> {
            if (auto made = kept.store->collections.create(QStringLiteral("Half")); !made)
                return tl::make_unexpected(made.error());
            return wrongRequest("no");
        });
        QVERIFY(!done);
        QVERIFY(kept.store->collections.all()->empty());
        HR_VERIFY(kept.store->collections.create(QStringLiteral("Whole")));
    }

    void twoApplicationsShareOneCatalogue()
    {
        TemporaryStore one;
        auto other = Store::open(one.path());
        HR_VERIFY(other);
        for (int i = 0; i < 20; ++i) {
            HR_VERIFY(one.store->collections.create(QStringLiteral("one %1").arg(i)));
            HR_VERIFY((*other)->collections.create(QStringLiteral("other %1").arg(i)));
        }
        QCOMPARE(one.store->collections.all()->size(), std::size_t{40});
    }

    void whatIsCommittedSurvivesKill9()
    {
        QTemporaryDir folder;
        for (int round = 0; round < 10; ++round) {
            int pipe_ends[2];
            QCOMPARE(pipe(pipe_ends), 0);
            const pid_t child = fork();
            if (child == 0) {
                auto store = Store::open(folder.path().toStdString());
                for (int i = 0;; ++i)
                    if (store && (*store)->collections.create(QStringLiteral("%1 %2").arg(round).arg(i))) {
                        const char done = 1; // said only once it is committed
                        (void)!write(pipe_ends[1], &done, 1);
                    }
            }
            close(pipe_ends[1]);
            char byte = 0;
            int committed = 0;
            while (committed < 5 + 7 * round && read(pipe_ends[0], &byte, 1) == 1)
                ++committed;
            kill(child, SIGKILL);
            waitpid(child, nullptr, 0);
            while (read(pipe_ends[0], &byte, 1) == 1)
                ++committed;
            close(pipe_ends[0]);
            auto store = Store::open(folder.path().toStdString());
            HR_VERIFY(store);
            QVERIFY((*store)->database().notice().isEmpty());
            const auto all = (*store)->collections.all();
            HR_VERIFY(all);
            const auto of_this_round = std::ranges::count_if(
                *all, [&](const auto& c) { return c.name.startsWith(QStringLiteral("%1 ").arg(round)); });
            QVERIFY(of_this_round >= committed);
        }
    }

    void settingsAreFoundAgain()
    {
        TemporaryStore kept;
        QVERIFY(kept.store->setting(QStringLiteral("session")).isEmpty());
        HR_VERIFY(kept.store->setSetting(QStringLiteral("session"), QStringLiteral("{\"page\": 2}")));
        HR_VERIFY(kept.store->setSetting(QStringLiteral("session"), QStringLiteral("{\"page\": 3}")));
        kept.store.reset();
        auto again = Store::open(kept.path());
        HR_VERIFY(again);
        QCOMPARE((*again)->setting(QStringLiteral("session")), QStringLiteral("{\"page\": 3}"));
    }
};

HR_TEST(tst_database)
#include "tst_database.moc"
