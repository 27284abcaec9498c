// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/figures_table.h"

#include "bench/figure_text.h"
#include "bench/suite.h"
#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QHeaderView>
#include <cmath>

namespace hr::app {

namespace {

constexpr int row_px = 22;

QTableWidgetItem* cellOf(const bench::Reading& reading, const std::string& key, const bench::FigureInfo& figure)
{
    auto* cell = new QTableWidgetItem(QString::fromStdString(bench::cellText(reading, key, figure)));
    const auto* value = bench::figureIn(reading, key);
    if (value && !value->is_null()) {
        if (figure.shape == bench::FigureShape::Verdict && value->is_object()) {
            cell->setToolTip(QString::fromStdString(value->value("detail", std::string())).toHtmlEscaped());
            const auto result = value->value("result", std::string());
            cell->setForeground(result == "fail"   ? Theme::palette().fault
                                : result == "pass" ? Theme::palette().pass
                                                   : Theme::palette().faint);
        }
        return cell;
    }
    if (const auto reason = reading.reasons.find(key); reason != reading.reasons.end()) {
        cell->setToolTip(QString::fromStdString(reason->second).toHtmlEscaped());
        cell->setForeground(Theme::palette().faint);
    }
    return cell;
}

} // namespace

void asFigures(QTableWidget& table, const QString& accessible_name)
{
    table.setObjectName(QStringLiteral("figures"));
    table.setAccessibleName(accessible_name);
    table.setEditTriggers(QAbstractItemView::NoEditTriggers);
    table.setSelectionMode(QAbstractItemView::NoSelection);
    table.setShowGrid(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(row_px);
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

FiguresTable::FiguresTable(QWidget* parent) : QTableWidget(parent)
{
    asFigures(*this, tr("figures"));
}

void FiguresTable::fill(const std::vector<Benched>& benched, const std::vector<Row>& rows)
{
    clear();
    setRowCount(0);
    setColumnCount(1 + static_cast<int>(benched.size()));
    QStringList header{tr("figure")};
    for (const Benched& one : benched)
        header << markLetter(one.mark) + QStringLiteral("  ") + one.title;
    setHorizontalHeaderLabels(header);
    horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    for (int column = 1; column < columnCount(); ++column)
        horizontalHeaderItem(column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    for (const Row& row : rows)
        addRow(benched, row);
}

void FiguresTable::fillWith(const std::vector<Benched>& benched, const QString& test)
{
    std::vector<const bench::Reading*> readings;
    for (const Benched& one : benched)
        if (const auto* reading = one.reading(test))
            readings.push_back(reading);
    std::vector<Row> rows;
    for (const std::string& key : bench::figureKeys(test.toStdString(), readings))
        rows.emplace_back(test, QString::fromStdString(key));
    fill(benched, rows);
}

/// As the test has declared the figure.
void FiguresTable::addRow(const std::vector<Benched>& benched, const Row& row)
{
    const auto& [test, key] = row;
    const bench::FigureInfo* figure = bench::figureInfo(test.toStdString(), key.toStdString());
    if (!figure)
        return;
    const int at = rowCount();
    insertRow(at);
    auto* title = new QTableWidgetItem(
        QString::fromStdString(bench::titleOf(test.toStdString(), key.toStdString(), *figure)));
    QString tip = QString::fromStdString(figure->definition);
    if (!figure->source.empty())
        tip += tr(" (%1)").arg(QString::fromStdString(figure->source));
    title->setToolTip(tip.toHtmlEscaped());
    setItem(at, 0, title);
    for (std::size_t i = 0; i < benched.size(); ++i) {
        const bench::Reading* reading = benched[i].reading(test);
        auto* cell = reading ? cellOf(*reading, key.toStdString(), *figure) : new QTableWidgetItem;
        cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        cell->setFont(Theme::figures(12));
        if (cell->toolTip().isEmpty())
            cell->setToolTip(cell->text().toHtmlEscaped()); // whole where the column is narrow
        setItem(at, static_cast<int>(i) + 1, cell);
    }
    markDifferences(benched, row, *figure, at);
}

/// Against the first that has the figure; only where they differ by more than both may be off.
void FiguresTable::markDifferences(const std::vector<Benched>& benched, const Row& row,
                                   const bench::FigureInfo& figure, int at)
{
    if (figure.shape != bench::FigureShape::Number)
        return;
    std::optional<double> first;
    QString first_title;
    for (std::size_t i = 0; i < benched.size(); ++i) {
        const bench::Reading* reading = benched[i].reading(row.first);
        const auto* value = reading ? bench::figureIn(*reading, row.second.toStdString()) : nullptr;
        if (!value || !value->is_number())
            continue;
        const double one = value->get<double>();
        if (!first) {
            first = one;
            first_title = benched[i].title;
            continue;
        }
        const bool of_the_machine =
            figure.allowed.absolute == 0 && figure.allowed.relative == 0 && one != std::round(one);
        if (of_the_machine || std::abs(one - *first) <= figure.allowed.at(one) + figure.allowed.at(*first))
            continue;
        QTableWidgetItem* cell = item(at, static_cast<int>(i) + 1);
        cell->setFont(Theme::figures(12, QFont::Bold));
        cell->setToolTip(tr("differs from %1 by %2 %3, more than both may be off")
                             .arg(first_title,
                                  QString::fromStdString(bench::numberText(one - *first, figure.digits)),
                                  QString::fromStdString(figure.unit))
                             .toHtmlEscaped());
    }
}

} // namespace hr::app
