// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: what is known of the chain as it stands, and its stages in other orders.
#include "app/workbench.h"
#include "chain/chain_json.h"
#include "pages/build/chain_cards.h"
#include "widgets/chain_picture.h"
#include "widgets/level_ladder.h"
#include "widgets/parameter_row.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QListWidget>
#include <QTableWidget>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_build : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    Desk& desk() { return *m_bench->desk; }
    ChainStudy& study() { return desk().study; }
    QTableWidget* orders() { return m_bench->find<QTableWidget>(QStringLiteral("orders of the stages")); }
    ChainPicture* picture() { return m_bench->find<ChainPicture>(QStringLiteral("stages of the chain")); }
    const chain::Chain& draft() { return desk().draft.chain(); }
    /// "peak-filter hard-clip gain" of the chain as it stands.
    QString stages()
    {
        QStringList names;
        for (const chain::Node& node : draft().nodes)
            names << QString::fromStdString(node.processor).section(QLatin1Char(':'), 1);
        return names.join(QLatin1Char(' '));
    }
    void choose(const char* id, bool among_others = false)
    {
        QTest::mouseClick(picture(), Qt::LeftButton, among_others ? Qt::ControlModifier : Qt::NoModifier,
                          picture()->placeOf(QLatin1String(id)).center());
    }
    /// What a search for a processor is answered with.
    void answer(const QString& what, const QString& typed)
    {
        QLineEdit* search = nullptr;
        QVERIFY(QTest::qWaitFor([&] { return (search = m_bench->find<QLineEdit>(what)) != nullptr; }));
        QTest::keyClicks(search, typed);
        QTest::keyClick(search, Qt::Key_Return);
    }
    void openQuay()
    {
        m_bench->window->showPage(PageName::Build);
        chain::Chain chain;
        chain.name = "Quay";
        chain::addStage(chain, "reference:peak-filter").settings = {{"gain_db", 12}};
        chain::addStage(chain, "reference:hard-clip").settings = {{"clip_dbfs", -20}};
        chain::addStage(chain, "reference:gain").settings = {{"gain_db", 24}};
        desk().draft.replaceBy(chain);
    }
    QWidget* ladder() { return m_bench->find<LevelLadder>(QStringLiteral("levels after each stage")); }
    void click(const QString& accessible_name)
    {
        auto* button = m_bench->find<QPushButton>(accessible_name);
        QVERIFY2(button, qPrintable(accessible_name));
        QTest::mouseClick(button, Qt::LeftButton);
    }
    void press(const QString& text)
    {
        auto* button = m_bench->button(text);
        QVERIFY2(button && button->isEnabled(), qPrintable(text));
        QTest::mouseClick(button, Qt::LeftButton);
    }
    bool levelsFor(std::size_t points)
    {
        return QTest::qWaitFor([&] { return study().levels().size() == points; }, 30000);
    }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        desk().transport.play(false);
        openQuay();
    }
    void cleanupTestCase() { m_bench.reset(); }

    /// What was found before an edit is never shown of the chain after it.
    void levelsFollowTheChain()
    {
        QVERIFY(levelsFor(4));
        QVERIFY(ladder()->accessibleDescription().contains(QStringLiteral("3 Gain")));
        const double loud_lufs = *study().levels().back().loudness_lufs;
        QVERIFY(*study().levels().back().true_peak_dbtp > 0);
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 0}}; });
        QVERIFY(study().levels().empty());
        QVERIFY(levelsFor(4));
        HR_NEAR(*study().levels().back().loudness_lufs, loud_lufs - 24, 0.05);
        m_bench->window->showPage(PageName::Find); // nothing is looked at that nobody sees
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 6}}; });
        QTest::qWait(700);
        QVERIFY(study().levels().empty());
        m_bench->window->showPage(PageName::Build);
        QVERIFY(levelsFor(4));
    }

    void ordersAreComparedHeardAndTaken()
    {
        press(QStringLiteral("Compare orders"));
        QVERIFY2(study().orders().why_none.contains(QStringLiteral("Fewer than two")),
                 qPrintable(study().orders().why_none));
        choose("s1");
        choose("s2", true);
        click(QStringLiteral("stage may move"));
        QVERIFY(draft().nodes[0].may_move && draft().nodes[1].may_move);
        press(QStringLiteral("Compare orders"));
        QVERIFY(QTest::qWaitFor([&] { return study().orders().found.has_value(); }, 30000));
        QCOMPARE(orders()->rowCount(), 2);
        QCOMPARE(orders()->item(0, 2)->text(), QStringLiteral("as built"));
        QCOMPARE(orders()->item(1, 0)->text(), QStringLiteral("2 1 \u00b7 Hard clip first"));
        QVERIFY(!m_bench->button(QStringLiteral("Take it"))->isEnabled());
        orders()->setFocus();
        orders()->selectRow(1);
        const int before = m_bench->candidates();
        press(QStringLiteral("Hear it"));
        QVERIFY(QTest::qWaitFor([&] { return m_bench->candidates() == before + 1; }));
        QCOMPARE(m_bench->at(before + 1).title, QStringLiteral("Quay, order 2 1"));
        m_bench->window->showPage(PageName::Build);
        orders()->selectRow(1);
        press(QStringLiteral("Take it"));
        QCOMPARE(desk().draft.chain().nodes.front().id, std::string("s2"));
        QVERIFY(!study().orders().found && orders()->rowCount() == 0); // of another chain nothing is known
        desk().undo.undo();
        QCOMPARE(desk().draft.chain().nodes.front().id, std::string("s1"));
    }

    /// One candidate is whatever part was asked for last; the same key again goes back to the whole.
    void partsAreHeardBesideTheWhole()
    {
        openQuay();
        const int before = m_bench->candidates();
        picture()->setFocus();
        m_bench->press(Qt::Key_G);
        QCOMPARE(m_bench->candidates(), before + 1);
        const ContenderId whole = m_bench->idAt(before + 1);
        choose("s2");
        press(QStringLiteral("Up to here"));
        QVERIFY(QTest::qWaitFor([&] { return m_bench->candidates() == before + 2; }));
        QCOMPARE(m_bench->at(before + 2).title, QStringLiteral("Quay, up to 2"));
        QVERIFY(QTest::qWaitFor([&] { return m_bench->at(before + 2).isOpen(); }, 10000));
        choose("s1");
        m_bench->press(Qt::Key_J);
        const auto withoutFirst = [&] {
            const auto& chain = m_bench->at(before + 2).chain;
            return chain->nodes.size() == 2 && chain->nodes.front().id == "s2";
        };
        QVERIFY(QTest::qWaitFor(withoutFirst, 10000));
        QCOMPARE(m_bench->at(before + 2).title, QStringLiteral("Quay, without 1"));
        QVERIFY(desk().line_up.wanted() == m_bench->idAt(before + 2));
        m_bench->press(Qt::Key_J);
        QVERIFY(desk().line_up.wanted() == whole && m_bench->candidates() == before + 2);
    }

    void whatIsChangedIsHeard()
    {
        const Contender* whole = desk().hearing.whole();
        QVERIFY(whole);
        const ContenderId id = whole->id;
        const auto now = [&]() -> const Contender& { return *desk().line_up.find(id); };
        QVERIFY(QTest::qWaitFor([&] { return now().match == MatchState::Matched; }, 10000));
        // A value goes to what plays; taking it back is one step, however often it was turned.
        choose("s3");
        auto* gain = m_bench->find<Track>(QStringLiteral("Gain"));
        QVERIFY(gain);
        const auto generation = now().generation;
        const double before_db = gain->value();
        for (int i = 0; i < 3; ++i)
            QTest::keyClick(gain, Qt::Key_Left);
        const auto at = *now().info.parameterIndex("s3.gain_db");
        QVERIFY(now().values[at] < before_db && now().values[at] == draft().nodes[2].settings.at(0).value);
        QVERIFY(now().generation == generation);
        desk().undo.undo();
        QCOMPARE(now().values[at], before_db);
        // So does what is turned on Listen come here.
        desk().edits.setValue(id, at, 3);
        QCOMPARE(draft().nodes[2].settings.at(0).value, 3.0);
        desk().undo.undo();
        QCOMPARE(draft().nodes[2].settings.at(0).value, before_db);
        // Another stage: what is heard stays until the new form is there.
        desk().draft.append({QStringLiteral("reference:low-pass")});
        QVERIFY(now().chain->nodes.size() == 3 && now().isBeingChanged());
        QVERIFY(QTest::qWaitFor([&] { return now().chain->nodes.size() == 4; }, 10000));
        QVERIFY(now().generation > generation && desk().line_up.wanted() == id);
        QVERIFY(!now().isBeingChanged() && now().gain_known);
        // One that cannot be opened leaves it alone.
        desk().draft.changeNode("s4", [](chain::Node& node) { node.settings = {{"frequency_hz", -7}}; });
        QTest::qWait(300);
        QVERIFY(now().isOpen() && now().fault.isEmpty());
        desk().undo.undo();
        desk().undo.undo();
        QVERIFY(QTest::qWaitFor([&] { return now().chain->nodes.size() == 3; }, 10000));
    }

    void stagesAreArrangedByKeysAndDrags()
    {
        openQuay();
        picture()->setFocus();
        choose("s1");
        QCOMPARE(picture()->chosen(), QStringList{QStringLiteral("s1")});
        m_bench->press(Qt::Key_Insert);
        answer(QStringLiteral("what is to stand here"), QStringLiteral("reference low pass"));
        QCOMPARE(stages(), QStringLiteral("peak-filter low-pass hard-clip gain"));
        QCOMPARE(picture()->current(), QStringLiteral("s4")); // what is new is chosen
        m_bench->press(Qt::Key_Left, Qt::AltModifier);
        QCOMPARE(stages(), QStringLiteral("low-pass peak-filter hard-clip gain"));
        m_bench->press(Qt::Key_Delete);
        QCOMPARE(stages(), QStringLiteral("peak-filter hard-clip gain"));
        choose("s1");
        m_bench->press(Qt::Key_Right, Qt::ShiftModifier);
        QCOMPARE(picture()->chosen().size(), 2);
        m_bench->press(Qt::Key_X, Qt::ControlModifier);
        QCOMPARE(stages(), QStringLiteral("gain"));
        QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("honest-rack-chain")));
        choose("s3");
        m_bench->press(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(stages(), QStringLiteral("gain peak-filter hard-clip"));
        QApplication::clipboard()->setText(QStringLiteral("[[[nonsense"));
        m_bench->press(Qt::Key_V, Qt::ControlModifier);
        QCOMPARE(stages(), QStringLiteral("gain peak-filter hard-clip"));
        openQuay();
        drag("s3", "s1", Qt::NoModifier);
        QCOMPARE(stages(), QStringLiteral("gain peak-filter hard-clip"));
        drag("s3", "s2", Qt::ControlModifier);
        QCOMPARE(stages(), QStringLiteral("gain peak-filter gain hard-clip"));
        desk().undo.undo();
        desk().undo.undo();
        QCOMPARE(stages(), QStringLiteral("peak-filter hard-clip gain"));
        // Gone while it is dragged.
        QTest::mousePress(picture(), Qt::LeftButton, {}, picture()->placeOf(QStringLiteral("s3")).center());
        QTest::mouseMove(picture(), picture()->placeOf(QStringLiteral("s1")).center());
        desk().draft.edit([](const chain::Chain& chain) { return chain::remove(chain, {"s3"}); });
        QTest::mouseRelease(picture(), Qt::LeftButton, {}, picture()->placeOf(QStringLiteral("s1")).center());
        QCOMPARE(stages(), QStringLiteral("peak-filter hard-clip"));
    }
    void drag(const char* from, const char* before, Qt::KeyboardModifiers modifiers)
    {
        const QPoint at = picture()->placeOf(QLatin1String(from)).center();
        const QRect place = picture()->placeOf(QLatin1String(before));
        const QPoint to(place.left() - 10, place.center().y());
        QTest::mousePress(picture(), Qt::LeftButton, {}, at);
        for (const QPoint& via : {at + QPoint(30, 0), to}) {
            QMouseEvent move(QEvent::MouseMove, via, picture()->mapToGlobal(via), Qt::NoButton, Qt::LeftButton,
                             modifiers);
            QApplication::sendEvent(picture(), &move);
        }
        QTest::mouseRelease(picture(), Qt::LeftButton, modifiers, to);
    }

    void whatIsReplacedKeepsWhatMeansTheSame()
    {
        openQuay();
        desk().draft.changeNode("s1", [](chain::Node& node) {
            node.purpose = "more of it";
            node.settings = {{"gain_db", 9}, {"frequency_hz", 440}};
        });
        picture()->setFocus();
        choose("s1");
        m_bench->press(Qt::Key_R, Qt::ControlModifier);
        answer(QStringLiteral("what is to stand in its place"), QStringLiteral("reference high shelf"));
        const chain::Node& shelf = draft().nodes.front();
        QVERIFY(shelf.processor == "reference:high-shelf" && shelf.purpose == "more of it" && shelf.id == "s1");
        const auto carried = [&](const char* key) {
            return std::ranges::find(shelf.settings, key, &processors::Setting::key)->value;
        };
        QVERIFY(carried("gain_db") == 9 && carried("frequency_hz") == 440);
    }

    void theFaultyStageIsFoundByHalves()
    {
        openQuay();
        press(QStringLiteral("Path"));
        press(QStringLiteral("Find the faulty stage"));
        QCOMPARE(desk().hearing.partCalled(), QStringLiteral("without 1, 2, 3"));
        press(QStringLiteral("Gone"));
        QCOMPARE(desk().hearing.partCalled(), QStringLiteral("without 1"));
        press(QStringLiteral("Gone"));
        QCOMPARE(picture()->current(), QStringLiteral("s1"));
        press(QStringLiteral("Back"));
        press(QStringLiteral("Still there"));
        press(QStringLiteral("Still there"));
        QCOMPARE(picture()->current(), QStringLiteral("s3"));
        press(QStringLiteral("Orders"));
    }

    void whatStagesDoTogetherIsMeasured()
    {
        openQuay();
        desk().draft.replaceBy([] {
            chain::Chain chain;
            const std::vector<processors::Setting> squeezed{{"threshold_db", -40}, {"ratio", 2}};
            chain::addStage(chain, "reference:compressor").settings = squeezed;
            chain::addStage(chain, "reference:low-shelf").settings = {{"gain_db", 6}};
            chain::addStage(chain, "reference:compressor").settings = squeezed;
            return chain;
        }());
        press(QStringLiteral("Path"));
        press(QStringLiteral("Measure along the chain"));
        QVERIFY(QTest::qWaitFor([&] { return study().path().found.has_value(); }, 60000));
        HR_NEAR(*study().path().found->points.back().ratio, 4, 0.1);
        press(QStringLiteral("Orders"));
        press(QStringLiteral("Equaliser before or behind the compressor?"));
        QVERIFY(QTest::qWaitFor([&] { return study().equaliser().found.has_value(); }, 60000));
        const auto labels = m_bench->window->findChildren<QLabel*>();
        QVERIFY(std::ranges::any_of(labels, [](const QLabel* one) {
            return one->isVisible() && one->text().contains(QStringLiteral("It takes away"));
        }));
    }

    void versionsAreKeptHeardAndTaken()
    {
        openQuay();
        press(QStringLiteral("Versions"));
        press(QStringLiteral("Keep this version"));
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 3}}; });
        const auto told = [&](const char* text) {
            const auto labels = m_bench->window->findChildren<QLabel*>();
            return std::ranges::any_of(labels, [&](const QLabel* one) {
                return one->isVisible() && one->text().contains(QLatin1String(text));
            });
        };
        QVERIFY(told("Gain: gain_db 24 to 3"));
        press(QStringLiteral("Keep this version"));
        QCOMPARE(m_bench->find<QListWidget>(QStringLiteral("versions of the chain"))->count(), 2);
        const ChainVersions again(*desk().store, desk().draft, desk().notices); // as after a restart
        QCOMPARE(again.list().size(), std::size_t{2});
        m_bench->find<QListWidget>(QStringLiteral("versions of the chain"))->setCurrentRow(1);
        press(QStringLiteral("Hear that one"));
        QVERIFY(desk().hearing.partCalled().startsWith(QStringLiteral("as of 20")));
        press(QStringLiteral("Take that one"));
        QCOMPARE(draft().nodes[2].settings.at(0).value, 24.0);
        QVERIFY(told("Nothing has changed since"));
        press(QStringLiteral("Orders"));
    }

    /// Whatever is drawn, it stays within what the processor allows, and one step takes it back.
    void chanceStaysWithinWhatIsAllowed()
    {
        openQuay();
        choose("s1");
        const auto before = chain::toText(draft());
        for (int i = 0; i < 20; ++i) {
            desk().actions.run(QStringLiteral("build.random"));
            QVERIFY(!desk().facts.valuesOf(draft().nodes.front()).empty());
        }
        QVERIFY(chain::toText(draft()) != before && draft().nodes[1].settings.size() == 1);
        for (int i = 0; i < 20; ++i)
            desk().undo.undo();
        QCOMPARE(chain::toText(draft()), before);
    }

    void splitsAreDrawnAndTakenBack()
    {
        openQuay();
        picture()->setFocus();
        choose("s2");
        desk().actions.run(QStringLiteral("build.bands"));
        QVERIFY(!draft().isSeries());
        QCOMPARE(picture()->drawing().lanes, 3);
        QCOMPARE(picture()->drawing().paths.size(), draft().edges.size());
        picture()->choose(QString::fromStdString(
            std::ranges::find(draft().nodes, chain::NodeKind::Bands, &chain::Node::kind)->id));
        QVERIFY(m_bench->find<Track>(QStringLiteral("Crossover 2")));
        m_bench->press(Qt::Key_Delete);
        QCOMPARE(stages(), QStringLiteral("peak-filter hard-clip gain"));
    }

    /// Twice as loud, and half as loud behind it.
    void aStageIsLeveledToNeutral()
    {
        openQuay();
        desk().draft.edit([](const chain::Chain& chain) { return chain::remove(chain, {"s1", "s2"}); });
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", 6}}; });
        choose("s3");
        press(QStringLiteral("To neutral"));
        QVERIFY(QTest::qWaitFor([&] { return draft().nodes.front().trim_db != 0; }, 30000));
        HR_NEAR(draft().nodes.front().trim_db, -6, 0.011);
        desk().undo.undo();
        QCOMPARE(draft().nodes.front().trim_db, 0.0);
    }

    /// Where its kind rarely helps; silenced for good.
    void aStageThatStandsOddlyIsRemarkedUpon()
    {
        openQuay();
        desk().draft.replaceBy([] {
            chain::Chain chain;
            chain::addStage(chain, "reference:noise-reverb");
            chain::addStage(chain, "reference:gate");
            return chain;
        }());
        choose("s2");
        QVERIFY2(picture()->accessibleDescription().contains(QStringLiteral("cuts off the tails")),
                 qPrintable(picture()->accessibleDescription()));
        SilencedRemarks silenced(*desk().store);
        HR_VERIFY(silenced.silence("gate-behind-space"));
        QVERIFY(SilencedRemarks(*desk().store).contains("gate-behind-space")); // as after a restart
        QVERIFY(!remarkOn("s2", draft(), desk().facts, silenced));
        // A phase stands over the stages that share it.
        picture()->chooseAll();
        emit picture()->menuAsked(picture()->mapToGlobal(QPoint(0, 0)));
        m_bench->choose(QStringLiteral("colour"));
        QTRY_COMPARE(draft().nodes[1].phase, std::string("colour"));
        QCOMPARE(draft().nodes[0].phase, std::string("colour"));
    }

    void aNoteValueGoesIntoTheTimeInHand()
    {
        desk().draft.replaceBy([] {
            chain::Chain chain;
            chain::addStage(chain, "reference:feedback-delay");
            return chain;
        }());
        desk().tempo.type(QStringLiteral("120"));
        choose("s1");
        press(QStringLiteral("Times"));
        auto* times = m_bench->find<QTableWidget>(QStringLiteral("note values at the tempo"));
        QVERIFY(times);
        const auto row = [&](const char* note) {
            for (int r = 0; r < times->rowCount(); ++r)
                if (times->item(r, 0)->text() == QLatin1String(note))
                    return r;
            return -1;
        };
        QCOMPARE(times->item(row("1/4"), 1)->text(), QStringLiteral("500.0"));
        QCOMPARE(times->item(row("1/4"), 2)->text(), QStringLiteral("2.000"));
        auto* time = m_bench->find<Track>(QStringLiteral("Delay"));
        QVERIFY(time);
        time->setFocus();
        emit times->cellClicked(row("1/4"), 0);
        QCOMPARE(draft().nodes[0].settings.at(0).value, 500.0);
        desk().tempo.type(QStringLiteral("0"));
        press(QStringLiteral("Orders"));
    }

    /// What a trial was begun with is what it hears to its end.
    void aTrialHoldsWhatItWasBegunWith()
    {
        openQuay();
        desk().hearing.hear();
        const ContenderId id = desk().hearing.whole()->id;
        const auto now = [&]() -> const Contender& { return *desk().line_up.find(id); };
        QVERIFY(QTest::qWaitFor([&] { return now().match == MatchState::Matched; }, 10000));
        desk().draft.append({QStringLiteral("reference:gain")});
        QVERIFY(now().isBeingChanged());
        QVERIFY(desk().line_up.addTwin(id) != audition::no_contender);
        QTest::qWait(1500);
        QVERIFY(now().chain->nodes.size() == 3 && !now().isBeingChanged());
        desk().line_up.releaseTwins();
        desk().draft.append({QStringLiteral("reference:gain")});
        QVERIFY(QTest::qWaitFor([&] { return now().chain->nodes.size() == 5; }, 10000));
    }

    /// Two actions with one key within one another would both be mute.
    void everyKeyDoesOneThing()
    {
        for (const Action& one : desk().actions.all())
            for (const Action& other : desk().actions.all()) {
                if (&one == &other || one.key.isEmpty() || one.key != other.key)
                    continue;
                const bool apart = one.place && other.place && one.place != other.place &&
                                   !one.place->isAncestorOf(other.place) &&
                                   !other.place->isAncestorOf(one.place);
                QVERIFY2(apart, qPrintable(one.id + QLatin1Char(' ') + other.id));
            }
    }

    void theWholeSourceIsCheckedAndWritten()
    {
        m_bench->window->showPage(PageName::Build);
        press(QStringLiteral("Delivery"));
        auto* table = m_bench->find<QTableWidget>(QStringLiteral("checks of the delivery"));
        QVERIFY(table);
        press(QStringLiteral("Check the file"));
        QVERIFY(QTest::qWaitFor([&] { return table->rowCount() == 2; }, 30000));
        QCOMPARE(table->item(0, 0)->text(), QStringLiteral("integrated, LUFS"));
        QVERIFY(table->item(0, 3)->text().endsWith(QStringLiteral(" dB"))); // it is too loud by far
        // Another target is held against the same file: no check of the one before stays.
        auto* choice = m_bench->find<QComboBox>(QStringLiteral("target of the delivery"));
        choice->setCurrentIndex(choice->count() - 1);
        QCOMPARE(table->rowCount(), 3);
        QCOMPARE(table->item(2, 0)->text(), QStringLiteral("bits"));
        choice->setCurrentIndex(0);
        const QString file = m_data.filePath(QStringLiteral("out.flac"));
        desk().delivery.start(file, {signal::FileKind::Flac, signal::SampleFormat::Pcm16, 44100.0});
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.written().isEmpty(); }, 30000));
        const auto written = audition::deliveredFile(file.toStdString());
        HR_VERIFY(written);
        QVERIFY(written->bits == std::size_t{16} && written->sample_rate_hz == 44100);
        HR_NEAR(written->seconds, desk().transport.source()->seconds(), 0.01);
        desk().delivery.start(QStringLiteral("/dev/full"));
        QVERIFY(QTest::qWaitFor([&] { return !desk().delivery.whyNone().isEmpty(); }, 30000));
        QCOMPARE(table->rowCount(), 0);
        press(QStringLiteral("Orders"));
    }

    void aStageThatFailsIsSaidWhereTheLevelsWouldBe()
    {
        m_bench->window->showPage(PageName::Build);
        chain::Chain chain;
        chain::addStage(chain, "reference:gain").settings = {{"gain_db", 99}};
        desk().draft.change(chain);
        QVERIFY(QTest::qWaitFor([&] { return !study().whyNoLevels().isEmpty(); }, 10000));
        QVERIFY2(ladder()->accessibleDescription().contains(QStringLiteral("gain_db")),
                 qPrintable(ladder()->accessibleDescription()));
        // Left while it works: nothing comes of it any more.
        desk().undo.undo();
        desk().draft.change(chain::Chain{});
        QTest::qWait(600);
        QVERIFY(study().levels().empty());
    }
};

HR_TEST(tst_build)
#include "tst_build.moc"
