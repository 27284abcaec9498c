// SPDX-License-Identifier: GPL-3.0-or-later
//
// The same processor twice, chains, and what comes back: measured, undone, restored after a restart and at
// another rate, each by what it is and never by its place or title.
#include "app/workbench.h"

#include <QSignalSpy>
#include <QUndoStack>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_doubles : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    LineUp& lineUp() const { return desk().line_up; }

    static chain::Chain chainOf(const std::string& name, const std::vector<std::string>& ids)
    {
        chain::Chain made{name, {}};
        for (const std::string& id : ids)
            chain::addStage(made, id);
        return made;
    }
    void addTwoGains() const
    {
        for (const double gain_db : {-6.0, -9.0})
            lineUp().add(QStringLiteral("reference:gain"), {{"gain_db", gain_db}});
    }
    /// The gain that was measured of who stands at this place.
    std::optional<double> measuredGain(int place) const
    {
        const auto readings = desk().store->runs.of(desk().bench.setUpOf(m_bench->at(place)));
        for (const library::StoredReading& one : *readings)
            if (one.test == QStringLiteral("response"))
                return one.reading.number("gain_1k_db");
        return std::nullopt;
    }
    /// The buttons of this name or text that are shown, from above.
    QList<QPushButton*> buttons(const QString& text) const
    {
        QList<QPushButton*> found;
        for (auto* one : m_bench->window->findChildren<QPushButton*>())
            if (one->isVisible() && (one->text() == text || one->accessibleName() == text))
                found << one;
        std::ranges::sort(found, {}, [](const QWidget* one) { return one->mapToGlobal(QPoint()).y(); });
        return found;
    }
    QStringList titles() const
    {
        QStringList all;
        for (const Contender& one : lineUp().candidates())
            all << one.title;
        return all;
    }

private slots:
    void init()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        while (m_bench->candidates() > 0)
            lineUp().remove(m_bench->idAt(1));
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanup() { m_bench.reset(); }

    void eachRowMeasuresItself()
    {
        addTwoGains();
        QTRY_COMPARE(buttons(QStringLiteral("Measure")).size(), 2);
        QTest::mouseClick(buttons(QStringLiteral("Measure"))[1], Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(desk().bench.waiting(), 0, 60000);
        QVERIFY(!measuredGain(1));
        HR_NEAR(measuredGain(2).value_or(99), -9, 0.01);
        m_bench->window->showPage(PageName::Measure);
        QTest::mouseClick(m_bench->button(QStringLiteral("Measure all")), Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(desk().bench.waiting(), 0, 60000);
        HR_NEAR(measuredGain(1).value_or(99), -6, 0.01);
        lineUp().setValue(m_bench->idAt(2), 0, -3); // it is another thing now
        QVERIFY(!measuredGain(2));
        lineUp().setValue(m_bench->idAt(2), 0, -9);
        HR_NEAR(measuredGain(2).value_or(99), -9, 0.01);
    }

    void chainsOfOneTitleAreMeasuredApart()
    {
        lineUp().addChain(chainOf("Quay", {"reference:gain"}));
        lineUp().addChain(chainOf("Quay", {"reference:hard-clip"}));
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(1).isOpen() && m_bench->at(2).isOpen(), 10000);
        desk().routes.measure(m_bench->idAt(2));
        QTRY_COMPARE_WITH_TIMEOUT(desk().bench.waiting(), 0, 60000);
        QVERIFY(!measuredGain(1));
        QVERIFY(measuredGain(2));
    }

    void whatIsRemovedComesBackAsItWas()
    {
        addTwoGains();
        const ContenderId chain = lineUp().addChain(chainOf("Dusk", {"reference:gain"}), 2);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().find(chain)->isOpen(), 10000);
        const QStringList before = titles();
        QTRY_COMPARE(buttons(QStringLiteral("remove Dusk from the line-up")).size(), 1);
        QTest::mouseClick(buttons(QStringLiteral("remove Dusk from the line-up"))[0], Qt::LeftButton);
        QTRY_VERIFY(!lineUp().find(chain));
        const ContenderId second = m_bench->idAt(2);
        QTRY_COMPARE(buttons(QStringLiteral("remove Gain from the line-up")).size(), 2);
        QTest::mouseClick(buttons(QStringLiteral("remove Gain from the line-up"))[1], Qt::LeftButton);
        QTRY_VERIFY(!lineUp().find(second));
        desk().undo.undo();
        desk().undo.undo();
        QCOMPARE(titles(), before);
        QCOMPARE(lineUp().placeOf(chain), 2); // under its own id
        QCOMPARE(lineUp().find(second)->values[0], -9.0);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().find(chain)->isOpen(), 10000);
        desk().undo.redo();
        QVERIFY(!lineUp().find(chain) && lineUp().find(second));
    }

    void aSessionKeepsOrderChoiceAndWhatCannotBeOpened()
    {
        addTwoGains();
        lineUp().addChain(chainOf("breaks", {test::specimen + "stormglass"}), 1);
        const ContenderId dusk = lineUp().addChain(chainOf("Dusk", {"reference:gain"}), 2);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().find(dusk)->isOpen() && !m_bench->at(1).fault.isEmpty(), 20000);
        lineUp().hear(dusk);
        lineUp().move(m_bench->idAt(4), 1);
        const QStringList before = titles();
        const int wanted = m_bench->wanted();
        QCOMPARE(wanted, 3);
        m_bench->window->close();
        m_bench.reset();
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(titles(), before);
        QCOMPARE(m_bench->wanted(), wanted);
        QCOMPARE(m_bench->at(1).values[0], -9.0);
        QTRY_VERIFY_WITH_TIMEOUT(!m_bench->at(2).fault.isEmpty(), 20000); // it stays, and says why
        QCOMPARE(m_bench->at(2).chain->nodes.front().processor, test::specimen + "stormglass");
    }

    void anotherRateLosesNothing()
    {
        addTwoGains();
        lineUp().hear(m_bench->idAt(2));
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        Transport& transport = desk().transport;
        transport.setLoop({48000, 48000});
        transport.play(true);
        const ContenderId heard = m_bench->idAt(2);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), heard, 10000);
        emit desk().output.opened(96000); // as of a device of this rate
        transport.setLevel(-6);           // while the source is loaded for it
        QTRY_COMPARE_WITH_TIMEOUT(transport.rateHz(), 96000.0, 20000);
        QCOMPARE(transport.levelDb(), -6.0);
        transport.setLevel(0);
        QVERIFY(transport.isPlaying());
        QCOMPARE(transport.loop(), (audition::Section{96000, 96000}));
        QCOMPARE(lineUp().wanted(), heard);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), heard, 20000);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(lineUp().find(heard)->gain_db, 0, 0.05); // the quietest of the three
        transport.play(false);
    }

    /// At a start with a session both come at once.
    void aDeviceThatOpensWhileASourceLoadsIsPlayed()
    {
        QTRY_VERIFY(desk().transport.hasSource());
        desk().transport.load(desk().sources.next(desk().transport.sourceFile()));
        const QSignalSpy replaced(&desk().output, &OutputSwitch::changed);
        emit desk().output.opened(desk().transport.rateHz());
        QVERIFY(replaced.count() > 0);
    }

    void theChosenDeviceIsKeptWhileItIsAway()
    {
        desk().output.choose({"JACK", "nobody runs it"});
        QTRY_VERIFY_WITH_TIMEOUT(desk().output.chosen().system == "JACK", 10000);
        m_bench->window->close();
        m_bench.reset();
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(desk().output.inUse().system, std::string("silent"));
        m_bench->window->close();
        QCOMPARE(Session::device(Session::stored(*desk().store)).system, std::string("JACK"));
        desk().output.choose({"silent", ""});
        m_bench->window->close();
    }

    void matchesDoNotPileUp()
    {
        addTwoGains();
        for (int i = 0; i < 200; ++i) {
            lineUp().setValue(m_bench->idAt(1), 0, -0.1 * i);
            QTest::qWait(1);
            QVERIFY(desk().jobs.list().size() <= 3);
        }
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().fairWithinLu().has_value(), 20000);
        HR_NEAR(m_bench->at(0).gain_db, -19.9, 0.05);
    }

    void closingWaitsForNothing_data()
    {
        QTest::addColumn<QString>("what");
        for (const char* what : {"scan", "measure", "search", "match", "load", "self-check", "sweep", "fit",
                                 "comparison", "alike"})
            QTest::newRow(what) << QString::fromLatin1(what);
    }
    void closingWaitsForNothing()
    {
        QFETCH(QString, what);
        lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"));
        if (what == QStringLiteral("scan")) {
            HR_VERIFY(
                desk().store->folders.add(QString::fromStdString(test::faulty_bundle.parent_path().string())));
            desk().scan.start();
        } else if (what == QStringLiteral("measure")) {
            desk().routes.measure(m_bench->idAt(1));
        } else if (what == QStringLiteral("search")) {
            desk().fault_search.start({QString::fromStdString(test::specimen + "ferrylight"),
                                       QString::fromStdString(test::specimen + "cordage-leveller")});
        } else if (what == QStringLiteral("sweep")) {
            desk().sweep.start(m_bench->at(1), {{0, -40, 0, 9}, {}, {"transfer", "threshold_db", 1}});
        } else if (what == QStringLiteral("fit")) {
            const ContenderId like = lineUp().add(QStringLiteral("reference:compressor"));
            desk().fit.start(like, m_bench->idAt(1), {{0}, {"transfer"}});
        } else if (what == QStringLiteral("comparison")) {
            lineUp().add(QStringLiteral("reference:compressor"));
            desk().comparing.start(m_bench->idAt(1));
        } else if (what == QStringLiteral("alike")) {
            desk().similar.compare(m_bench->at(1).processor, {QStringLiteral("reference:compressor")});
        } else if (what == QStringLiteral("match")) {
            lineUp().setValue(m_bench->idAt(1), 0, -40);
        } else if (what == QStringLiteral("load")) {
            desk().transport.load(desk().sources.next(desk().transport.sourceFile()));
        } else {
            m_bench->window->showPage(PageName::Measure);
            QTest::mouseClick(m_bench->button(QStringLiteral("Check the bench")), Qt::LeftButton);
        }
        QTest::qWait(120);
        m_bench->window->close();
        QVERIFY(desk().end(std::chrono::milliseconds(2000))); // all of it heeds the wish to end
        if (what == QStringLiteral("scan"))
            HR_VERIFY(desk().store->folders.remove(
                QString::fromStdString(test::faulty_bundle.parent_path().string())));
    }
};

HR_TEST(tst_doubles)
#include "tst_doubles.moc"
#include <QSignalSpy>
