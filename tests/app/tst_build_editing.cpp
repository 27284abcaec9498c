// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: stages put in, moved, replaced and split, by keys, drags and menus.
#include "app/build_bench.h"
#include "chain/edit.h"
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
        // With a key that is led to it from elsewhere in the chain it is found, too.
        openQuay();
        desk().draft.changeNode("s3", [](chain::Node& node) { node.purpose = "make room for the guide"; });
        desk().draft.edit([](const chain::Chain& chain) { return chain::keyFrom(chain, "s3", "in"); });
        QCOMPARE(draft().node("s3")->key, processors::KeySource::Wired);
        const QString guide = QStringLiteral("room guide");
        QTRY_VERIFY_WITH_TIMEOUT(!desk().purposes.find(guide).empty(), 5000);
        QCOMPARE(Purposes(desk().draft, *desk().store, desk().notices).find(guide).size(), std::size_t{1});
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
        QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Escape);
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
