// SPDX-License-Identifier: GPL-3.0-or-later
//
// Keep and Build around chains: what is kept, what it says, and the way back.
#include "app/workbench.h"
#include "pages/keep/keep_page.h"

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMenu>
#include <fstream>

using namespace hr;
using namespace hr::app;
using test::Workbench;

class tst_keep : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;
    qint64 m_collection = 0;

    Desk& desk() { return *m_bench->desk; }
    QListWidget* collections() { return m_bench->find<QListWidget>(QStringLiteral("collections")); }
    static chain::Chain chainOf(const std::string& name, const std::vector<std::string>& ids)
    {
        chain::Chain made{name, {}};
        for (const std::string& id : ids) {
            chain::addStage(made, id);
            made.nodes.back().name = "written down as";
        }
        return made;
    }
    /// All words of the items that are shown.
    QString shown()
    {
        QString words;
        for (const auto* one :
             m_bench->find<QListWidget>(QStringLiteral("what is in the collection"))->findChildren<QLabel*>())
            words += one->text() + QLatin1Char('\n');
        return words;
    }
    void show(qint64 collection)
    {
        m_bench->window->showPage(PageName::Keep);
        for (int i = 0; i < collections()->count(); ++i)
            if (collections()->item(i)->data(Qt::UserRole).toLongLong() == collection)
                collections()->setCurrentRow(i);
    }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        const auto made = desk().store->collections.create(QStringLiteral("Chains"));
        HR_VERIFY(made);
        m_collection = *made;
    }
    void cleanupTestCase() { m_bench.reset(); }

    void theChainOnBuildHasAName()
    {
        m_bench->window->showPage(PageName::Build);
        desk().draft.change(chainOf("first", {"reference:gain"}));
        auto* name = m_bench->find<QLineEdit>(QStringLiteral("name of the chain"));
        QCOMPARE(name->text(), QStringLiteral("first"));
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral("Quay at dusk"));
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(desk().draft.chain().name, std::string("Quay at dusk"));
        QTest::mouseClick(m_bench->button(QStringLiteral("Keep")), Qt::LeftButton);
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        QVERIFY(menu);
        for (QAction* action : menu->actions())
            if (action->text() == QStringLiteral("Chains"))
                action->trigger();
        menu->close();
        const auto items = desk().store->collections.items(m_collection);
        QCOMPARE(items->size(), std::size_t{1});
        QCOMPARE(items->front().reference, QStringLiteral("Quay at dusk"));
        name->clear(); // no name: the old one stays
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(desk().draft.chain().name, std::string("Quay at dusk"));
    }

    void aKeptChainSaysWhatIsInIt()
    {
        desk().keeping.keep(itemOf(chainOf("with a gap", {"reference:gain", "lv2:urn:nobody:has-it"})),
                            m_collection);
        desk().keeping.keep({0, QStringLiteral("chain"), QStringLiteral("spoilt"), {}, QStringLiteral("{")},
                            m_collection);
        show(m_collection);
        const QString words = shown();
        QVERIFY2(words.contains(QStringLiteral("chain of 1 · Gain")), qPrintable(words));
        QVERIFY(words.contains(QStringLiteral("chain of 2 · Gain → written down as (not installed)")));
        QVERIFY(words.contains(QStringLiteral("It is not a chain of Honest Rack")));
        // A spoilt one cannot be heard, and can be taken away.
        QVERIFY(m_bench->find<QPushButton>(QStringLiteral("remove spoilt from the collection")));
        const int before = m_bench->candidates();
        desk().routes.listenTo(desk().store->collections.items(m_collection)->back());
        QTest::qWait(50);
        QCOMPARE(m_bench->candidates(), before);
    }

    void takenAwayItComesBackWhole()
    {
        const auto before = *desk().store->collections.items(m_collection);
        show(m_collection);
        QTest::mouseClick(m_bench->find<QPushButton>(QStringLiteral("remove Quay at dusk from the collection")),
                          Qt::LeftButton);
        QTRY_COMPARE(desk().store->collections.items(m_collection)->size(), before.size() - 1);
        desk().undo.undo();
        QCOMPARE(desk().store->collections.items(m_collection)->front().chain, before.front().chain);
        QVERIFY(shown().contains(QStringLiteral("Quay at dusk")));
    }

    void whatIsNoCollectionIsSaidAndChangesNothing()
    {
        const int before = collections()->count();
        QString said;
        connect(&desk().notices, &Notices::told, this, [&](const QString& text) { said = text; });
        const QString file = m_data.filePath(QStringLiteral("none.json"));
        std::ofstream(file.toStdString()) << "[]";
        m_bench->window->findChild<KeepPage*>()->importFrom(file);
        QVERIFY2(said.contains(QStringLiteral("is not a collection")), qPrintable(said));
        QCOMPARE(collections()->count(), before);
        disconnect(&desk().notices, &Notices::told, this, nullptr);
    }
};

HR_TEST(tst_keep)
#include "tst_keep.moc"
