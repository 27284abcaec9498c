// SPDX-License-Identifier: GPL-3.0-or-later
#include "chain/chain_json.h"
#include "models/line_up_document.h"
#include "pages/listen/contender_row.h"
#include "signal/audio_file.h"
#include "widgets/parameter_row.h"
#include "workbench.h"

#include <QComboBox>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>

using namespace hr;
using namespace hr::app;

/// How the line-up is listened to, and through what.
class tst_listening : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<test::Workbench> m_bench;

    Desk& desk() const { return *m_bench->desk; }
    LineUp& lineUp() const { return desk().line_up; }
    const Contender& at(int place) const { return m_bench->at(place); }
    static constexpr QPoint grip{8, 60}; // of a row: beside its mark

    ContenderRow* rowOf(ContenderId id) const
    {
        for (auto* row : m_bench->window->findChildren<ContenderRow*>())
            if (row->id() == id && row->isVisible())
                return row;
        return nullptr;
    }
    static void drag(ContenderRow* row, int global_y)
    {
        QMouseEvent move(QEvent::MouseMove, row->mapFromGlobal(QPointF(100, global_y)), QPointF(100, global_y),
                         Qt::NoButton, Qt::LeftButton, {});
        QCoreApplication::sendEvent(row, &move);
        QTest::qWait(5);
    }
    QLineEdit* fieldOf(const QString& name) const
    {
        for (auto* edit : m_bench->window->findChildren<QLineEdit*>())
            if (edit->isVisible() && edit->accessibleName() == name)
                return edit;
        return nullptr;
    }
    void type(const QString& field, const QString& text) const
    {
        QTRY_VERIFY(fieldOf(field));
        QLineEdit* edit = fieldOf(field);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
        QTest::keyClick(edit, Qt::Key_Return);
        m_bench->window->setFocus();
    }
    /// What a menu under this button offers, chosen.
    void choose(QWidget* button, const QString& entry) const
    {
        QTest::mouseClick(button, Qt::LeftButton);
        m_bench->choose(entry);
    }

private slots:
    void init()
    {
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        lineUp().clear();
        lineUp().setUse(LineUp::Use::Insert); // the session keeps it
        lineUp().setPart(LineUp::Part::Whole);
        desk().undo.clear();
        m_bench->window->showPage(PageName::Listen);
    }
    void cleanup() { m_bench.reset(); }

    void anAmountIsMixedAndMatched()
    {
        lineUp().add(QStringLiteral("reference:gain"), {{"gain_db", 12}});
        QVERIFY(m_bench->matched());
        HR_NEAR(at(1).gain_db, -12, 0.05);
        type(QStringLiteral("Amount"), QStringLiteral("50"));
        QCOMPARE(at(1).amount_percent, 50.0);
        QVERIFY(m_bench->matched());
        HR_NEAR(at(1).gain_db, -signal::linearToDb(0.5 + 0.5 * signal::dbToLinear(12)), 0.05);
        desk().undo.undo();
        QCOMPARE(at(1).amount_percent, 100.0);
    }

    /// While the amount is still being dragged, and before anything is measured again.
    void theGainGoesAlongWithTheAmount()
    {
        lineUp().add(QStringLiteral("reference:gain"), {{"gain_db", 12}});
        QVERIFY(m_bench->matched());
        QTRY_VERIFY_WITH_TIMEOUT(at(1).mix_loudness, 10000);
        for (const double percent : {70.0, 30.0, 0.0, 100.0}) {
            lineUp().setAmount(m_bench->idAt(1), percent);
            QCOMPARE(at(1).match, MatchState::Waiting);
            const double part = percent / 100;
            HR_NEAR(at(1).gain_db, -signal::linearToDb(1 - part + part * signal::dbToLinear(12)), 0.03);
        }
        lineUp().setValue(m_bench->idAt(1), 0, -6); // of other settings nothing is known yet
        QVERIFY(!at(1).mix_loudness);
        QVERIFY(m_bench->matched());
    }

    void onASendItIsFullyWetBesideTheSource()
    {
        const ContenderId delay = lineUp().add(QStringLiteral("reference:feedback-delay"));
        QVERIFY(m_bench->matched());
        const double before_db = *lineUp().find(delay)->loudnessLufs();
        auto* use = m_bench->find<QComboBox>(QStringLiteral("how the candidates are used"));
        QVERIFY(use);
        use->setCurrentIndex(1);
        emit use->activated(1);
        QCOMPARE(lineUp().use(), LineUp::Use::Send);
        QVERIFY(m_bench->matched());
        type(QStringLiteral("Return"), QStringLiteral("-60"));
        QVERIFY(m_bench->matched());
        // Next to nothing comes back: what is left is the source.
        HR_NEAR(*lineUp().find(delay)->loudnessLufs(), *at(0).loudnessLufs(), 0.1);
        m_bench->press(Qt::Key_D, Qt::ShiftModifier);
        QCOMPARE(lineUp().part(), LineUp::Part::Wet);
        QVERIFY(m_bench->matched());
        QVERIFY(std::abs(*lineUp().find(delay)->loudnessLufs() - *at(0).loudnessLufs()) > 0.2);
        m_bench->press(Qt::Key_D, Qt::ShiftModifier);
        desk().undo.undo(); // the return
        desk().undo.undo(); // the send
        QCOMPARE(lineUp().use(), LineUp::Use::Insert);
        QVERIFY(m_bench->matched());
        HR_NEAR(*lineUp().find(delay)->loudnessLufs(), before_db, 0.05);
    }

    void theKeySignalIsWhatADetectorHears()
    {
        // A chain whose stage listens to the source above 3 kHz, 6 dB down.
        const auto chain = chain::fromJson(nlohmann::ordered_json::parse(
            R"({"format":"honest-rack-chain","version":2,"name":"keyed","nodes":[)"
            R"({"id":"k","kind":"key","level_db":-6,"low_cut_hz":3000},)"
            R"({"id":"s","processor":"lv2:urn:honest-rack:specimens:winch-bus"}],"edges":[)"
            R"({"from":"in","to":"k"},{"from":"in","to":"s"},{"from":"k","to":"s","input":"key"},)"
            R"({"from":"s","to":"out"}]})"));
        HR_VERIFY(chain);
        const ContenderId keyed = lineUp().addChain(*chain);
        const ContenderId plain = lineUp().add(QStringLiteral("reference:compressor"));
        QVERIFY(m_bench->matched());
        m_bench->press(Qt::Key_Y);
        QCOMPARE(lineUp().part(), LineUp::Part::Key);
        QVERIFY(m_bench->matched());
        QCOMPARE(lineUp().keyText(*lineUp().find(keyed)), QStringLiteral("the key of the chain"));
        QVERIFY(*lineUp().find(keyed)->loudnessLufs() < *at(0).loudnessLufs() - 8);
        HR_NEAR(*lineUp().find(plain)->loudnessLufs(), *at(0).loudnessLufs(), 0.05); // nothing measured yet
        QVERIFY(lineUp().keyText(*lineUp().find(plain)).contains(QStringLiteral("measure")));
        m_bench->press(Qt::Key_Y);
        QCOMPARE(lineUp().part(), LineUp::Part::Whole);
        QVERIFY(lineUp().keyText(*lineUp().find(keyed)).isEmpty());
    }

    void theWholeIsKeptInTheDocument()
    {
        lineUp().add(QStringLiteral("reference:feedback-delay"));
        const auto time = *at(1).info.parameterIndex("delay_ms");
        desk().tempo.type(QStringLiteral("120"));
        desk().edits.setValue(m_bench->idAt(1), time, 250, QStringLiteral("1/8"));
        lineUp().setFollowsTempo(m_bench->idAt(1), true);
        lineUp().setAmount(m_bench->idAt(1), 30);
        lineUp().setReturn(m_bench->idAt(1), -6);
        lineUp().setUse(LineUp::Use::Send);
        desk().transport.setLevel(-9);
        const auto document = toDocument(lineUp(), desk().transport);
        lineUp().clear();
        lineUp().setUse(LineUp::Use::Insert);
        desk().transport.setLevel(0);
        fromDocument(document, lineUp(), desk().transport);
        QTRY_COMPARE_WITH_TIMEOUT(desk().transport.levelDb(), -9.0, 10000);
        QCOMPARE(lineUp().use(), LineUp::Use::Send);
        QCOMPARE(at(1).amount_percent, 30.0);
        QCOMPARE(at(1).return_db, -6.0);
        QCOMPARE(at(1).notes.at(time), QStringLiteral("1/8"));
        QVERIFY(at(1).follows_tempo);
        QVERIFY(isSame(toDocument(lineUp(), desk().transport), document));
        desk().transport.setLevel(0);
    }

    void noteValuesFollowTheTempo()
    {
        desk().tempo.type(QStringLiteral("120"));
        lineUp().add(QStringLiteral("reference:feedback-delay"));
        const auto time = *at(1).info.parameterIndex("delay_ms");
        type(QStringLiteral("Delay"), QStringLiteral("1/8"));
        QCOMPARE(at(1).values[time], 250.0);
        desk().tempo.type(QStringLiteral("100"));
        QCOMPARE(at(1).values[time], 250.0); // nobody has asked
        lineUp().hear(m_bench->idAt(1));
        m_bench->press(Qt::Key_T, Qt::AltModifier);
        QCOMPARE(at(1).values[time], 300.0);
        desk().tempo.type(QStringLiteral("125"));
        QCOMPARE(at(1).values[time], 240.0);
        lineUp().setValue(m_bench->idAt(1), time, 111); // a figure
        desk().tempo.type(QStringLiteral("96"));
        QCOMPARE(at(1).values[time], 111.0);
    }

    /// The one that keeps time is matched again, the other is not.
    void whatKeepsTimeIsMatchedAgainAtAnotherTempo()
    {
        desk().tempo.type(QStringLiteral("120"));
        lineUp().add(QString::fromStdString(test::specimen) + QStringLiteral("double-quay"));
        lineUp().add(QStringLiteral("reference:gain"));
        QVERIFY(m_bench->matched());
        QCOMPARE(desk().transport.source()->tempoBpm(), 120.0);
        desk().tempo.type(QStringLiteral("90"));
        QCOMPARE(at(1).match, MatchState::Waiting);
        QCOMPARE(at(2).match, MatchState::Matched);
        QVERIFY(m_bench->matched());
        QCOMPARE(desk().transport.source()->tempoBpm(), 90.0);
        desk().tempo.type(QStringLiteral("0"));
    }

    void theLevelOfTheSourceReachesWhatReactsToIt()
    {
        lineUp().add(QStringLiteral("reference:gate"), {{"threshold_db", -30}});
        QVERIFY(m_bench->matched());
        const double loud = *at(0).loudnessLufs();
        desk().transport.setLevel(-24);
        QTRY_VERIFY_WITH_TIMEOUT(at(0).loudnessLufs().value_or(0) < loud - 23, 20000);
        HR_NEAR(*at(0).loudnessLufs(), loud - 24, 0.05);
        // Its threshold is where it was.
        QTRY_VERIFY_WITH_TIMEOUT(at(1).loudnessLufs().value_or(-200) < loud - 26, 60000);
        desk().transport.setLevel(0);
    }

    void aRowIsDraggedToItsPlace()
    {
        for (int i = 0; i < 3; ++i)
            lineUp().add(QStringLiteral("reference:gain"));
        const ContenderId first = m_bench->idAt(1);
        QTest::qWait(50); // laid out
        ContenderRow* row = rowOf(first);
        QVERIFY(row);
        QTest::mousePress(row, Qt::LeftButton, {}, grip);
        const int end = rowOf(m_bench->idAt(3))->mapToGlobal(QPoint(0, 70)).y();
        for (int step = 0; step < 60 && lineUp().placeOf(first) < 3; ++step)
            drag(row, std::min(end, row->mapToGlobal(grip).y() + 10 * (step + 1)));
        QTest::mouseRelease(row, Qt::LeftButton, {}, grip);
        QVERIFY(lineUp().placeOf(first) > 1);
        desk().undo.undo(); // all of it in one step
        QCOMPARE(lineUp().placeOf(first), 1);
    }

    void draggedToAnEdgeTheRestComesIntoSight()
    {
        for (int i = 0; i < 8; ++i)
            lineUp().add(QStringLiteral("reference:compressor"));
        QTest::qWait(50);
        ContenderRow* row = rowOf(m_bench->idAt(1));
        QVERIFY(row);
        QWidget* list = row->parentWidget()->parentWidget(); // what is in sight of it
        auto* bar = qobject_cast<QScrollArea*>(list->parentWidget())->verticalScrollBar();
        QTRY_VERIFY(bar->maximum() > 0);
        bar->setValue(0);
        const ContenderId dragged = row->id();
        QTest::mousePress(row, Qt::LeftButton, {}, grip);
        for (int step = 0; step < 3; ++step)
            drag(row, list->mapToGlobal(QPoint(0, list->height() - 3 - step)).y());
        QTRY_COMPARE(bar->value(), bar->maximum()); // held there, it goes on by itself
        QTRY_COMPARE(lineUp().placeOf(dragged), 8);
        QTest::mouseRelease(row, Qt::LeftButton, {}, grip);
        desk().undo.undo();
        QCOMPARE(lineUp().placeOf(dragged), 1);
    }

    void sourcesAreAListThatOneKeyStepsThrough()
    {
        QTemporaryDir folder;
        for (const char* name : {"b.wav", "a.wav"})
            QVERIFY(
                signal::writeAudioFile((folder.path() + QLatin1Char('/') + QLatin1String(name)).toStdString(),
                                       test::tone(300, -20, 1))
                    .has_value());
        SourceNotes& notes = desk().source_notes;
        notes.add({folder.path()});
        QVERIFY(m_bench->plays(folder.filePath(QStringLiteral("a.wav"))));
        m_bench->press(Qt::Key_S);
        QVERIFY(m_bench->plays(folder.filePath(QStringLiteral("b.wav"))));
        m_bench->press(Qt::Key_S, Qt::ShiftModifier);
        QVERIFY(m_bench->plays(folder.filePath(QStringLiteral("a.wav"))));
        notes.setRole(QStringLiteral("tone"));
        notes.typeSection(QStringLiteral("0.25 to 0.75"));
        QCOMPARE(desk().transport.loop().first, std::size_t{12000});
        notes.keepSection(QStringLiteral("middle"));
        notes.typeSection(QStringLiteral("back to front"));
        QCOMPARE(desk().transport.loop().first, std::size_t{12000});
        desk().transport.setLoop(desk().transport.source()->whole());
        // The next start knows all of it.
        m_bench->session->save();
        m_bench.reset();
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(desk().sources.of(folder.filePath(QStringLiteral("a.wav"))).role, QStringLiteral("tone"));
        QVERIFY(m_bench->plays(folder.filePath(QStringLiteral("a.wav"))));
        QCOMPARE(desk().source_notes.sections().size(), std::size_t{1});
        desk().source_notes.takeSection(QStringLiteral("middle"));
        QCOMPARE(desk().transport.loop().frames, std::size_t{24000});
        desk().source_notes.removeSection(QStringLiteral("middle"));
        desk().undo.undo();
        QCOMPARE(desk().source_notes.sections().size(), std::size_t{1});
        desk().source_notes.forget(folder.filePath(QStringLiteral("a.wav")));
        QVERIFY(desk().sources.next(folder.filePath(QStringLiteral("b.wav"))) !=
                folder.filePath(QStringLiteral("a.wav")));
    }

    void aGeneratedSoundIsASourceToo()
    {
        choose(m_bench->button(QStringLiteral("Sources")), QStringLiteral("Pink noise"));
        QTRY_COMPARE_WITH_TIMEOUT(desk().transport.sourceFile(), QStringLiteral("generated:pink-noise"), 10000);
        m_bench->session->save();
        m_bench.reset();
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        QCOMPARE(desk().transport.sourceFile(), QStringLiteral("generated:pink-noise"));
        m_bench->press(Qt::Key_S); // recordings again
        QTRY_VERIFY_WITH_TIMEOUT(!desk().transport.sourceFile().startsWith(QStringLiteral("generated")), 10000);
    }

    void theTempoIsEstimatedAndEdgesSnapToIt()
    {
        desk().transport.load(desk().sources.first());
        QTRY_COMPARE_WITH_TIMEOUT(desk().transport.sourceFile(), desk().sources.first(), 10000);
        desk().tempo.type(QStringLiteral("0"));
        m_bench->press(Qt::Key_T, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(desk().tempo.bpm() > 0, 20000);
        desk().tempo.type(QStringLiteral("120")); // a bar is two seconds
        SourceNotes& notes = desk().source_notes;
        notes.setSnapping(Snapping::Bars);
        notes.choose({90000, 100000});
        QCOMPARE(desk().transport.loop(), (audition::Section{96000, 96000}));
        notes.setSnapping(Snapping::Onsets);
        notes.choose({90000 + 1200, 60000}); // the band plays at 96 bpm
        const audition::Section drawn = desk().transport.loop();
        QTRY_VERIFY_WITH_TIMEOUT(desk().transport.loop() != drawn, 20000);
        HR_NEAR(static_cast<double>(desk().transport.loop().first), 90000, 480);
        notes.setSnapping(Snapping::Free);
        desk().transport.setLoop(desk().transport.source()->whole());
    }

    void moreWaysToListenAreAMenuAway()
    {
        QPushButton* more = m_bench->find<QPushButton>(QStringLiteral("more ways to listen"));
        QVERIFY(more);
        choose(more, QStringLiteral("120 Hz"));
        QCOMPARE(desk().transport.monitor().mono_below_hz, std::optional(120.0));
        m_bench->press(Qt::Key_I);
        QVERIFY(desk().transport.monitor().inverted);
        m_bench->press(Qt::Key_Home, Qt::ShiftModifier);
        QVERIFY(desk().transport.isRestarting());
        lineUp().add(QStringLiteral("reference:gain"));
        QVERIFY(m_bench->matched());
        desk().transport.play(true);
        desk().transport.seek(200000);
        QTRY_VERIFY(desk().transport.isSettled());
        lineUp().hear(m_bench->idAt(1));
        QTRY_VERIFY(desk().transport.position() < 100000);
        QTRY_COMPARE(lineUp().audible(), m_bench->idAt(1));
        desk().transport.play(false);
        desk().transport.setRestarting(false);
        desk().transport.setMonitor({});
    }
};

HR_TEST(tst_listening)
#include "tst_listening.moc"
