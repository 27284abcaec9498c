// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build: what is turned, fitted, varied and told on a single stage.
#include "app/build_bench.h"
#include "processors/note_value.h"

using namespace hr;
using namespace hr::app;

class tst_build_stage : public test::BuildBench {
    Q_OBJECT

private slots:
    void initTestCase() { begin(); }
    void cleanupTestCase() { m_bench.reset(); }

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
};

HR_TEST(tst_build_stage)
#include "tst_build_stage.moc"
