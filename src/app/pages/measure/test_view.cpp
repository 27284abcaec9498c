// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/test_view.h"

#include "bench/suite.h"

#include <QVBoxLayout>
#include <set>

namespace hr::app {

namespace {

/// Why a test has no figure at all, where one reason holds for all of them.
QString whyNothing(const bench::Reading& reading)
{
    std::set<std::string> reasons;
    for (const auto& [key, value] : reading.figures.items())
        if (const auto reason = reading.reasons.find(key); reason != reading.reasons.end())
            reasons.insert(reason->second);
        else if (!value.is_array() || !value.empty())
            return {};
    return reasons.size() == 1 ? QString::fromStdString(*reasons.begin()) : QString();
}

/// A line for each check that failed, and for each that has nothing to show.
QString meaningOf(const std::vector<Benched>& benched, const QString& test)
{
    QStringList lines;
    for (const Benched& one : benched)
        if (const auto* reading = one.reading(test)) {
            if (const QString why = whyNothing(*reading); !why.isEmpty())
                lines << TestView::tr("%1: %2.").arg(one.title, why);
            for (const auto& [key, value] : reading->figures.items())
                if (value.is_object() && value.value("result", std::string()) == "fail")
                    if (const auto* figure = bench::figureInfo(test.toStdString(), key))
                        lines << TestView::tr("%1, %2: %3.")
                                     .arg(one.title, QString::fromStdString(figure->name),
                                          QString::fromStdString(value.value("detail", std::string())));
        }
    return lines.join(QLatin1Char('\n'));
}

} // namespace

TestView::TestView(const QString& test, QWidget* parent) : QWidget(parent), m_test(test)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    m_row = new QWidget;
    auto* row = new QHBoxLayout(m_row);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(12);
    for (const bench::PlotInfo& of : bench::allPlots()) {
        if (test.toStdString() != of.test)
            continue;
        Plot* plot = plotFor(of);
        Sheet* sheet = plotSheet(QString::fromStdString(of.title), {}, plot);
        // The first says most.
        row->addWidget(sheet, m_plots.empty() ? 3 : 2);
        m_plots.push_back({&of, plot, sheet});
    }
    column->addWidget(m_row, 3);
    auto* sheet = new Sheet;
    auto* inside = new QVBoxLayout(sheet);
    inside->setContentsMargins(6, 2, 6, 4);
    m_table = new FiguresTable;
    inside->addWidget(m_table);
    m_meaning = paragraph();
    m_meaning->setContentsMargins(6, 4, 6, 6);
    m_meaning->setTextFormat(Qt::PlainText);
    inside->addWidget(m_meaning);
    column->addWidget(sheet, 2);
}

void TestView::fill(const std::vector<Benched>& benched)
{
    bool any = false;
    for (const Shown& shown : m_plots) {
        auto curves = curvesOf(benched, *shown.of);
        any = any || !curves.empty();
        shown.sheet->setVisible(!curves.empty());
        shown.plot->setCurves(std::move(curves));
    }
    m_row->setVisible(any);
    m_table->fillWith(benched, m_test);
    const QString meaning = meaningOf(benched, m_test);
    m_meaning->setText(meaning);
    m_meaning->setVisible(!meaning.isEmpty());
}

} // namespace hr::app
