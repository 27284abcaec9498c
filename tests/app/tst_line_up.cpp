// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/workbench.h"
#include "exchange/chain_file.h"
#include "frame/short_listen.h"
#include "models/line_up_document.h"

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
        while (m_bench->candidates() > 0)
            lineUp().remove(m_bench->idAt(1));
    }

    void allComeDownToTheQuietest()
    {
        lineUp().add(reference("gain"), {{"gain_db", 6}});
        lineUp().add(reference("gain"), {{"gain_db", -4}});
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(m_bench->at(0).gain_db, -4, 0.05);
        HR_NEAR(m_bench->at(1).gain_db, -10, 0.05);
        HR_NEAR(m_bench->at(2).gain_db, 0, 0.05);
        lineUp().remove(m_bench->idAt(2)); // the quietest leaves: the others come up again
        HR_NEAR(m_bench->at(0).gain_db, 0, 0.05);
        HR_NEAR(m_bench->at(1).gain_db, -6, 0.05);
    }

    void aChangeIsMatchedAgain()
    {
        lineUp().add(reference("gain"));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        for (const double gain : {3.0, 5.0, 9.0}) // changes overtake each other: the last one counts
            lineUp().setValue(m_bench->idAt(1), 0, gain);
        QVERIFY(!lineUp().fairWithinLu());
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(m_bench->at(1).gain_db, -9, 0.05);
    }

    void removingKeepsWhatIsHeard()
    {
        for (int i = 0; i < 3; ++i)
            lineUp().add(reference("gain"), {{"gain_db", -1.0 - i}});
        lineUp().hear(m_bench->idAt(3));
        lineUp().remove(m_bench->idAt(1));
        QCOMPARE(m_bench->wanted(), 2);
        QCOMPARE(m_bench->at(2).values[0], -3.0);
        lineUp().remove(m_bench->idAt(2));
        QCOMPARE(m_bench->wanted(), 0);
        lineUp().hear(999);
        QCOMPARE(m_bench->wanted(), 0);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(m_bench->at(0).gain_db, -2, 0.05); // the job for a removed one is not believed
    }

    void aKeyThatIsHeldIsAShortListen()
    {
        lineUp().add(reference("gain"));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        m_bench->window->showPage(PageName::Listen);
        m_bench->press(Qt::Key_0);
        QWidget* window = m_bench->window.get();
        QTest::keyPress(window, Qt::Key_1);
        QCOMPARE(m_bench->wanted(), 1);
        QTest::qWait(ShortListen::held_ms + 50);
        QTest::keyRelease(window, Qt::Key_1);
        QCOMPARE(m_bench->wanted(), 0);
        m_bench->press(Qt::Key_1); // pressed and let go at once: it stays
        QCOMPARE(m_bench->wanted(), 1);
        m_bench->desk->actions.run(QStringLiteral("hear.0")); // by name, without a key
        QTest::qWait(ShortListen::held_ms + 50);
        m_bench->press(Qt::Key_1);
        QCOMPARE(m_bench->wanted(), 1);
    }

    void itSwitchesByItself()
    {
        lineUp().add(reference("gain"));
        lineUp().add(reference("gain"), {{"gain_db", -2}});
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        lineUp().hear(LineUp::untreated);
        Alternation& alternation = m_bench->desk->alternation;
        alternation.set({0.3, Alternation::Unit::Seconds});
        QTest::qWait(500);
        QCOMPARE(m_bench->wanted(), 0); // nothing plays, nothing switches
        m_bench->desk->transport.play(true);
        for (const int place : {1, 2, 0, 1})
            QTRY_COMPARE_WITH_TIMEOUT(m_bench->wanted(), place, 5000);
        alternation.set({});
        const int stays = m_bench->wanted();
        QTest::qWait(700);
        QCOMPARE(m_bench->wanted(), stays);
        alternation.set({1, Alternation::Unit::Bars});
        QCOMPARE(alternation.every().count > 0, alternation.hasBars());
        alternation.set({});
        // In time with the bar, which the tempo tells; back at once when it has none.
        Transport& transport = m_bench->desk->transport;
        m_bench->desk->tempo.type(QStringLiteral("120"));
        QVERIFY(alternation.hasBars());
        m_bench->press(Qt::Key_B, Qt::ShiftModifier);
        QVERIFY(alternation.isInTime());
        transport.seek(static_cast<std::size_t>(0.3 * transport.rateHz()));
        QTest::qWait(200);
        lineUp().hear(m_bench->idAt(m_bench->wanted() == 1 ? 2 : 1));
        QTest::qWait(600);
        QVERIFY(transport.audible() != lineUp().wanted());
        QTRY_COMPARE_WITH_TIMEOUT(transport.audible(), lineUp().wanted(), 5000);
        const double bar = static_cast<double>(transport.position()) / transport.rateHz() / 2;
        QVERIFY2(bar - std::floor(bar) < 0.3, qPrintable(QString::number(bar)));
        // By itself as well: every bar another.
        alternation.set({1, Alternation::Unit::Bars});
        for (int turn = 0; turn < 2; ++turn) {
            const auto before = transport.audible();
            QTRY_VERIFY_WITH_TIMEOUT(transport.audible() != before, 6000);
            const double at = static_cast<double>(transport.position()) / transport.rateHz() / 2;
            QVERIFY2(at - std::floor(at) < 0.3, qPrintable(QString::number(at)));
        }
        alternation.set({});
        m_bench->press(Qt::Key_B, Qt::ShiftModifier);
        m_bench->desk->transport.play(false);
    }

    void howItIsListenedToIsSaidEverywhere()
    {
        m_bench->window->showPage(PageName::Listen);
        m_bench->press(Qt::Key_M);
        m_bench->press(Qt::Key_Q);
        QCOMPARE(m_bench->desk->transport.monitor(),
                 (audition::Monitor{.listened = audition::Listened::Mono, .quieter = true}));
        bool said = false;
        for (const auto* label : m_bench->window->findChildren<QLabel*>())
            said = said || (label->isVisible() && label->accessibleName() == QStringLiteral("mono, −20 dB"));
        QVERIFY(said);
        m_bench->press(Qt::Key_M);
        m_bench->press(Qt::Key_Q);
        QCOMPARE(m_bench->desk->transport.monitor(), audition::Monitor{});
    }

    void aChainStandsAmongThem()
    {
        chain::Chain chain{"quieter", {}};
        chain::addStage(chain, "reference:gain");
        chain.nodes[0].settings = {{"gain_db", -4}};
        chain::addStage(chain, "lv2:urn:nobody:has-it");
        const std::filesystem::path file = m_data.path().toStdString() + "/quieter.json";
        HR_VERIFY(exchange::writeChain(file, chain));
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        lineUp().addChainFile(QString::fromStdString(file.string()));
        QTRY_COMPARE(m_bench->candidates(), 1);
        QCOMPARE(m_bench->at(1).title, QStringLiteral("quieter"));
        QTRY_VERIFY(!notice.isEmpty());
        QVERIFY2(notice[0][0].toString().startsWith(QStringLiteral("Bypassed")),
                 qPrintable(notice[0][0].toString()));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(m_bench->at(0).gain_db, -4, 0.05);
        lineUp().addChainFile(QStringLiteral("/nowhere.json"));
        QVERIFY(notice.back()[0].toString().contains(QStringLiteral("/nowhere.json")));
    }

    /// It is opened later than a processor; what stands beside it in the document waits for that.
    void aChainComesBackWithWhatWasHeldAndItsSnapshots()
    {
        chain::Chain chain{"quieter", {}};
        chain::addStage(chain, "reference:gain");
        const ContenderId id = lineUp().addChain(chain);
        QTRY_VERIFY(lineUp().find(id)->isOpen());
        auto values = lineUp().find(id)->values;
        const auto gain = static_cast<std::size_t>(
            std::ranges::find_if(lineUp().find(id)->info.parameters,
                                 [](const auto& one) { return one.key.ends_with("gain_db"); }) -
            lineUp().find(id)->info.parameters.begin());
        values[gain] = -7;
        lineUp().hold(id, gain, true);
        lineUp().setSnapshot(id, 2, values);
        const auto document = toDocument(lineUp(), m_bench->desk->transport);
        fromDocument(document, lineUp(), m_bench->desk->transport);
        QVERIFY(!m_bench->at(1).isOpen());
        QVERIFY(isSame(toDocument(lineUp(), m_bench->desk->transport), document)); // saved before it is open
        QTRY_VERIFY(m_bench->at(1).isOpen());
        QVERIFY(m_bench->at(1).held.contains(gain));
        QCOMPARE(m_bench->at(1).snapshots[2]->at(gain), -7.0);
        auto rubbish = document;
        rubbish["candidates"][0]["held"] = "everything";
        rubbish["candidates"][0]["snapshots"] = {1, 2, 3};
        fromDocument(rubbish, lineUp(), m_bench->desk->transport);
        QTRY_VERIFY(m_bench->at(1).isOpen());
        QVERIFY(m_bench->at(1).held.empty());
    }

    void whatIsBeyondARangeIsSetToItsEndAndSaid()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        lineUp().add(reference("gain"), {{"gain_db", 1000}});
        QCOMPARE(m_bench->at(1).values[0], m_bench->at(1).info.parameters[0].maximum);
        QCOMPARE(notice.size(), 1);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("stated range")));
    }

    void eightIsFull()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        for (int i = 0; i < 8; ++i)
            QVERIFY(lineUp().add(reference("gain")) != audition::no_contender);
        QCOMPARE(lineUp().add(reference("gain")), audition::no_contender);
        QCOMPARE(m_bench->candidates(), 8);
        QCOMPARE(notice.size(), 1);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("eight")));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 30000);
    }

    void whatCannotBeHeardIsSaid()
    {
        QSignalSpy notice(&lineUp(), &LineUp::notice);
        QCOMPARE(lineUp().add(QString::fromStdString(test::specimen + "stormglass")), audition::no_contender);
        QCOMPARE(lineUp().add(QStringLiteral("lv2:urn:nobody")), audition::no_contender);
        QCOMPARE(notice.size(), 2);
        QVERIFY(notice[0][0].toString().contains(QStringLiteral("quarantine")));
        QSignalSpy unreadable(&m_bench->desk->transport, &Transport::notice);
        m_bench->desk->transport.load(QStringLiteral("/etc/passwd"));
        QTRY_COMPARE(unreadable.size(), 1);
        QVERIFY(m_bench->desk->transport.source() != nullptr); // the one there was stays
    }

    void whatBreaksOffIsCounted()
    {
        const ContenderId id = lineUp().add(QString::fromStdString(test::specimen + "tidepool-equaliser"));
        lineUp().hear(id); // of those that are not audible nobody hears it
        m_bench->desk->transport.play(true);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), id, 10000);
        const std::size_t before = m_bench->desk->transport.underruns().of_lanes;
        test::signalWorkers(SIGSTOP); // as a processor that keeps us waiting
        const bool counted =
            QTest::qWaitFor([&] { return m_bench->desk->transport.underruns().of_lanes > before; });
        test::signalWorkers(SIGCONT);
        QVERIFY(counted);
        const auto said = [&] {
            return std::ranges::any_of(m_bench->window->findChildren<QLabel*>(), [](const QLabel* label) {
                return label->isVisible() && label->text().contains(QStringLiteral(" underrun"));
            });
        };
        QTRY_VERIFY(said());
        m_bench->desk->transport.play(false);
    }

    void settingsOfAnotherVersionDoNoHarm()
    {
        lineUp().add(reference("gain"), {{"gain_db", 500}, {"warmth", 3}});
        QCOMPARE(m_bench->at(1).values[0], 24.0);
        QCOMPARE(m_bench->at(1).settings().size(), std::size_t{1});
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
    }
};

HR_TEST(tst_line_up)
#include "tst_line_up.moc"
