// SPDX-License-Identifier: GPL-3.0-or-later
//
// The map on Find: what is measured lies on it, a click and a line around some select in the list.
#include "app/workbench.h"
#include "bench/suite.h"
#include "library/set_up.h"
#include "pages/find/map_view.h"

using namespace hr;
using namespace hr::app;

class tst_map : public QObject {
    Q_OBJECT

    QTemporaryDir m_data;
    std::unique_ptr<test::Workbench> m_bench;
    QStringList m_ids; // measured

    MapView* map() const { return m_bench->find<MapView>(QStringLiteral("map of what behaves alike")); }
    QStringList selected() const { return m_bench->window->findPage()->selectedIds(); }

private slots:
    void initTestCase()
    {
        m_bench = std::make_unique<test::Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        // Straight into the catalogue: what they are measured as is not what is asked here.
        auto& store = *m_bench->desk->store;
        const auto rows = m_bench->desk->processors.rowCount();
        for (int row = 0; row < rows; ++row) {
            const auto* entry = m_bench->desk->processors.entry(m_bench->desk->processors.index(row, 0));
            if (entry->state != library::State::Ready)
                continue;
            const auto info = store.catalogue.info(entry->id);
            HR_VERIFY(info);
            bench::Measurement measurement;
            measurement.processor = *info;
            for (const auto& parameter : info->parameters)
                measurement.values.push_back(parameter.default_value);
            measurement.started = "2026-11-29T12:00:00Z";
            measurement.asked = 1;
            bench::Reading reading;
            bench::Curve curve{"frequency_hz", "magnitude_db", {}};
            const double tilt = (row % 3 - 1) * 6 + 0.1 * row;
            for (double hz = 20; hz < 20000; hz *= 1.3)
                curve.points.emplace_back(hz, tilt * std::log10(hz / 1000));
            reading.put("passband_db", 0.0);
            reading.series["magnitude"] = curve;
            measurement.readings.emplace_back("response", reading);
            const auto location = store.catalogue.location(entry->id);
            HR_VERIFY(location);
            HR_VERIFY(store.runs.store(library::setUpOf(store.catalogue, *location, *info, measurement.values),
                                       measurement));
            m_ids << entry->id;
        }
        QVERIFY(m_ids.size() > 10);
        m_bench->window->showPage(PageName::Find);
        m_bench->press(Qt::Key_M, Qt::AltModifier);
        QTRY_VERIFY(map());
        QTRY_VERIFY_WITH_TIMEOUT(map()->whereIs(m_ids.last()).x() >= 0, 20000);
    }
    void cleanupTestCase() { m_bench.reset(); }

    void aClickTakesTheNearest()
    {
        const QPointF at = map()->whereIs(m_ids[2]);
        QTest::mouseClick(map(), Qt::LeftButton, {}, at.toPoint());
        QCOMPARE(selected().size(), 1);
        QVERIFY(QLineF(map()->whereIs(selected().first()), at).length() < 3);
        const QString before = selected().first();
        QTest::keyClick(map(), Qt::Key_Right);
        QTest::keyClick(map(), Qt::Key_Down);
        QTest::keyClick(map(), Qt::Key_Left);
        QCOMPARE(selected().size(), 1);
        QVERIFY(selected().first() != before || m_ids.size() < 4);
    }

    void aLineAroundAllTakesThemAll()
    {
        const QRect all = map()->rect().adjusted(1, 1, -2, -2);
        QTest::mousePress(map(), Qt::LeftButton, {}, all.topLeft());
        for (const QPoint& corner : {all.topRight(), all.bottomRight(), all.bottomLeft()}) {
            QMouseEvent move(QEvent::MouseMove, corner, map()->mapToGlobal(corner), Qt::NoButton,
                             Qt::LeftButton, {});
            QCoreApplication::sendEvent(map(), &move);
        }
        QTest::mouseRelease(map(), Qt::LeftButton, {}, all.topLeft());
        QCOMPARE(selected().size(), m_ids.size());
    }

    void itIsZoomedAndShowsWhatIsFound()
    {
        const QPointF before = map()->whereIs(m_ids[0]);
        QTest::keyClick(map(), Qt::Key_Plus);
        QTest::keyClick(map(), Qt::Key_Plus);
        QVERIFY(map()->whereIs(m_ids[0]) != before);
        QTest::keyClick(map(), Qt::Key_Home);
        QCOMPARE(map()->whereIs(m_ids[0]), before);
        const QImage whole = map()->grab().toImage();
        m_bench->window->findPage()->setSearchText(QStringLiteral("leveller"));
        QTRY_VERIFY(m_bench->desk->processors.rowCount() < 4);
        QVERIFY(map()); // it stays
        QVERIFY(map()->grab().toImage() != whole);
        m_bench->window->findPage()->setSearchText({});
        m_bench->press(Qt::Key_M, Qt::AltModifier);
        QVERIFY(!map());
    }
};

HR_TEST(tst_map)
#include "tst_map.moc"
