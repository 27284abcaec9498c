// SPDX-License-Identifier: GPL-3.0-or-later
//
// kill -9 at random moments: of the application while it keeps things, scans and plays, and of its workers.
// What was committed is there afterwards, and no process is left behind.
#include "app/workbench.h"

#include <QCoreApplication>
#include <QProcess>
#include <QRandomGenerator>
#include <QSignalSpy>
#include <csignal>
#include <cstdio>

using namespace hr;
using namespace hr::app;
using test::Workbench;

namespace {

constexpr int rounds = 25; // of each: fifty in all

void say(int number)
{
    std::printf("kept %d\n", number);
    std::fflush(stdout);
}

} // namespace

/// The application that will be killed: this same program, started by tst_kill on its data directory.
class tst_victim : public QObject {
    Q_OBJECT

private slots:
    void keepsUntilItIsKilled()
    {
        const QString data = qEnvironmentVariable("HR_VICTIM_DATA");
        if (data.isEmpty())
            QSKIP("only as a child of tst_kill");
        Workbench bench(data, Workbench::Data::AsItIs);
        bench.desk->line_up.add(QString::fromStdString(test::specimenAt("cordage-leveller").id));
        bench.desk->transport.play(true);
        for (int number = qEnvironmentVariableIntValue("HR_VICTIM_FROM"); number < 100000; ++number) {
            bench.desk->keeping.keep({0,
                                      QStringLiteral("processor"),
                                      QStringLiteral("reference:gain"),
                                      {{"gain_db", -0.0001 * number}}},
                                     1);
            say(number);
            QTest::qWait(1);
        }
    }
};

class tst_kill : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;

    std::vector<double> kept() const
    {
        auto store = library::Store::open(m_data.path().toStdString());
        std::vector<double> values;
        if (store && (*store)->database().notice().isEmpty())
            if (auto items = (*store)->collections.items(1))
                for (const library::CollectionItem& item : *items)
                    values.push_back(item.settings.front().value);
        return values;
    }

private slots:
    void initTestCase()
    {
        const Workbench first(m_data.path()); // makes the data directory
        QVERIFY(first.ready());
        HR_VERIFY(first.desk->store->collections.create(QStringLiteral("kept")));
    }

    void theApplicationIsKilled()
    {
        int next = 0;
        QRandomGenerator random(7);
        for (int round = 0; round < rounds; ++round) {
            QProcess victim;
            QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
            environment.insert(QStringLiteral("HR_VICTIM_DATA"), m_data.path());
            environment.insert(QStringLiteral("HR_VICTIM_FROM"), QString::number(next));
            victim.setProcessEnvironment(environment);
            victim.start(QCoreApplication::applicationFilePath(), {QStringLiteral("tst_victim")});
            QVERIFY(victim.waitForStarted());
            QByteArray said;
            QTRY_VERIFY_WITH_TIMEOUT((said += victim.readAllStandardOutput()).contains("kept "), 20000);
            QTest::qWait(static_cast<int>(random.bounded(150)));
            ::kill(static_cast<pid_t>(victim.processId()), SIGKILL);
            QVERIFY(victim.waitForFinished());
            said += victim.readAllStandardOutput();
            const int whole = static_cast<int>(said.lastIndexOf('\n')); // the last line may be half
            const int last = said.left(whole).split(' ').last().toInt();
            const auto values = kept();
            for (int number = next; number <= last; ++number)
                QVERIFY2(std::ranges::find(values, -0.0001 * number) != values.end(),
                         qPrintable(QStringLiteral("round %1 lost %2").arg(round).arg(number)));
            next = last + 2; // one more may have been kept and not said
        }
        QTRY_COMPARE(test::runningWorkers(), 0);
    }

    void itsWorkersAreKilled()
    {
        Workbench bench(m_data.path());
        QVERIFY(bench.ready());
        LineUp& line_up = bench.desk->line_up;
        bench.desk->transport.play(true);
        QRandomGenerator random(11);
        for (int round = 0; round < rounds; ++round) {
            const ContenderId id = line_up.add(QString::fromStdString(test::specimenAt("cordage-leveller").id));
            QVERIFY(id != audition::no_contender);
            // Once is enough: by a second look it may have been sent away.
            QVERIFY(QTest::qWaitFor([] { return test::runningWorkers(test::Reserve::Kept) > 0; }, 20000));
            QTest::qWait(static_cast<int>(random.bounded(60)));
            test::killWorkers();
            line_up.hear(id);
            // Silent with a reason, or, where it was hit before it played, opened again.
            QTRY_VERIFY_WITH_TIMEOUT(!line_up.isMatching(), 20000);
            QVERIFY(line_up.find(id)->match != MatchState::Waiting);
            line_up.remove(id);
        }
        QVERIFY(bench.desk->transport.isPlaying());
        QVERIFY(!kept().empty());
    }
};

HR_TEST(tst_victim)
HR_TEST(tst_kill)
#include "tst_kill.moc"
