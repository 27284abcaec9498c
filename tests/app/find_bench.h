// SPDX-License-Identifier: GPL-3.0-or-later
//
// Find, with hands: buttons pressed, menus chosen from, names typed.
#pragma once

#include "app/workbench.h"
#include "pages/find/find_page.h"

#include <QApplication>
#include <QLineEdit>
#include <QMenu>
#include <QTableView>

namespace hr::test {

class FindBench : public QObject {
protected:
    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    app::Desk& desk() { return *m_bench->desk; }
    app::FindPage& page() { return *m_bench->window->findPage(); }
    static QString id(const char* name) { return QString::fromStdString(specimen) + QString::fromLatin1(name); }
    QTableView* list() { return m_bench->find<QTableView>(QStringLiteral("processors")); }

    void press(const QString& button)
    {
        QTRY_VERIFY2(m_bench->button(button), qPrintable(button)); // it may follow when the typing rests
        QTest::mouseClick(m_bench->button(button), Qt::LeftButton);
    }
    /// Chooses from the menu that is open.
    static void choose(const QString& text)
    {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY2(menu, qPrintable(text));
        for (QAction* action : menu->actions())
            if (action->text() == text) {
                QVERIFY2(action->isEnabled(), qPrintable(text));
                action->trigger();
                menu->close();
                return;
            }
        QStringList there;
        for (QAction* action : menu->actions())
            there << action->text();
        menu->close();
        QFAIL(qPrintable(QStringLiteral("no \"%1\" among %2").arg(text, there.join(QStringLiteral(", ")))));
    }
    /// Types into the sheet that asks for a name.
    static void type(const QString& name)
    {
        QWidget* popup = QApplication::activePopupWidget();
        QVERIFY(popup);
        auto* field = popup->findChild<QLineEdit*>();
        QVERIFY(field);
        field->selectAll();
        QTest::keyClicks(field, name);
        QTest::keyClick(field, Qt::Key_Return);
    }
    void selectOnly(const QString& which)
    {
        // The bench's own are listed when they are asked for.
        page().setSearchText(which.startsWith(QStringLiteral("reference:")) ? QStringLiteral("reference")
                                                                            : QString());
        page().select(which);
        QTRY_COMPARE(page().selectedId(), which);
        QTest::qWait(250); // the particulars follow when the typing rests
    }
};

} // namespace hr::test
