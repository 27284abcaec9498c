// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: stages put in, moved, replaced and split, by keys, drags and menus.
#include "app/build_bench.h"
#include "chain/edit.h"
#include "processors/note_value.h"
#include "widgets/chain_print.h"

#include <random>

#include <QClipboard>
#include <QFileInfo>

using namespace hr;
using namespace hr::app;

class tst_build_editing : public test::BuildBench {
    Q_OBJECT

private slots:
    void initTestCase() { begin(); }
    void cleanupTestCase() { m_bench.reset(); }

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

    void whatIsHeldAndLimitedStaysAndTheLastFiftyAreKept()
    {
        openQuay();
        choose("s1");
        auto* gain = m_bench->find<Track>(QStringLiteral("Gain"));
        QVERIFY(gain);
        QTest::mouseClick(gain->parentWidget(), Qt::LeftButton, {}, QPoint(4, 6)); // its name
        QVERIFY(desk().chance.isHeld("s1", "gain_db"));
        desk().chance.setLimits("s1", "frequency_hz", std::pair(400.0, 500.0));
        const auto original = chain::toText(draft());
        for (int i = 0; i < 60; ++i) {
            desk().actions.run(QStringLiteral("build.random"));
            const auto values = desk().facts.valuesOf(draft().nodes.front());
            const auto& info = desk().facts.of("reference:peak-filter")->info;
            QCOMPARE(values[*info.parameterIndex("gain_db")], 12.0);
            const double hz = values[*info.parameterIndex("frequency_hz")];
            QVERIFY(hz >= 400 && hz <= 500);
        }
        QCOMPARE(desk().chance.count(), ChainChance::most_kept);
        const auto last = chain::toText(draft());
        desk().actions.run(QStringLiteral("build.random.back"));
        const auto before = chain::toText(draft());
        QVERIFY(before != last);
        desk().actions.run(QStringLiteral("build.random.on"));
        QCOMPARE(chain::toText(draft()), last);
        desk().actions.run(QStringLiteral("build.random.away"));
        QCOMPARE(chain::toText(draft()), before);
        QVERIFY(!desk().chance.step(1));
        // What was turned by hand since is not lost on the way back.
        desk().draft.changeNode("s3", [](chain::Node& node) { node.settings = {{"gain_db", -7}}; });
        const auto by_hand = chain::toText(draft());
        QVERIFY(desk().chance.step(-1));
        QVERIFY(chain::toText(draft()) == before && desk().chance.step(1));
        QCOMPARE(chain::toText(draft()), by_hand);
        while (desk().chance.step(-1)) {
        }
        QVERIFY(chain::toText(draft()) != original); // that one is longer ago than fifty
        openQuay();
        QVERIFY(desk().chance.count() == 0 && !desk().chance.isHeld("s1", "gain_db"));
    }

    void endsOfPathsAreDragged()
    {
        openQuay();
        desk().draft.edit([](const chain::Chain& chain) {
            chain::Node beside;
            beside.processor = "reference:low-pass";
            return chain::putBeside(chain, "s2", std::move(beside));
        });
        const std::string beside =
            std::ranges::find(draft().nodes, std::string("reference:low-pass"), &chain::Node::processor)->id;
        const auto path = *picture()->chainLayout().pathBehind(QString::fromStdString(beside));
        const QPoint end = picture()->chainLayout().endPoint({path, true}).toPoint();
        const auto drop = [&](const QPoint& to) {
            QTest::mousePress(picture(), Qt::LeftButton, {}, end);
            moveTo(to);
            QTest::mouseRelease(picture(), Qt::LeftButton, {}, to);
        };
        const auto before = chain::toText(draft());
        drop(picture()->placeOf(QStringLiteral("s1")).center()); // would go in a circle
        QCOMPARE(chain::toText(draft()), before);
        drop(picture()->placeOf(QStringLiteral("s3")).center() + QPoint(0, 400)); // onto nothing
        QCOMPARE(chain::toText(draft()), before);
        drop(picture()->placeOf(QStringLiteral("out")).center());
        const auto edges = draft().graph().edges;
        QVERIFY(std::ranges::find(edges, chain::Edge{beside, "", "out", ""}) != edges.end());
        desk().undo.undo();
        QCOMPARE(chain::toText(draft()), before);
    }

    /// What was put in for a purpose is found by its words, with its settings, also after a start.
    void whatServedAPurposeIsFoundByItsWords()
    {
        openQuay();
        desk().draft.changeNode("s1", [](chain::Node& node) {
            node.purpose = "less rumble of the quay";
            node.settings = {{"frequency_hz", 75}};
        });
        QTRY_VERIFY_WITH_TIMEOUT(desk().purposes.words().contains(QStringLiteral("less rumble of the quay")),
                                 5000);
        choose("s3");
        m_bench->press(Qt::Key_Insert);
        answer(QStringLiteral("what is to stand here"), QStringLiteral("quay rumble"));
        const chain::Node& put_in = draft().nodes.at(3);
        QVERIFY(put_in.id == "s4" && put_in.purpose == "less rumble of the quay");
        QCOMPARE(put_in.processor, draft().nodes[0].processor);
        QVERIFY(put_in.settings.size() == 1 && put_in.settings[0].value == 75);
        const Purposes again(desk().draft, *desk().store, desk().notices);
        QCOMPARE(again.find(QStringLiteral("Rumble")).size(), std::size_t{1});
        QVERIFY(again.find(QStringLiteral("rumble of the sea")).empty());
    }

    void whatIsSentToIsFullyWet()
    {
        openQuay();
        choose("s1");
        desk().actions.run(QStringLiteral("build.send"));
        answer(QStringLiteral("the effect that is sent to"), QStringLiteral("boathouse"));
        const auto effect =
            std::ranges::find(draft().nodes, test::specimen + "boathouse", &chain::Node::processor);
        QVERIFY(effect != draft().nodes.end() && effect->settings.size() == 1);
        QVERIFY(effect->settings[0].key == "blend_percent" && effect->settings[0].value == 100);
    }

    /// Its worker is killed while it hangs on the hand: it is told, and put down it plays again.
    void aStageCrashesWhileItIsDragged()
    {
        openQuay();
        desk().draft.append({QString::fromStdString(test::specimen) + QStringLiteral("cordage-leveller")});
        desk().hearing.hear();
        const ContenderId id = desk().hearing.whole()->id;
        const auto sounds = [&] {
            return desk().line_up.audible() == id && desk().line_up.find(id)->match == MatchState::Matched &&
                   desk().transport.isSettled();
        };
        desk().transport.play(true);
        QTRY_VERIFY_WITH_TIMEOUT(sounds(), 20000);
        const auto before = chain::toText(draft());
        const QPoint at = picture()->placeOf(QStringLiteral("s4")).center();
        const QRect first = picture()->placeOf(QStringLiteral("s1"));
        const QPoint to(first.left() - 10, first.center().y());
        QTest::mousePress(picture(), Qt::LeftButton, {}, at);
        moveTo(at - QPoint(30, 0));
        test::killWorkers();
        QTRY_VERIFY_WITH_TIMEOUT(!desk().line_up.find(id)->fault.isEmpty(), 20000);
        moveTo(to);
        QTest::mouseRelease(picture(), Qt::LeftButton, {}, to);
        QCOMPARE(draft().graph().edges.size(), std::size_t{5});
        QVERIFY(chain::toText(draft()) != before);
        QTRY_VERIFY_WITH_TIMEOUT(sounds() && desk().line_up.find(id)->fault.isEmpty(), 20000);
        desk().undo.undo();
        QCOMPARE(chain::toText(draft()), before);
        desk().transport.play(false);
    }

    /// By the menu, which offers only what can run.
    void keysAndPathsAreLedByTheMenu()
    {
        desk().draft.replaceBy([] {
            chain::Chain chain;
            for (const char* processor :
                 {"reference:gain", "reference:low-pass", "lv2:urn:honest-rack:specimens:winch-bus"})
                chain::addStage(chain, processor);
            return chain;
        }());
        choose("s3");
        const auto menu = [&](const QString& choice) {
            emit picture()->menuRequested(picture()->mapToGlobal(QPoint(0, 0)));
            m_bench->choose(choice);
        };
        menu(QStringLiteral("Filtered, from 1 Gain"));
        QTRY_VERIFY(draft().node("s3")->key == processors::KeySource::Wired);
        const auto key = std::ranges::find(draft().nodes, chain::NodeKind::Key, &chain::Node::kind);
        QVERIFY(key != draft().nodes.end());
        picture()->choose(QString::fromStdString(key->id));
        QVERIFY(m_bench->find<Track>(QStringLiteral("Low cut")));
        choose("s3");
        menu(QStringLiteral("What it gets itself"));
        QTRY_VERIFY(draft().isSeries() && draft().nodes.size() == 3);
        choose("s1");
        emit picture()->menuRequested(picture()->mapToGlobal(QPoint(0, 0)));
        QVERIFY(!m_bench->entryOf(QStringLiteral("On to 3"))); // 2 would hang
    }

    void valuesAreTurnedOnTheStage()
    {
        openQuay();
        const ChainLayout& layout = picture()->chainLayout();
        const auto place = [&] {
            const ChainCard* card = layout.card(QStringLiteral("s3"));
            return layout.valueBox(layout.boxOf(*layout.node(QStringLiteral("s3"))), *card, 0).toRect();
        };
        QCOMPARE(layout.card(QStringLiteral("s3"))->values.at(0).value, 24.0);
        const auto before = chain::toText(draft());
        const QPoint at = place().center();
        QTest::mousePress(picture(), Qt::LeftButton, {}, at);
        for (const int x : {-10, -20, -40})
            moveTo(at + QPoint(x, 0));
        QTest::mouseRelease(picture(), Qt::LeftButton, {}, at - QPoint(40, 0));
        QVERIFY(draft().node("s3")->settings.at(0).value < 24 && picture()->chosen().size() == 1);
        desk().undo.undo(); // one gesture
        QCOMPARE(chain::toText(draft()), before);
        const auto type = [&](const char* text) {
            QTest::mouseDClick(picture(), Qt::LeftButton, {}, place().center());
            QLineEdit* field = nullptr;
            QTRY_VERIFY((field = m_bench->find<QLineEdit>(QStringLiteral("value of Gain"))) != nullptr);
            field->selectAll();
            QTest::keyClicks(field, QLatin1String(text));
            QTest::keyClick(field, Qt::Key_Return);
        };
        type("-3,5 dB");
        QTRY_COMPARE(draft().node("s3")->settings.at(0).value, -3.5);
        for (const char* nonsense : {"loud", "1e9"})
            type(nonsense);
        QCOMPARE(draft().node("s3")->settings.at(0).value, -3.5);
    }

    /// What is done by hand, at random: every step can be taken back, byte for byte, and survives a kill.
    void everyStepIsKeptAndTakenBack()
    {
        openQuay();
        std::mt19937 random(5);
        std::vector<std::string> texts{chain::toText(draft())};
        while (texts.size() < 40) {
            const auto& nodes = draft().nodes;
            const std::string any = nodes.empty() ? "s1" : nodes[random() % nodes.size()].id;
            picture()->choose(QString::fromStdString(any));
            switch (random() % 8) {
            case 0:
                desk().draft.append({QStringLiteral("reference:gain")});
                break;
            case 1:
                desk().actions.run(QStringLiteral("build.bands"));
                break;
            case 2:
                desk().actions.run(QStringLiteral("build.mid"));
                break;
            case 3:
                desk().actions.run(QStringLiteral("build.later"));
                break;
            case 4:
                desk().actions.run(QStringLiteral("build.on"));
                break;
            case 5:
                desk().actions.run(QStringLiteral("build.random"));
                break;
            case 6:
                desk().draft.edit([&](const chain::Chain& chain) { return chain::keyFrom(chain, any, "in"); });
                break;
            default:
                if (nodes.size() > 2)
                    desk().actions.run(QStringLiteral("build.remove"));
                break;
            }
            const auto text = chain::toText(draft());
            if (text == texts.back())
                continue; // it was refused
            texts.push_back(text);
            QUndoStack undo; // as a program that was killed right now finds it
            const ChainDraft again(*desk().store, undo, desk().notices);
            QCOMPARE(chain::toText(again.chain()), text);
        }
        for (std::size_t i = texts.size() - 1; i > 0; --i) {
            desk().undo.undo();
            QCOMPARE(chain::toText(draft()), texts[i - 1]);
        }
    }

    void splitsAreDrawnAndTakenBack()
    {
        openQuay();
        picture()->setFocus();
        choose("s2");
        desk().actions.run(QStringLiteral("build.bands"));
        QVERIFY(!draft().isSeries());
        QCOMPARE(picture()->chainLayout().drawing().lanes, 3);
        QCOMPARE(picture()->chainLayout().drawing().paths.size(), draft().edges.size());
        picture()->choose(QString::fromStdString(
            std::ranges::find(draft().nodes, chain::NodeKind::Bands, &chain::Node::kind)->id));
        QVERIFY(m_bench->find<Track>(QStringLiteral("Crossover 2")));
        m_bench->press(Qt::Key_Delete);
        QCOMPARE(stages(), QStringLiteral("peak-filter hard-clip gain"));
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
        emit picture()->menuRequested(picture()->mapToGlobal(QPoint(0, 0)));
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

    /// What it measures, not what its label says.
    void aRoomIsFittedToTheTempo()
    {
        desk().draft.replaceBy([] {
            chain::Chain chain;
            chain::addStage(chain, "reference:noise-reverb");
            return chain;
        }());
        desk().tempo.type(QStringLiteral("100"));
        press(QStringLiteral("Times"));
        choose("s1");
        QPushButton* fit = nullptr;
        QVERIFY(QTest::qWaitFor(
            [&] {
                for (auto* one : m_bench->window->findChildren<QPushButton*>())
                    if (one->isVisible() && one->text().startsWith(QStringLiteral("Decay measured")))
                        fit = one;
                return fit != nullptr;
            },
            30000));
        const QString told = fit->text();
        QTest::mouseClick(fit, Qt::LeftButton);
        const auto& settings = draft().nodes[0].settings;
        QVERIFY2(!settings.empty() && settings[0].key.find("s") != std::string::npos, qPrintable(told));
        const auto room = [&] { return desk().pictures.of(draft().nodes[0]); };
        QVERIFY(QTest::qWaitFor([&] { return room().rt60_s.has_value(); }, 30000));
        const auto times = processors::noteTimes(100);
        QVERIFY2(
            std::ranges::any_of(
                times, [&](const auto& note) { return std::abs(*room().rt60_s * 1000 / note.ms - 1) < 0.05; }),
            qPrintable(QString::number(*room().rt60_s)));
        desk().tempo.type(QStringLiteral("0"));
        press(QStringLiteral("Orders"));
    }

    /// Neutral at first; printed on as many strips as it needs.
    void templatesAndPaper()
    {
        openQuay();
        const auto menu = [&](const QString& choice) {
            press(QStringLiteral("Chain \u25be"));
            m_bench->choose(choice);
        };
        menu(QStringLiteral("Save the chain as a template"));
        auto* name = m_bench->find<QLineEdit>(QStringLiteral("name of the template"));
        QVERIFY(name);
        QTest::keyClick(name, Qt::Key_Return);
        desk().draft.replaceBy({});
        menu(QStringLiteral("Quay"));
        QTRY_COMPARE(draft().nodes.size(), std::size_t{3});
        QVERIFY(std::ranges::none_of(draft().nodes, &chain::Node::on));
        QCOMPARE(draft().nodes[2].settings.at(0).value, 24.0);
        for (int i = 0; i < 37; ++i)
            desk().draft.append({QStringLiteral("reference:gain")});
        const ChainLayout& layout = picture()->chainLayout();
        const auto strips = stripsOf(layout, 1000);
        QVERIFY(strips.size() >= 8 && strips.front().first == 0);
        for (std::size_t i = 1; i < strips.size(); ++i)
            QCOMPARE(strips[i].first, strips[i - 1].second + 1);
        const QString file = m_data.filePath(QStringLiteral("chain.pdf"));
        HR_VERIFY(printChain(layout, QStringLiteral("Quay"), file.toStdString()));
        QVERIFY(QFileInfo(file).size() > 10000);
        QVERIFY(!printChain(layout, QStringLiteral("Quay"), "/dev/full/chain.pdf"));
    }

    /// Once measured, then gone: what is most alike is offered in its place.
    void whatIsMissingHasWhatIsAlike()
    {
        desk().draft.replaceBy([] {
            chain::Chain chain;
            chain::addStage(chain, "lv2:urn:nobody:has-this").purpose = "tame it";
            return chain;
        }());
        choose("s1");
        const auto offered = [&](const char* words) {
            emit picture()->menuRequested(picture()->mapToGlobal(QPoint(0, 0)));
            return m_bench->entryOf(QLatin1String(words));
        };
        QTRY_VERIFY(offered("It was never measured")); // what is measured is read first
        QVERIFY(!offered("It was never measured")->isEnabled());
        for (const char* measured : {"reference:gain", "reference:low-pass", "reference:hard-clip"})
            desk().bench.measureInBackground({QString::fromLatin1(measured)});
        QVERIFY(QTest::qWaitFor([&] { return desk().bench.waiting() == 0; }, 60000));
        // One of them is not installed any more.
        HR_VERIFY(desk().store->database().change(
            QStringLiteral("UPDATE behaviours SET processor = ? WHERE processor = ?"),
            {QStringLiteral("lv2:urn:nobody:has-this"), QStringLiteral("reference:hard-clip")}));
        QTRY_VERIFY(offered("Gain, "));
        offered("Gain, ")->trigger();
        QCOMPARE(stages(), QStringLiteral("gain"));
        QCOMPARE(draft().nodes[0].purpose, std::string("tame it"));
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
};

HR_TEST(tst_build_editing)
#include "tst_build_editing.moc"
