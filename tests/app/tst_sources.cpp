// SPDX-License-Identifier: GPL-3.0-or-later
//
// The list of sources and what is said of them, by hand and with nonsense.
#include "app/workbench.h"
#include "signal/audio_file.h"
#include "widgets/waveform_view.h"

#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <fstream>

using namespace hr;
using namespace hr::app;

class tst_sources : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<test::Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    SourceNotes& notes() const { return desk().source_notes; }
    /// The little sheet that asks for something, filled in.
    void answer(const QString& text) const
    {
        QLineEdit* asked = nullptr;
        QTRY_VERIFY((asked = qobject_cast<QLineEdit*>(QApplication::focusWidget())) &&
                    asked->window()->isVisible());
        asked->setText(text); // which QTest cannot type where it is not ASCII
        QTest::keyClick(asked, Qt::Key_Return);
    }
    QAction* entry(const QString& words) const
    {
        for (auto* menu : m_bench->window->findChildren<QMenu*>())
            for (QAction* action : menu->actions())
                if (action->text().startsWith(words))
                    return action;
        return nullptr;
    }
    void closeMenus() const
    {
        for (auto* menu : m_bench->window->findChildren<QMenu*>())
            menu->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    }

private slots:
    void init()
    {
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        desk().transport.load(desk().sources.first());
        QVERIFY(m_bench->plays(desk().sources.first()));
        m_bench->window->showPage(PageName::Listen);
        m_bench->window->setFocus();
    }
    void cleanup() { m_bench.reset(); }

    void theLevelIsTyped_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("level_db");
        QTest::addColumn<bool>("refused");
        QTest::newRow("a level") << QStringLiteral("-6") << -6.0 << false;
        QTest::newRow("with its unit and a real minus") << QStringLiteral("−4,5 dB") << -4.5 << false;
        QTest::newRow("too much") << QStringLiteral("30") << 0.0 << true;
        QTest::newRow("nonsense") << QStringLiteral("loud") << 0.0 << true;
    }
    void theLevelIsTyped()
    {
        QFETCH(QString, text);
        QFETCH(double, level_db);
        QFETCH(bool, refused);
        m_bench->press(Qt::Key_L, Qt::ShiftModifier);
        answer(text);
        QCOMPARE(desk().transport.levelDb(), level_db);
        if (refused)
            QVERIFY(m_bench->says(QStringLiteral("is not a level")));
        else
            QVERIFY(m_bench->says(QStringLiteral(" dB"))); // beside the source's name
        desk().transport.setLevel(0);
    }

    void theSectionIsTyped()
    {
        m_bench->press(Qt::Key_E);
        answer(QStringLiteral("1 to 2.5"));
        QCOMPARE(desk().transport.loop(), (audition::Section{48000, 72000}));
        m_bench->press(Qt::Key_E);
        answer(QStringLiteral("sideways"));
        QCOMPARE(desk().transport.loop().first, std::size_t{48000});
        QVERIFY(m_bench->says(QStringLiteral("is not a section")));
    }

    void sectionsHaveNamesOfTheirOwn()
    {
        notes().typeSection(QStringLiteral("1 to 2"));
        notes().keepSection(QStringLiteral("  the   entry "));
        notes().typeSection(QStringLiteral("3 to 4"));
        notes().keepSection(QStringLiteral("the entry")); // in the place of the other
        QCOMPARE(notes().sections().size(), std::size_t{1});
        QCOMPARE(notes().sections().front().first_s, 3.0);
        notes().keepSection(QStringLiteral("   "));
        QCOMPARE(notes().sections().size(), std::size_t{1});
        desk().undo.undo();
        QCOMPARE(notes().sections().front().first_s, 1.0);
        QTest::mouseClick(m_bench->button(QStringLiteral("Sources")), Qt::LeftButton);
        QAction* named = entry(QStringLiteral("the entry"));
        QVERIFY(named);
        named->trigger();
        closeMenus();
        QCOMPARE(desk().transport.loop(), (audition::Section{48000, 48000}));
        desk().undo.undo();
        QVERIFY(notes().sections().empty());
    }

    void itsPurposeIsSaidWhereItIsListed()
    {
        notes().setRole(QStringLiteral("full mix & more"));
        QVERIFY(m_bench->says(QStringLiteral("full mix & more")));
        QTest::mouseClick(m_bench->button(QStringLiteral("Sources")), Qt::LeftButton);
        QAction* listed = entry(desk().sources.of(desk().transport.sourceFile()).name);
        QVERIFY(listed && listed->isChecked());
        QVERIFY(listed->text().endsWith(QStringLiteral("full mix && more"))); // no mnemonic
        closeMenus();
        desk().undo.undo();
        QVERIFY(!desk().sources.of(desk().transport.sourceFile()).role.contains(QStringLiteral("more")));
    }

    void whatIsNoSoundIsSaidAndWhatPlaysGoesOn()
    {
        QTemporaryDir folder;
        notes().add({folder.path()});
        QVERIFY(m_bench->says(QStringLiteral("There is no audio file in")));
        const QString broken = folder.filePath(QStringLiteral("broken.wav"));
        std::ofstream(broken.toStdString()) << "RIFF, but not really";
        const QString before = desk().transport.sourceFile();
        notes().add({broken});
        QVERIFY(m_bench->says(QStringLiteral("broken.wav")));
        QCOMPARE(desk().transport.sourceFile(), before);
        notes().forget(before); // delivered with the program: it stays
        QVERIFY(desk().sources.has(before));
    }

    void aTrialLeavesTheSourceAlone()
    {
        desk().line_up.add(QStringLiteral("reference:gain"));
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu(), 20000);
        desk().trials.abx.begin(m_bench->idAt(1), LineUp::untreated, 5);
        QTRY_COMPARE_WITH_TIMEOUT(desk().trials.abx.stage(), BlindTrial::Stage::Asking, 20000);
        const QString before = desk().transport.sourceFile();
        m_bench->press(Qt::Key_S);
        QTest::qWait(100);
        QCOMPARE(desk().transport.sourceFile(), before);
        QVERIFY(desk().trials.isRunning());
        desk().line_up.setUse(LineUp::Use::Send); // nor are candidates used otherwise
        QCOMPARE(desk().line_up.use(), LineUp::Use::Insert);
        desk().line_up.setPart(LineUp::Part::Wet);
        QCOMPARE(desk().line_up.part(), LineUp::Part::Whole);
        desk().line_up.setAmount(m_bench->idAt(1), 20);
        QCOMPARE(m_bench->at(1).amount_percent, 100.0);
        desk().trials.stop();
    }

    void anAmountIsPartOfWhatATrialWasOf()
    {
        while (m_bench->candidates() > 0)
            desk().line_up.remove(m_bench->idAt(1));
        desk().line_up.add(QStringLiteral("reference:gain"));
        desk().line_up.setAmount(m_bench->idAt(1), 40);
        QTRY_VERIFY_WITH_TIMEOUT(desk().line_up.fairWithinLu(), 20000);
        AbxTrial& trial = desk().trials.abx;
        trial.begin(m_bench->idAt(1), LineUp::untreated, 5);
        QTRY_COMPARE_WITH_TIMEOUT(trial.stage(), BlindTrial::Stage::Asking, 20000);
        trial.answer(true);
        desk().trials.stop();
        QCOMPARE(trial.document().at("first").at("amount_percent").get<double>(), 40.0);
        QVERIFY(!trial.document().at("second").contains("amount_percent"));
    }

    void edgesThatAreDraggedSnapToBars()
    {
        desk().tempo.type(QStringLiteral("120"));
        notes().setSnapping(Snapping::Bars);
        auto* wave = m_bench->window->findChild<WaveformView*>();
        QVERIFY(wave);
        const double seconds = desk().transport.source()->seconds();
        const auto x = [&](double at_s) { return static_cast<int>(at_s / seconds * wave->width()); };
        QTest::mousePress(wave, Qt::LeftButton, {}, {x(2.3), 20});
        QTest::mouseMove(wave, {x(4), 20});
        QTest::mouseMove(wave, {x(5.7), 20});
        QTest::mouseRelease(wave, Qt::LeftButton, {}, {x(5.7), 20});
        QCOMPARE(desk().transport.loop(), (audition::Section{96000, 192000}));
        notes().setSnapping(Snapping::Free);
        desk().tempo.type(QStringLiteral("0"));
    }

    /// Where no server answers, and where none is watched.
    void soundFromOutsideNeedsAServer()
    {
        QString told;
        connect(&desk().notices, &Notices::told, this, [&](const QString& text) { told = text; });
        desk().actions.run(QStringLiteral("outside.take"));
        QVERIFY(told.contains(QStringLiteral("No input is watched")));
        desk().outside.watch({"JACK", "nobody"}, 48000);
        QVERIFY(QTest::qWaitFor([&] { return told.contains(QStringLiteral("JACK")); }, 20000));
        QVERIFY(!desk().outside.isWatching());
        desk().outside.watch({"a gramophone", ""}, 48000);
        QVERIFY(QTest::qWaitFor([&] { return told.contains(QStringLiteral("gramophone")); }, 20000));
    }
};

HR_TEST(tst_sources)
#include "tst_sources.moc"
