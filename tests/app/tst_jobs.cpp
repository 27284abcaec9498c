// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "frame/jobs_button.h"
#include "models/fault_search_job.h"
#include "models/scan_job.h"

#include <QSemaphore>
#include <QSignalSpy>
#include <QThread>

using namespace hr::app;

class tst_jobs : public QObject {
    Q_OBJECT

    QStringList m_done;
    QSemaphore m_go;

    JobOrder order(const QString& name, const QString& line, bool holds = false)
    {
        JobOrder job;
        job.title = name;
        job.line = line;
        job.owner = this;
        job.work = [this, holds](const JobControl& control) {
            control.report(0.5);
            while (holds && !control.cancel().stop_requested() && !m_go.tryAcquire(1, 5)) {
            }
        };
        job.finished = [this, name](JobEnd end) {
            m_done << (end == JobEnd::Done ? name : name + QStringLiteral(" cancelled"));
        };
        return job;
    }

private slots:
    void init() { m_done.clear(); }

    void oneLineRunsInOrderAndWhatIsPutFirstFirst()
    {
        Jobs jobs;
        const QString line = QStringLiteral("bench");
        jobs.add(order(QStringLiteral("a"), line, true));
        jobs.add(order(QStringLiteral("b"), line));
        const auto c = jobs.add(order(QStringLiteral("c"), line));
        const auto d = jobs.add(order(QStringLiteral("d"), line));
        QTRY_COMPARE(jobs.list().front().progress, 0.5);
        QVERIFY(jobs.list().front().running && !jobs.list()[1].running);
        jobs.putFirst(d);
        jobs.cancel(c);
        QCOMPARE(m_done, QStringList{QStringLiteral("c cancelled")});
        m_go.release();
        QTRY_VERIFY(jobs.list().empty());
        QCOMPARE(m_done.join(QLatin1Char(' ')), QStringLiteral("c cancelled a d b"));
    }

    void whatIsUrgentDoesNotWait()
    {
        Jobs jobs;
        for (int i = 0; i < 2 * QThread::idealThreadCount(); ++i)
            jobs.add(order(QStringLiteral("slow"), {}, true));
        JobOrder urgent = order(QStringLiteral("urgent"), {});
        urgent.urgent = true;
        jobs.add(urgent);
        QTRY_COMPARE(m_done, QStringList{QStringLiteral("urgent")});
        m_go.release(2 * QThread::idealThreadCount());
        QTRY_VERIFY(jobs.list().empty());
    }

    void leavingCancelsWhatRuns()
    {
        auto jobs = std::make_unique<Jobs>();
        jobs->add(order(QStringLiteral("held"), {}, true));
        jobs.reset(); // comes back only because the job looks at its mark
        QVERIFY(m_done.isEmpty());
    }

    void aStepOfASearchThatIsCancelledSaysNothing()
    {
        hr::test::TemporaryStore kept;
        Jobs jobs;
        FaultSearchJob search(*kept.store, jobs);
        const QSignalSpy cancelled(&search, &FaultSearchJob::cancelled);
        const QSignalSpy finished(&search, &FaultSearchJob::finished);
        jobs.add(order(QStringLiteral("before"), QStringLiteral("scan"), true)); // it waits its turn
        search.start({QStringLiteral("reference:gain"), QStringLiteral("reference:pan")});
        jobs.cancel(jobs.list().back().id);
        QTRY_COMPARE(cancelled.size(), 1);
        m_go.release();
        QTRY_VERIFY(jobs.list().empty());
        QVERIFY(finished.isEmpty() && !search.isRunning());
    }

    void aScanThatIsCancelledIsNoEmptyOne()
    {
        hr::library::ScanReport report;
        report.cancelled = true;
        report.added = 3;
        const QString words = ScanJob::inWords(report);
        QVERIFY2(words.contains(QStringLiteral("cancelled: 3 new")) &&
                     !words.contains(QStringLiteral("installed")),
                 qPrintable(words));
    }

    void theListCancelsAndPutsFirst()
    {
        Jobs jobs;
        JobsButton button(jobs);
        QVERIFY(!button.isVisibleTo(&button));
        const QString line = QStringLiteral("bench");
        for (const char* name : {"a", "b", "c"})
            jobs.add(order(QLatin1String(name), line, *name == 'a'));
        QWidget window;
        button.setParent(&window);
        window.show();
        button.show();
        QCOMPARE(button.text(), QStringLiteral("3 jobs"));
        QTest::mouseClick(&button, Qt::LeftButton);
        const auto press = [&](const QString& text, int row) {
            QPushButton* found = nullptr;
            for (auto* one : button.list()->findChildren<QPushButton*>())
                if (one->text() == text && row-- == 0)
                    found = one;
            QVERIFY(found);
            QTest::mouseClick(found, Qt::LeftButton);
        };
        press(QStringLiteral("First"), 1); // c
        QCOMPARE(jobs.list()[1].title, QStringLiteral("c"));
        press(QStringLiteral("Cancel"), 0); // a, which runs
        QTRY_COMPARE(m_done.join(QLatin1Char(' ')), QStringLiteral("a cancelled c b"));
        QTRY_VERIFY(!button.list()->isVisible());
        button.setParent(nullptr);
    }
};

HR_TEST(tst_jobs)
#include "tst_jobs.moc"
