// SPDX-License-Identifier: GPL-3.0-or-later
//
// Parts in step on Build: one is worked on, the others play beside it.
#include "app/build_bench.h"
#include "exchange/chain_file.h"

using namespace hr;
using namespace hr::app;

class tst_parts : public test::BuildBench {
    Q_OBJECT

    PartsDraft& parts() { return desk().parts; }
    PartsPlay& play() { return desk().parts_play; }
    QTableWidget* table() { return m_bench->find<QTableWidget>(QStringLiteral("parts")); }
    QString sound(const char* name) const
    {
        return m_data.filePath(QStringLiteral("sources/") + QLatin1String(name));
    }
    bool plays(const QString& file)
    {
        desk().transport.load(file);
        return QTest::qWaitFor([&] { return desk().transport.sourceFile() == file; }, 10000);
    }
    bool restIsThere()
    {
        return QTest::qWaitFor(
            [&] { return !play().isPending() && desk().line_up.rest() != audition::no_contender; }, 30000);
    }

private slots:
    void initTestCase()
    {
        begin();
        desk().draft.replaceBy({});
        desk().draft.append({QStringLiteral("reference:gain")});
        press(QStringLiteral("Parts"));
    }
    void cleanupTestCase() { m_bench.reset(); }

    void whatPlaysBecomesAPart()
    {
        QVERIFY(plays(sound("harbour-choir.wav")));
        press(QStringLiteral("Add source"));
        QVERIFY(plays(sound("upright-bass.wav")));
        press(QStringLiteral("Add source"));
        QCOMPARE(parts().company().parts.size(), std::size_t{2});
        QCOMPARE(table()->rowCount(), 3); // and the sum
        QCOMPARE(parts().worked(), std::string("p1"));
        QCOMPARE(parts().company().parts[0].chain.nodes.size(), std::size_t{1}); // the chain that was there
        // What is done to the chain is done to the part's.
        desk().draft.append({QStringLiteral("reference:low-pass")});
        QCOMPARE(parts().company().parts[0].chain.nodes.size(), std::size_t{2});
        const PartsDraft again(*desk().store, desk().draft, desk().transport, desk().sources, desk().undo,
                               desk().notices); // as after a restart
        QVERIFY(chain::toJson(again.company()) == chain::toJson(parts().company()) && again.worked() == "p1");
    }

    void anotherPartIsWorkedOnAndBack()
    {
        QVERIFY(plays(sound("harbour-choir.wav")));
        table()->setCurrentCell(1, 0);
        press(QStringLiteral("Work on it"));
        QVERIFY(desk().draft.chain().nodes.empty() && parts().worked() == "p2");
        QVERIFY(QTest::qWaitFor([&] { return desk().transport.sourceFile() == sound("upright-bass.wav"); }));
        desk().draft.append({QStringLiteral("reference:tremolo")});
        desk().undo.undo(); // the stage
        desk().undo.undo(); // the turn to this part
        QCOMPARE(parts().worked(), std::string("p1"));
        QCOMPARE(desk().draft.chain().nodes.size(), std::size_t{2});
        QVERIFY(parts().company().parts[1].chain.nodes.empty());
        QVERIFY(QTest::qWaitFor([&] { return desk().transport.sourceFile() == sound("harbour-choir.wav"); }));
    }

    void theOthersPlayBesideIt()
    {
        press(QStringLiteral("In company"));
        QVERIFY(restIsThere());
        QVERIFY2(play().whyNot().isEmpty(), qPrintable(play().whyNot()));
        QVERIFY(play().levels().at("p1") && play().levels().at("p2"));
        const ContenderId first = desk().line_up.rest();
        // Another chain of the part leaves the others alone; another level of theirs does not.
        desk().draft.append({QStringLiteral("reference:gain")});
        QVERIFY(restIsThere());
        QVERIFY(desk().line_up.rest() == first);
        const double before_lufs = *play().levels().at("p2");
        table()->item(1, 1)->setText(QStringLiteral("-6,5 dB"));
        QCOMPARE(parts().company().parts[1].standing.level_db, -6.5);
        QVERIFY(restIsThere());
        QVERIFY(desk().line_up.rest() != first);
        HR_NEAR(*play().levels().at("p2"), before_lufs - 6.5, 0.01);
        table()->item(1, 2)->setText(QStringLiteral("L 40"));
        QCOMPARE(parts().company().parts[1].standing.place_percent, -40.0);
        for (const char* nonsense : {"loud", "99", "R 400"})
            table()->item(1, 2)->setText(QLatin1String(nonsense));
        table()->item(1, 1)->setText(QStringLiteral("loud"));
        QCOMPARE(parts().company().parts[1].standing.level_db, -6.5);
        desk().undo.undo();
        desk().undo.undo();
        table()->item(1, 0)->setCheckState(Qt::Unchecked);
        QVERIFY(!parts().company().parts[1].standing.heard);
        desk().undo.undo();
        press(QStringLiteral("Alone"));
        QVERIFY(play().heard() == PartsPlay::Heard::Alone);
    }

    /// What a part sends is heard with it, as its chain makes it; where it is not heard, it sends nothing.
    void whatItSendsIsHeardInCompany()
    {
        const int before = desk().undo.index();
        chain::Node effect;
        effect.processor = "reference:noise-reverb";
        parts().addReturn(effect);
        parts().setSend("p1", parts().company().returns.front().id, 0);
        press(QStringLiteral("In company"));
        QVERIFY(restIsThere());
        const auto levelOfReturn = [this] { return *play().levels().at(parts().company().returns.front().id); };
        const double sent_lufs = levelOfReturn();
        ContenderId rest = desk().line_up.rest();
        desk().draft.changeNode("s1", [](chain::Node& node) { node.trim_db = -10; });
        QVERIFY(restIsThere());
        QVERIFY(desk().line_up.rest() != rest);
        HR_NEAR(levelOfReturn(), sent_lufs - 10, 0.1);
        rest = desk().line_up.rest();
        press(QStringLiteral("Only the others"));
        QVERIFY(restIsThere());
        QVERIFY(desk().line_up.rest() != rest);
        rest = desk().line_up.rest();
        desk().draft.changeNode("s1", [](chain::Node& node) { node.trim_db = -3; });
        QVERIFY(restIsThere());
        QVERIFY(desk().line_up.rest() == rest);
        press(QStringLiteral("Alone"));
        while (desk().undo.index() > before)
            desk().undo.undo();
    }

    /// What goes into a return, or into the sum, is the source while it is worked on.
    void aReturnAndTheSumAreWorkedOn()
    {
        const auto plays_into = [this](const char* name) {
            return QTest::qWaitFor(
                [&] {
                    return !play().isPending() && desk().transport.sourceFile().endsWith(
                                                      QStringLiteral("/into %1.wav").arg(QLatin1String(name)));
                },
                30000);
        };
        const auto levelOf = [this] {
            const auto sound = signal::readAudioFile(desk().transport.sourceFile().toStdString());
            return sound ? signal::measureLoudness(*sound).integrated_lufs.value_or(-200) : -300;
        };
        const int before = desk().undo.index();
        QTest::mouseClick(m_bench->button(QStringLiteral("More")), Qt::LeftButton);
        m_bench->choose(QStringLiteral("A return, with an effect"));
        answer(QStringLiteral("the effect of the return"), QStringLiteral("boathouse"));
        QCOMPARE(parts().company().returns.size(), std::size_t{1});
        const chain::Node& hall_effect = parts().company().returns.front().chain.nodes.at(0);
        QVERIFY(hall_effect.settings.size() == 1 && hall_effect.settings[0].key == "blend_percent" &&
                hall_effect.settings[0].value == 100); // fully wet
        const std::string hall = parts().company().returns.front().id;
        parts().setSend("p1", hall, -6);
        parts().workOn(hall);
        QVERIFY(plays_into("Boathouse"));
        QCOMPARE(desk().draft.chain().nodes.size(), std::size_t{1});
        const double sent_lufs = levelOf();
        parts().setSend("p1", hall, -12); // it is made again
        QVERIFY(QTest::qWaitFor(
            [&] { return std::abs(levelOf() - sent_lufs + 6) < 0.05 && !play().isPending(); }, 30000));
        press(QStringLiteral("In company"));
        QVERIFY(restIsThere());
        QVERIFY2(play().whyNot().isEmpty(), qPrintable(play().whyNot()));
        QVERIFY(play().levels().at(hall));
        parts().workOn(PartsDraft::the_sum);
        QVERIFY(plays_into("the sum"));
        QVERIFY(levelOf() > sent_lufs);
        QVERIFY(
            QTest::qWaitFor([&] { return play().whyNot().contains(QStringLiteral("The sum is all")); }, 10000));
        press(QStringLiteral("Alone"));
        while (desk().undo.index() > before)
            desk().undo.undo();
        QCOMPARE(parts().worked(), std::string("p1"));
        QVERIFY(plays(sound("harbour-choir.wav")));
    }

    void theSumIsACandidate()
    {
        const int before = m_bench->candidates();
        press(QStringLiteral("Hear the sum"));
        QVERIFY(QTest::qWaitFor([&] { return m_bench->candidates() == before + 1; }, 30000));
        QVERIFY(m_bench->at(before + 1).rendered.has_value());
    }

    void filesAreWrittenReadAndMissed()
    {
        const std::filesystem::path file = m_data.filePath(QStringLiteral("parts.json")).toStdString();
        HR_VERIFY(exchange::writeCompany(file, parts().company()));
        const auto before = chain::toJson(parts().company());
        QString told;
        connect(&desk().notices, &Notices::told, this, [&](const QString& text) { told = text; });
        parts().openFile(m_data.filePath(QStringLiteral("parts/evening-deck.json")).toStdString());
        QCOMPARE(parts().company().parts.size(), std::size_t{4});
        desk().undo.undo();
        QVERIFY(chain::toJson(parts().company()) == before);
        parts().openFile(file);
        QVERIFY(chain::toJson(parts().company())["parts"] == before["parts"]);
        // Kept in a collection, and built with again from there.
        QTest::mouseClick(m_bench->button(QStringLiteral("More")), Qt::LeftButton);
        m_bench->choose(QStringLiteral("Keep the parts …"));
        m_bench->choose(QStringLiteral("A new collection"));
        const auto whole = chain::toJson(parts().company());
        parts().changeStanding("p1", [](chain::Standing& standing) { standing.level_db = -20; });
        desk().navigation.goTo(PageName::Keep);
        auto* collections = m_bench->find<QListWidget>(QStringLiteral("collections"));
        collections->setCurrentItem(
            collections->findItems(QStringLiteral("New collection"), Qt::MatchStartsWith).last());
        press(QStringLiteral("Build"));
        QVERIFY(chain::toJson(parts().company()) == whole);
        // A sound that is gone is told when the others are made.
        parts().addSource(QStringLiteral("pink noise"));
        QVERIFY(told.contains(QStringLiteral("file")));
        QVERIFY(QFile::rename(sound("upright-bass.wav"), sound("elsewhere.wav")));
        parts().changeStanding("p2", [](chain::Standing& standing) { standing.level_db = -1; });
        press(QStringLiteral("In company"));
        QVERIFY2(QTest::qWaitFor([&] { return play().whyNot().contains(QStringLiteral("upright-bass.wav")); },
                                 30000),
                 qPrintable(play().whyNot() + desk().transport.sourceFile()));
        QVERIFY(desk().line_up.rest() == audition::no_contender);
        parts().remove("p2");
        QCOMPARE(parts().company().parts.size(), std::size_t{1});
        parts().remove("p1");
        QVERIFY(parts().isEmpty() && parts().worked().empty());
        desk().undo.undo();
        QCOMPARE(parts().worked(), std::string("p1"));
    }
};

HR_TEST(tst_parts)
#include "tst_parts.moc"
