// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is compared with what, matched by what, and kept under which name.
#include "app/workbench.h"
#include "models/line_up_document.h"
#include "widgets/parameter_row.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <fstream>

using namespace hr;
using namespace hr::app;
using audition::Basis;
using test::Workbench;

class tst_comparison : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    LineUp& lineUp() { return m_bench->desk->line_up; }
    SavedLineUps& saved() { return m_bench->desk->saved; }
    bool matched()
    {
        return QTest::qWaitFor([this] { return lineUp().fairWithinLu().has_value(); }, 20000);
    }
    const Contender& at(int place) { return m_bench->at(place); }
    ContenderId add(double gain_db)
    {
        return lineUp().add(QStringLiteral("reference:gain"), {{"gain_db", gain_db}});
    }
    void choose(const QString& box, const QString& choice)
    {
        auto* combo = m_bench->find<QComboBox>(box);
        QVERIFY(combo);
        combo->setFocus();
        for (int i = combo->currentIndex(); i > 0; --i)
            QTest::keyClick(combo, Qt::Key_Up);
        for (int i = 0; i < combo->count() && !combo->currentText().contains(choice); ++i)
            QTest::keyClick(combo, Qt::Key_Down);
        QVERIFY2(combo->currentText().contains(choice), qPrintable(combo->currentText()));
    }
    void start()
    {
        if (m_bench)
            m_bench->window->close();
        m_bench.reset();
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        m_bench->window->showPage(PageName::Listen);
    }

private slots:
    void initTestCase() { start(); }
    void init()
    {
        m_bench->window->setFocus(); // so that keys are nobody's text
        QVERIFY(lineUp().clear());
        lineUp().setRule({});
        m_bench->desk->undo.clear();
        add(6);
        add(-4);
        QVERIFY(matched());
    }

    void aGainByHandIsKeptAndSaid()
    {
        auto* gain = m_bench->find<QLineEdit>(QStringLiteral("matched by"));
        QVERIFY(gain);
        gain->setFocus();
        gain->selectAll();
        QTest::keyClicks(gain, QStringLiteral("-1.5 dB"));
        QTest::keyClick(gain, Qt::Key_Return);
        QCOMPARE(*at(0).by_hand_db, -1.5); // the first row: the source
        HR_NEAR(*at(1).apart_lu, -2.5, 0.01);
        QVERIFY(m_bench->says(QStringLiteral("by hand")) &&
                m_bench->says(QStringLiteral("unmatched by up to 2.5 LU")));
        QVERIFY(!m_bench->desk->trials.abx.disabledReason(at(1).id, at(0).id).isEmpty());
        m_bench->desk->undo.undo();
        QVERIFY(!at(0).by_hand_db);
        QVERIFY(m_bench->says(QStringLiteral("fair within 0.0")));
        // As the matching would: nothing by hand.
        m_bench->desk->edits.setByHand(at(1).id, at(1).matched_db + 0.01);
        QVERIFY(!at(1).by_hand_db);
        m_bench->desk->edits.setByHand(at(1).id, -3);
        QCOMPARE(at(1).gain_db, -3.0);
        QVERIFY(matched());
        HR_NEAR(at(2).gain_db, 0, 0.001); // the others are where they would be without it
    }

    void anyCandidateCanBeTheReference()
    {
        m_bench->press(Qt::Key_2);
        m_bench->press(Qt::Key_R);
        QCOMPARE(lineUp().reference(), at(2).id);
        m_bench->press(Qt::Key_1);
        m_bench->press(Qt::Key_0);
        QCOMPARE(lineUp().wanted(), at(2).id);
        m_bench->press(Qt::Key_U);
        QCOMPARE(lineUp().wanted(), LineUp::untreated);
        // All three are the same once they are matched.
        QTRY_VERIFY_WITH_TIMEOUT(at(0).difference && at(1).difference, 20000);
        QVERIFY(lineUp().differenceDb(at(1)).value_or(-200) < -100);
        m_bench->desk->edits.remove(at(2).id);
        QCOMPARE(lineUp().reference(), LineUp::untreated);
        m_bench->desk->undo.undo();
        QCOMPARE(lineUp().reference(), at(2).id);
        choose(QStringLiteral("the reference"), QStringLiteral("the source"));
        QCOMPARE(lineUp().reference(), LineUp::untreated);
    }

    void theDifferenceFollowsWhatIsTurned()
    {
        const ContenderId leveller =
            lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"), {{"threshold_db", -40}});
        QVERIFY(matched());
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().find(leveller)->difference, 20000);
        const double before = *lineUp().differenceDb(*lineUp().find(leveller));
        const auto threshold = *lineUp().find(leveller)->info.parameterIndex("threshold_db");
        lineUp().setValue(leveller, threshold, 0);
        QTRY_VERIFY_WITH_TIMEOUT(
            matched() && lineUp().differenceDb(*lineUp().find(leveller)).value_or(-200) < before - 20, 20000);
        m_bench->press(Qt::Key_D);
        QVERIFY(m_bench->desk->transport.hearsDifference());
        QVERIFY(m_bench->says(QStringLiteral("difference")));
        m_bench->press(Qt::Key_D);
        QVERIFY(!m_bench->desk->transport.hearsDifference());
    }

    void oneBandIsTheSameEverywhere()
    {
        m_bench->press(Qt::Key_N);
        QVERIFY(m_bench->says(QStringLiteral("200–2000 Hz")));
        QTRY_VERIFY(m_bench->find<QLineEdit>(QStringLiteral("band from")));
        auto* from = m_bench->find<QLineEdit>(QStringLiteral("band from"));
        from->setFocus();
        from->selectAll();
        QTest::keyClicks(from, QStringLiteral("3k"));
        QTest::keyClick(from, Qt::Key_Return);
        // The other edge is taken along.
        QCOMPARE(*m_bench->desk->transport.monitor().band, (audition::Band{3000, 3000}));
        QVERIFY(m_bench->window->minimumSizeHint().width() <= 1100);
        m_bench->window->setFocus();
        m_bench->press(Qt::Key_N);
        QVERIFY(!m_bench->desk->transport.monitor().band);
    }

    void metersAreOfWhoIsAudible()
    {
        LiveTap& live = m_bench->desk->live;
        QVERIFY(!live.hasAny()); // nobody looks
        m_bench->press(Qt::Key_V);
        const auto* integrated = m_bench->find<QLabel>(QStringLiteral("integrated"));
        QVERIFY(integrated);
        lineUp().hear(at(1).id);
        m_bench->desk->transport.play(true);
        QTRY_COMPARE_WITH_TIMEOUT(live.contender(), at(1).id, 10000);
        QTRY_VERIFY_WITH_TIMEOUT(live.hasAny() && live.gain().steps().size() > 100, 20000);
        for (const auto& step : live.gain().steps())
            if (step.gain_db)
                HR_NEAR(*step.gain_db, 6, 0.01); // what it does, and not what the matching does
        QVERIFY(live.levels().read().integrated_lufs);
        QTRY_VERIFY(integrated->text().endsWith(QStringLiteral("LUFS")));
        lineUp().hear(at(2).id);
        QTRY_COMPARE_WITH_TIMEOUT(live.contender(), at(2).id, 10000);
        QTRY_VERIFY_WITH_TIMEOUT(live.hasAny() && live.gain().steps().size() > 20, 20000);
        HR_NEAR(live.gain().steps().back().gain_db.value_or(-4), -4, 0.01);
        m_bench->desk->transport.play(false);
        m_bench->press(Qt::Key_V);
        QVERIFY(!live.hasAny());
    }

    void timesAreTypedAsNotes()
    {
        m_bench->desk->tempo.type(QStringLiteral("0"));
        lineUp().add(QStringLiteral("reference:feedback-delay"));
        const auto field = [this]() -> QLineEdit* {
            for (auto* row : m_bench->window->findChildren<ParameterRow*>())
                for (auto* edit : row->findChildren<QLineEdit*>())
                    if (edit->isVisible() && edit->accessibleName() == QStringLiteral("Delay"))
                        return edit;
            return nullptr;
        };
        const auto type = [&field](const QString& text) {
            QTRY_VERIFY(field());
            QLineEdit* edit = field();
            edit->setFocus();
            edit->selectAll();
            QTest::keyClicks(edit, text);
            QTest::keyClick(edit, Qt::Key_Return);
        };
        const double before = at(3).values[0];
        type(QStringLiteral("1/8."));
        QCOMPARE(at(3).values[0], before); // there is no tempo, which is said
        for (const QString& nonsense : {QStringLiteral("fast"), QStringLiteral("7"), QStringLiteral("-3")}) {
            m_bench->desk->tempo.type(nonsense);
            QCOMPARE(m_bench->desk->tempo.bpm(), 0.0);
        }
        m_bench->desk->tempo.type(QStringLiteral("120 bpm"));
        QVERIFY(m_bench->says(QStringLiteral("120 bpm")));
        QVERIFY(m_bench->desk->alternation.hasBars());
        type(QStringLiteral("1/8."));
        HR_NEAR(at(3).values[0], 375, 1e-6);
        start(); // it is kept for the file
        QCOMPARE(m_bench->desk->tempo.bpm(), 120.0);
        m_bench->desk->tempo.type(QStringLiteral("0"));
    }

    void otherBasesAreMatchedToAndSaid()
    {
        lineUp().add(QString::fromStdString(test::specimen + "tidepool-equaliser"), {{"low_db", -12}});
        QVERIFY(matched());
        const double by_loudness = at(3).gain_db;
        choose(QStringLiteral("matched by"), QStringLiteral("RMS"));
        QCOMPARE(lineUp().rule().basis, Basis::Rms);
        QVERIFY(std::abs(at(3).gain_db - by_loudness) > 0.3);
        QVERIFY(m_bench->says(QStringLiteral("matched by RMS")));
        choose(QStringLiteral("matched by"), QStringLiteral("one band"));
        QVERIFY(m_bench->find<QLineEdit>(QStringLiteral("band from")));
        QVERIFY(matched());
        QVERIFY(at(3).loop.levels.band_lufs);
        QVERIFY(m_bench->window->minimumSizeHint().width() <= 1100);
        choose(QStringLiteral("matched by"), QStringLiteral("nothing"));
        QCOMPARE(at(1).gain_db, 0.0);
        QVERIFY(m_bench->says(QStringLiteral("not matched")));
        while (lineUp().rule() != audition::MatchRule())
            m_bench->desk->undo.undo();
        HR_NEAR(at(3).gain_db, by_loudness, 0.05);
    }

    void presetsAreSteppedThroughMatched()
    {
        const ContenderId id = lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"));
        QVERIFY(matched());
        const auto contender = [&]() -> const Contender& { return *lineUp().find(id); };
        const auto presets = m_bench->desk->settings.presets(contender());
        QVERIFY(presets.size() > 2);
        m_bench->press(Qt::Key_3);
        m_bench->desk->transport.play(true);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), id, 10000);
        const auto before = contender().values;
        const auto generation = contender().generation;
        m_bench->press(Qt::Key_Period);
        QCOMPARE(contender().values, before); // it is not heard before it is matched
        QVERIFY(contender().pending);
        m_bench->press(Qt::Key_Period); // faster than it is matched: the last one counts
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().generation, generation + 1);
        QCOMPARE(contender().preset->name, presets[2].name);
        for (const auto& [key, value] : presets[2].settings)
            HR_NEAR(contender().values[*contender().info.parameterIndex(key)], value, 1e-6);
        QCOMPARE(contender().match, MatchState::Matched);
        HR_NEAR(*contender().apart_lu, 0, 0.01);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), id, 10000);
        QVERIFY(m_bench->says(presets[2].name));
        // A move makes it another's; back it is the preset before, matched again.
        lineUp().setValue(id, 0, contender().values[0] - 1);
        QVERIFY(m_bench->says(QStringLiteral("(changed)")));
        m_bench->press(Qt::Key_Comma);
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().preset->name, presets[1].name);
        m_bench->desk->undo.undo();
        m_bench->desk->undo.undo();
        m_bench->desk->undo.undo();
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().values, before);
        m_bench->desk->transport.play(false);
    }

    void whatIsHeldStays()
    {
        const ContenderId id = lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"));
        const auto contender = [&]() -> const Contender& { return *lineUp().find(id); };
        lineUp().hear(id);
        QTRY_VERIFY(m_bench->find<QLabel>(QStringLiteral("Ratio")));
        QTest::mouseClick(m_bench->find<QLabel>(QStringLiteral("Ratio")), Qt::LeftButton);
        const auto ratio = *contender().info.parameterIndex("ratio");
        QVERIFY(contender().held.contains(ratio));
        QVERIFY(m_bench->says(QStringLiteral("Ratio · held")));
        const auto before = contender().values;
        m_bench->press(Qt::Key_R, Qt::ControlModifier | Qt::ShiftModifier);
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().values[ratio], before[ratio]);
        QVERIFY(contender().values != before);
        for (std::size_t i = 0; i < before.size(); ++i)
            QVERIFY(contender().info.parameters[i].allows(contender().values[i]));
        // Snapshots, and what is copied to another of the same processor.
        const auto random = contender().values;
        m_bench->press(Qt::Key_F5, Qt::ShiftModifier);
        m_bench->press(Qt::Key_Backspace, Qt::ControlModifier);
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().values, before);
        m_bench->press(Qt::Key_F5);
        QTRY_VERIFY_WITH_TIMEOUT(!contender().pending, 20000);
        QCOMPARE(contender().values, random);
        m_bench->press(Qt::Key_F6); // nothing was stored there
        QVERIFY(!contender().pending);
        m_bench->press(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
        const ContenderId other = lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"));
        lineUp().hear(other);
        m_bench->press(Qt::Key_V, Qt::ControlModifier | Qt::ShiftModifier);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().find(other)->values, random, 20000);
        QVERIFY(!m_bench->desk->settings.pasteDisabledReason(at(1).id).isEmpty()); // of another processor
    }

    void aKnobGivesAFailedOneAnotherChance()
    {
        // Its process is killed: it fails, says so, and comes back with the next move.
        const ContenderId id = lineUp().add(QString::fromStdString(test::specimen + "cordage-leveller"));
        m_bench->desk->transport.play(true);
        lineUp().hear(id);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().audible(), id, 20000);
        QVERIFY(matched());
        test::killWorkers();
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().find(id)->match, MatchState::Failed, 20000);
        QVERIFY(!lineUp().find(id)->fault.isEmpty());
        lineUp().setValue(id, 0, lineUp().find(id)->values[0] - 3);
        QTRY_COMPARE_WITH_TIMEOUT(lineUp().find(id)->match, MatchState::Matched, 20000);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().isReady(id), 20000);
        m_bench->desk->transport.play(false);
    }

    void aChainIsKeptWithItsGain()
    {
        chain::Chain chain;
        chain.name = "Two levels";
        chain.nodes.resize(2);
        for (std::size_t i = 0; i < 2; ++i) {
            chain.nodes[i].id = "s" + std::to_string(i + 1);
            chain.nodes[i].processor = "reference:gain";
        }
        const ContenderId id = lineUp().addChain(chain);
        QTRY_VERIFY_WITH_TIMEOUT(lineUp().find(id)->isOpen(), 20000);
        lineUp().setByHand(id, -4);
        const auto document = toDocument(lineUp(), m_bench->desk->transport);
        fromDocument(document, lineUp(), m_bench->desk->transport);
        QCOMPARE(m_bench->candidates(), 3);
        QTRY_VERIFY_WITH_TIMEOUT(at(3).isOpen(), 20000);
        QCOMPARE(at(3).chain->name, std::string("Two levels"));
        QCOMPARE(*at(3).by_hand_db, -4.0);
        QVERIFY(isSame(toDocument(lineUp(), m_bench->desk->transport), document));
        QVERIFY(m_bench->desk->settings.presets(at(3)).empty());
        QVERIFY(matched());
    }

    void rowsAreMovedAndDoubled()
    {
        lineUp().hear(at(1).id);
        const ContenderId first = at(1).id;
        m_bench->press(Qt::Key_Down, Qt::AltModifier);
        QCOMPARE(lineUp().placeOf(first), 2);
        m_bench->press(Qt::Key_D, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(m_bench->candidates(), 3);
        QCOMPARE(at(3).values, at(2).values);
        QVERIFY(at(3).id != at(2).id && at(3).mark != at(2).mark);
        m_bench->desk->undo.undo();
        m_bench->desk->undo.redo();
        QCOMPARE(m_bench->candidates(), 3);
        m_bench->desk->undo.undo();
        m_bench->desk->undo.undo();
        QCOMPARE(lineUp().placeOf(first), 1);
    }

    void aLineUpIsKeptUnderAName()
    {
        lineUp().setReference(at(1).id);
        lineUp().setByHand(at(2).id, -2.5);
        m_bench->desk->transport.setLoop({48000, 96000});
        m_bench->press(Qt::Key_S, Qt::ControlModifier);
        auto* name = qobject_cast<QLineEdit*>(QApplication::activePopupWidget()
                                                  ? QApplication::activePopupWidget()->findChild<QLineEdit*>()
                                                  : nullptr);
        QVERIFY(name);
        QTest::keyClicks(name, QStringLiteral("Which glues the brass"));
        QTest::keyClick(name, Qt::Key_Return);
        QVERIFY(m_bench->says(QStringLiteral("Which glues the brass")));
        QVERIFY(!saved().hasChanged());
        const qint64 row_id = saved().current();

        lineUp().remove(at(2).id);
        QVERIFY(saved().hasChanged());
        saved().open(row_id);
        QCOMPARE(m_bench->candidates(), 2);
        QCOMPARE(*at(2).by_hand_db, -2.5);
        QCOMPARE(lineUp().reference(), at(1).id);
        m_bench->desk->undo.undo();
        QCOMPARE(m_bench->candidates(), 1);
        m_bench->desk->undo.redo();

        // A name that is taken, and none at all.
        saved().saveAs(QStringLiteral(" Which glues the brass "));
        QCOMPARE(saved().current(), row_id);
        saved().saveAs({});
        QCOMPARE(saved().all().size(), std::size_t{1});

        start();
        QCOMPARE(saved().current(), row_id);
        QTRY_VERIFY(!saved().hasChanged());
        saved().rename(QStringLiteral("Brass"));
        saved().remove(row_id);
        QVERIFY(saved().all().empty() && saved().current() == 0);
        m_bench->desk->undo.undo();
        QCOMPARE(saved().all().at(0).name, QStringLiteral("Brass"));
        QCOMPARE(saved().current(), row_id);
    }

    void filesGoRoundAndNonsenseIsRefused()
    {
        lineUp().setByHand(at(1).id, -1);
        lineUp().hold(at(1).id, 0, true);
        lineUp().setPreset(at(2).id, {QStringLiteral("own:7"), QStringLiteral("Soft"), true});
        lineUp().setSnapshot(at(2).id, 3, std::vector<double>{-11});
        const auto before = toDocument(lineUp(), m_bench->desk->transport);
        const QString file = m_data.filePath(QStringLiteral("line-up.json"));
        saved().exportTo(file);
        QVERIFY(lineUp().clear());
        saved().import(file);
        QVERIFY(isSame(toDocument(lineUp(), m_bench->desk->transport), before));
        QVERIFY(at(1).held.contains(0) && at(2).preset->changed);
        QCOMPARE(at(2).snapshots[3]->front(), -11.0);
        for (const char* nonsense : {"{", "[]", "{\"format\": 3}",
                                     "{\"format\": \"honest-rack-line-up\", "
                                     "\"version\": 2, \"candidates\": []}"}) {
            std::ofstream(file.toStdString()) << nonsense;
            saved().import(file);
            QCOMPARE(m_bench->candidates(), 2);
        }
        std::ofstream(file.toStdString())
            << "{\"format\": \"honest-rack-line-up\", \"version\": 1, \"source\": 7, \"match\": [], "
               "\"reference\": \"Q\", \"candidates\": [3, {}, {\"processor\": \"lv2:urn:gone\", \"title\": "
               "\"Gone\", \"letter\": \"C\", \"settings\": {\"x\": 2}}, {\"processor\": "
               "\"reference:gain\", \"letter\": \"C\"}]}";
        saved().import(file);
        QCOMPARE(m_bench->candidates(), 2);
        QCOMPARE(at(1).title, QStringLiteral("Gone"));
        QCOMPARE(at(1).mark, 3);
        QCOMPARE(at(2).mark, 1); // its letter was taken
        QVERIFY(!at(1).isOpen());
        // What is not installed goes on as it was.
        const auto kept = toDocument(lineUp(), m_bench->desk->transport);
        QCOMPARE(kept["candidates"][0]["settings"]["x"].get<double>(), 2.0);
    }
};

HR_TEST(tst_comparison)
#include "tst_comparison.moc"
