// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "exchange/chain_file.h"

#include <QLabel>
#include <QSignalSpy>
#include <csignal>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_line_up : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    LineUp& lineUp() const { return m_bench->desk->line_up; }
    static QString reference(const char* name) { return QStringLiteral("reference:") + QLatin1String(name); }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
    }
    void cleanupTestCase() { m_bench.reset(); }
    void init()
    {
        while (lineUp().count() > 1)
            lineUp().remove(1);
    }

    void allComeDownToTheQuietest()
    {
        lineUp().add(reference("gain"), {{"gain_db", 6}});
        lineUp().add(reference("gain"), {{"gain_db", -4}});
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(lineUp().at(0).gain_db, -4, 0.05);
        HR_NEAR(lineUp().at(1).gain_db, -10, 0.05);
        HR_NEAR(lineUp().at(2).gain_db, 0, 0.05);
        lineUp().remove(2); // the quietest leaves: the others come up again
        HR_NEAR(lineUp().at(0).gain_db, 0, 0.05);
        HR_NEAR(lineUp().at(1).gain_db, -6, 0.05);
    }

    void aChangeIsMatchedAgain()
    {
        lineUp().add(reference("gain"));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        for (const double gain : {3.0, 5.0, 9.0}) // changes overtake each other: the last one counts
            lineUp().setValue(1, 0, gain);
        QVERIFY(!lineUp().fairWithinLu());
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(lineUp().at(1).gain_db, -9, 0.05);
    }

    void removingKeepsWhatIsHeard()
    {
        for (int i = 0; i < 3; ++i)
            lineUp().add(reference("gain"), {{"gain_db", -1.0 - i}});
        lineUp().hear(3);
        lineUp().remove(1);
        QCOMPARE(lineUp().heard(), 2);
        QCOMPARE(lineUp().at(2).values[0], -3.0);
        lineUp().remove(2);
        QCOMPARE(lineUp().heard(), 0);
        lineUp().hear(9);
        QCOMPARE(lineUp().heard(), 0);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(lineUp().at(0).gain_db, -2, 0.05); // the job for a removed one is not believed
    }

    void aChainStandsAmongThem()
    {
        chain::Chain chain{"quieter", {}};
        chain.stages.resize(2);
        chain.stages[0].id = "reference:gain";
        chain.stages[0].settings = {{"gain_db", -4}};
        chain.stages[1].id = "lv2:urn:nobody:has-it";
        const std::filesystem::path file = m_data.path().toStdString() + "/quieter.json";
        HR_VERIFY(exchange::writeChain(file, chain));
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        lineUp().addChainFile(QString::fromStdString(file.string()));
        QTRY_COMPARE(lineUp().count(), 2);
        QCOMPARE(lineUp().at(1).title, QStringLiteral("quieter"));
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("goes round")));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(lineUp().at(0).gain_db, -4, 0.05);
        lineUp().addChainFile(QStringLiteral("/nowhere.json"));
        QVERIFY(notice.back()[0].toString().contains(QStringLiteral("/nowhere.json")));
    }

    void whatIsBeyondARangeIsBroughtInsideAndSaid()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        lineUp().add(reference("gain"), {{"gain_db", 1000}});
        QCOMPARE(lineUp().at(1).values[0], lineUp().at(1).info.parameters[0].maximum);
        QCOMPARE(notice.size(), 1);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("brought inside")));
    }

    void eightIsFull()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        for (int i = 0; i < 8; ++i)
            QVERIFY(lineUp().add(reference("gain")) > 0);
        QCOMPARE(lineUp().add(reference("gain")), 0);
        QCOMPARE(lineUp().count(), 9);
        QCOMPARE(notice.size(), 1);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("eight")));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 30000);
    }

    void whatCannotBeHeardIsSaid()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        QCOMPARE(lineUp().add(QString::fromStdString(test::specimen + "stormglass")), 0);
        QCOMPARE(lineUp().add(QStringLiteral("lv2:urn:nobody")), 0);
        QCOMPARE(notice.size(), 2);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("quarantine")));
        const int before = static_cast<int>(notice.size());
        lineUp().loadSource(QStringLiteral("/etc/passwd"));
        QTRY_COMPARE(notice.size(), before + 1);
        QVERIFY(lineUp().source() != nullptr); // the one there was stays
    }

    void whatBreaksOffIsCounted()
    {
        lineUp().add(QString::fromStdString(test::specimen + "tidepool-equaliser"));
        m_bench->desk->audio.play(true);
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->desk->audio.engine().isSettled(), 10000);
        const std::size_t before = m_bench->desk->audio.engine().underruns();
        test::signalWorkers(SIGSTOP); // as a processor that keeps us waiting
        const bool counted =
            QTest::qWaitFor([&] { return m_bench->desk->audio.engine().underruns() > before; });
        test::signalWorkers(SIGCONT);
        QVERIFY(counted);
        const auto said = [&] {
            return std::ranges::any_of(m_bench->window->findChildren<QLabel*>(), [](const QLabel* label) {
                return label->isVisible() && label->text().contains(QStringLiteral(" underrun"));
            });
        };
        QTRY_VERIFY(said());
        m_bench->desk->audio.play(false);
    }

    void settingsOfAnotherVersionDoNoHarm()
    {
        lineUp().add(reference("gain"), {{"gain_db", 500}, {"warmth", 3}});
        QCOMPARE(lineUp().at(1).values[0], 24.0);
        QCOMPARE(lineUp().at(1).settings().size(), std::size_t{1});
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
    }
};

HR_TEST(tst_line_up)
#include "tst_line_up.moc"
