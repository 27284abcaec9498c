// SPDX-License-Identifier: GPL-3.0-or-later
//
// What happens on one page costs nothing on those that nobody sees; they are up to date once they are shown.
#include "app/workbench.h"
#include "pages/find/find_page.h"
#include "pages/keep/keep_page.h"
#include "pages/measure/measure_page.h"

using namespace hr;
using namespace hr::app;
using test::Workbench;

namespace {

/// Counts what is put into a page, taken out of it, or laid out again.
class Watched : public QObject {
public:
    explicit Watched(QWidget* page) : m_page(page) { watch(page); }
    ~Watched() override { m_page->removeEventFilter(this); }
    int changes = 0;

    bool eventFilter(QObject*, QEvent* event) override
    {
        if (event->type() == QEvent::ChildAdded || event->type() == QEvent::ChildRemoved ||
            event->type() == QEvent::LayoutRequest || event->type() == QEvent::Paint)
            ++changes;
        return false;
    }

private:
    void watch(QWidget* page)
    {
        page->installEventFilter(this);
        for (auto* one : page->findChildren<QWidget*>())
            one->installEventFilter(this);
    }
    QWidget* m_page;
};

} // namespace

class tst_hidden_pages : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        m_bench->desk->line_up.add(QStringLiteral("reference:gain"));
        QTRY_VERIFY(m_bench->at(m_bench->candidates()).isOpen());
        for (const PageName page : {PageName::Measure, PageName::Keep, PageName::Listen, PageName::Find}) {
            m_bench->window->showPage(page); // each has been seen once
            QTest::qWait(50);
        }
    }

    void aControlThatMovesLeavesMeasureAlone()
    {
        m_bench->window->showPage(PageName::Listen);
        QTest::qWait(100);
        Watched measure(m_bench->window->findChild<MeasurePage*>());
        const ContenderId gain = m_bench->idAt(m_bench->candidates());
        for (int db = -20; db < 0; ++db)
            m_bench->desk->line_up.setValue(gain, 0, db);
        QTest::qWait(200);
        QCOMPARE(measure.changes, 0);
        m_bench->window->showPage(PageName::Measure);
        QTRY_VERIFY(measure.changes > 0);
    }

    void aKeyOnFindLeavesKeepAlone()
    {
        m_bench->window->showPage(PageName::Find);
        QTest::qWait(100);
        Watched keep(m_bench->window->findChild<KeepPage*>());
        for (const char* text : {"g", "ga", "gai", "gain", ""})
            m_bench->window->findChild<FindPage*>()->setSearchText(QLatin1String(text));
        QTest::qWait(200);
        QCOMPARE(keep.changes, 0);
        HR_VERIFY(m_bench->desk->store->collections.create(QStringLiteral("Made meanwhile")));
        QTest::qWait(100);
        QCOMPARE(keep.changes, 0);
        m_bench->window->showPage(PageName::Keep);
        QTRY_VERIFY(keep.changes > 0);
    }
};

HR_TEST(tst_hidden_pages)
#include "tst_hidden_pages.moc"
