// SPDX-License-Identifier: GPL-3.0-or-later
//
// Measure, with hands: tests clicked and ticked, what stands in a cell.
#pragma once

#include "app/workbench.h"
#include "pages/measure/figures_table.h"
#include "pages/measure/test_list.h"

#include <QLabel>
#include <QTableWidget>

namespace hr::test {

class MeasureBench : public QObject {
protected:
    QTemporaryDir m_data;
    std::unique_ptr<Workbench> m_bench;

    app::TestList* tests() const { return m_bench->find<app::TestList>(QStringLiteral("tests")); }
    int rowOf(const QString& name) const
    {
        return tests()->row(tests()->findItems(name, Qt::MatchExactly).value(0));
    }
    void click(const QString& name) const
    {
        QTest::mouseClick(tests()->viewport(), Qt::LeftButton, {},
                          tests()->visualItemRect(tests()->item(rowOf(name))).center() + QPoint(20, 0));
    }
    app::FiguresTable* figures() const
    {
        for (auto* table : m_bench->window->findChildren<app::FiguresTable*>())
            if (table->isVisible())
                return table;
        return nullptr;
    }
    QString cell(const QString& figure, int column) const
    {
        for (int row = 0; row < figures()->rowCount(); ++row)
            if (figures()->item(row, 0)->text() == figure)
                return figures()->item(row, column)->text().trimmed();
        return QStringLiteral("no such figure");
    }
    void tickOnly(const QStringList& names) const
    {
        for (int row = 1; row < tests()->count(); ++row)
            if (tests()->item(row)->flags().testFlag(Qt::ItemIsUserCheckable))
                tests()->item(row)->setCheckState(names.contains(tests()->item(row)->text()) ? Qt::Checked
                                                                                             : Qt::Unchecked);
    }
    QStringList saidInSight() const
    {
        QStringList all;
        for (const auto* label : m_bench->window->findChildren<QLabel*>())
            if (label->isVisible())
                all << label->text();
        return all;
    }
    void measureAll() const
    {
        QTest::mouseClick(m_bench->button(QStringLiteral("Measure all")), Qt::LeftButton);
        QTRY_COMPARE_WITH_TIMEOUT(m_bench->desk->bench.waiting(), 0, 120000);
    }

    /// On Measure, with a compressor and a gain on the bench.
    void openBench()
    {
        m_bench = std::make_unique<Workbench>(m_data.path());
        QVERIFY(m_bench->ready());
        while (m_bench->candidates() > 0)
            m_bench->desk->line_up.remove(m_bench->idAt(1));
        m_bench->desk->line_up.add(QStringLiteral("reference:compressor"), {{"attack_ms", 20}});
        m_bench->desk->line_up.add(QStringLiteral("reference:gain"), {{"gain_db", -3}});
        QTRY_VERIFY_WITH_TIMEOUT(m_bench->at(1).isOpen() && m_bench->at(2).isOpen(), 10000);
        m_bench->window->showPage(app::PageName::Measure);
    }
};

} // namespace hr::test
