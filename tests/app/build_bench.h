// SPDX-License-Identifier: GPL-3.0-or-later
//
// Build, with hands: stages chosen, dragged and searched for, buttons pressed.
#pragma once

#include "app/workbench.h"
#include "chain/chain_json.h"
#include "pages/build/chain_cards.h"
#include "widgets/chain_picture.h"
#include "widgets/level_ladder.h"
#include "widgets/parameter_row.h"

#include <QApplication>
#include <QTableWidget>

namespace hr::test {

class BuildBench : public QObject {
protected:
    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    app::Desk& desk() { return *m_bench->desk; }
    app::ChainStudy& study() { return desk().study; }
    QTableWidget* orders() { return m_bench->find<QTableWidget>(QStringLiteral("orders of the stages")); }
    app::ChainPicture* picture()
    {
        return m_bench->find<app::ChainPicture>(QStringLiteral("stages of the chain"));
    }
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
        m_bench->window->showPage(app::PageName::Build);
        chain::Chain chain;
        chain.name = "Quay";
        chain::addStage(chain, "reference:peak-filter").settings = {{"gain_db", 12}};
        chain::addStage(chain, "reference:hard-clip").settings = {{"clip_dbfs", -20}};
        chain::addStage(chain, "reference:gain").settings = {{"gain_db", 24}};
        desk().draft.replaceBy(chain);
    }
    QWidget* ladder() { return m_bench->find<app::LevelLadder>(QStringLiteral("levels after each stage")); }
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
    /// With the left button held.
    void moveTo(const QPoint& at, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QMouseEvent move(QEvent::MouseMove, at, picture()->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                         modifiers);
        QApplication::sendEvent(picture(), &move);
    }
    void drag(const char* from, const char* before, Qt::KeyboardModifiers modifiers)
    {
        const QPoint at = picture()->placeOf(QLatin1String(from)).center();
        const QRect place = picture()->placeOf(QLatin1String(before));
        const QPoint to(place.left() - 10, place.center().y());
        QTest::mousePress(picture(), Qt::LeftButton, {}, at);
        for (const QPoint& via : {at + QPoint(30, 0), to})
            moveTo(via, modifiers);
        QTest::mouseRelease(picture(), Qt::LeftButton, modifiers, to);
    }

    void begin()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        m_bench->window->resize(1280, 800); // with room for values on the stages
        desk().transport.play(false);
        openQuay();
    }
};

} // namespace hr::test
