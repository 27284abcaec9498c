// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: the chain and parts of it as candidates that follow every edit.
#include "app/build_bench.h"

#include <QListWidget>

using namespace hr;
using namespace hr::app;

class tst_build_hearing : public test::BuildBench {
    Q_OBJECT

private slots:
    void initTestCase() { begin(); }
    void cleanupTestCase() { m_bench.reset(); }

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

    /// Beside the source, at the same loudness.
    void theAmountOfAllOfItIsTurned()
    {
        openQuay();
        QVERIFY(!m_bench->find<Track>(QStringLiteral("Amount")));
        desk().hearing.hear();
        auto* amount = m_bench->find<Track>(QStringLiteral("Amount"));
        QVERIFY(amount && amount->value() == 100);
        const ContenderId id = desk().hearing.whole()->id;
        QVERIFY(QTest::qWaitFor([&] { return desk().line_up.find(id)->match == MatchState::Matched; }, 10000));
        for (int i = 0; i < 5; ++i)
            QTest::keyClick(amount, Qt::Key_Left);
        QVERIFY(desk().line_up.find(id)->amount_percent < 100);
        desk().undo.undo();
        QCOMPARE(amount->value(), 100.0);
    }

    /// What a compressor takes away is seen on its stage while it plays, and no longer.
    void aStageShowsItsGainWhileItPlays()
    {
        desk().draft.replaceBy({});
        desk().draft.append({QStringLiteral("reference:compressor"), QStringLiteral("reference:gain")});
        desk().hearing.hear();
        const ContenderId id = desk().hearing.whole()->id;
        desk().edits.setValue(id, *desk().line_up.find(id)->info.parameterIndex("s1.threshold_db"), -60);
        QTRY_COMPARE_WITH_TIMEOUT(desk().line_up.audible(), id, 10000);
        desk().transport.play(true);
        const auto gain = [this](const char* stage) {
            return picture()->chainLayout().card(QLatin1String(stage))->gain_db;
        };
        QTRY_VERIFY_WITH_TIMEOUT(gain("s1") && *gain("s1") < -3, 10000);
        QVERIFY(!gain("s2")); // it does the same to every level
        desk().transport.play(false);
        QTRY_VERIFY_WITH_TIMEOUT(!gain("s1"), 5000);
    }

    /// Whoever only listens has changed nothing, and of what was turned that alone is told.
    void hearingNotesNoDefaults()
    {
        openQuay();
        desk().hearing.hear();
        const ContenderId id = desk().hearing.whole()->id;
        QVERIFY(QTest::qWaitFor([&] { return desk().line_up.find(id)->match == MatchState::Matched; }, 10000));
        const auto& info = desk().line_up.find(id)->info;
        desk().edits.setValue(id, *info.parameterIndex("s3.gain_db"), 3);
        QCOMPARE(draft().nodes[0].settings.size(), std::size_t{1});
        QCOMPARE(draft().nodes[2].settings.at(0).value, 3.0);
        desk().undo.undo();
    }

    /// However the stages are scrolled, each has its levels below it.
    void theLevelsGoAlongWithTheStages()
    {
        openQuay();
        for (int i = 0; i < 12; ++i)
            desk().draft.append({QStringLiteral("reference:gain")});
        const auto apart = [&] {
            return picture()->mapTo(m_bench->window.get(), QPoint()).x() -
                   ladder()->mapTo(m_bench->window.get(), QPoint()).x();
        };
        const int before = apart();
        for (const char* id : {"s15", "s7", "s1", "s15"}) {
            picture()->choose(QLatin1String(id));
            const auto x = [&] {
                const QPoint middle = picture()->placeOf(QLatin1String(id)).center();
                return picture()->mapTo(m_bench->window.get(), middle).x();
            };
            QTRY_VERIFY(x() > 0 && x() < m_bench->window->width());
            QTRY_COMPARE(apart(), before);
        }
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
};

HR_TEST(tst_build_hearing)
#include "tst_build_hearing.moc"
