// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/figures_table.h"

#include "bench/suite.h"
#include "theme/theme.h"
#include "widgets/candidate_mark.h"

#include <QHeaderView>

namespace hr::app {

namespace {

using nlohmann::ordered_json;

constexpr int row_px = 22;
constexpr std::size_t most_items = 3; // of a list, in a cell

/// The figure under "group.key", or null.
const ordered_json* figureIn(const bench::Reading& reading, const QString& key)
{
    const ordered_json* at = &reading.figures;
    for (const QString& part : key.split(QLatin1Char('.'))) {
        if (!at->is_object() || !at->contains(part.toStdString()))
            return nullptr;
        at = &(*at)[part.toStdString()];
    }
    return at;
}

/// The word, and the figure that decided.
QString verdictText(const ordered_json& verdict, const bench::FigureInfo& figure)
{
    const auto result = verdict.value("result", std::string());
    const QString word = result == "pass"   ? FiguresTable::tr("pass")
                         : result == "fail" ? FiguresTable::tr("fail")
                                            : FiguresTable::tr("does not apply");
    const bool decided = !figure.unit.empty() && verdict.contains("value") && verdict["value"].is_number();
    return decided ? FiguresTable::tr("%1 · %2 %3")
                         .arg(word, number(verdict["value"].get<double>(), figure.digits),
                              QString::fromStdString(figure.unit))
                   : word;
}

QString itemText(const ordered_json& item, const bench::FigureInfo& figure)
{
    if (item.is_number())
        return number(item.get<double>(), figure.digits);
    if (!item.is_object())
        return QStringLiteral("–");
    QStringList parts;
    for (const auto& [key, value] : item.items()) {
        const QString unit = key.ends_with("_hz")   ? QStringLiteral(" Hz")
                             : key.ends_with("_db") ? QStringLiteral(" dB")
                             : key.ends_with("_ms")
                                 ? QStringLiteral(" ms")
                                 : QStringLiteral(" ") + QString::fromStdString(key).toUpper();
        if (value.is_number())
            parts << number(value.get<double>(), key.ends_with("_hz") ? 1 : 2) + unit;
    }
    return parts.join(QStringLiteral(" · "));
}

QString listText(const ordered_json& list, const bench::FigureInfo& figure)
{
    QStringList items;
    for (std::size_t i = 0; i < std::min(most_items, list.size()); ++i)
        items << itemText(list[i], figure);
    const auto more = static_cast<int>(list.size()) - static_cast<int>(items.size());
    return items.join(QStringLiteral(";  ")) +
           (more > 0 ? FiguresTable::tr(";  %1 more").arg(more) : QString());
}

QString valueText(const ordered_json& value, const bench::FigureInfo& figure)
{
    switch (figure.shape) {
    case bench::FigureShape::Verdict:
        return verdictText(value, figure);
    case bench::FigureShape::List:
        return value.empty() ? FiguresTable::tr("none") : listText(value, figure);
    case bench::FigureShape::YesNo:
        return value.is_boolean() && value.get<bool>() ? FiguresTable::tr("yes") : FiguresTable::tr("no");
    case bench::FigureShape::Word:
        return value.is_string() ? QString::fromStdString(value.get<std::string>()) : QString();
    default:
        return value.is_number()
                   ? figureText(value.get<double>(), QString::fromStdString(figure.unit), figure.digits)
                   : QString();
    }
}

QTableWidgetItem* cellOf(const bench::Reading& reading, const QString& key, const bench::FigureInfo& figure)
{
    auto* cell = new QTableWidgetItem;
    const ordered_json* value = figureIn(reading, key);
    if (value && !value->is_null()) {
        cell->setText(valueText(*value, figure));
        if (figure.shape == bench::FigureShape::Verdict) {
            cell->setToolTip(QString::fromStdString(value->value("detail", std::string())).toHtmlEscaped());
            const auto result = value->value("result", std::string());
            cell->setForeground(result == "fail"   ? Theme::palette().fault
                                : result == "pass" ? Theme::palette().pass
                                                   : Theme::palette().faint);
        }
        return cell;
    }
    const auto reason = reading.reasons.find(key.toStdString());
    if (reason != reading.reasons.end()) {
        cell->setText(FiguresTable::tr("none"));
        cell->setToolTip(QString::fromStdString(reason->second).toHtmlEscaped());
        cell->setForeground(Theme::palette().faint);
    }
    return cell;
}

} // namespace

FiguresTable::FiguresTable(QWidget* parent) : QTableWidget(parent)
{
    setObjectName(QStringLiteral("figures"));
    setAccessibleName(tr("figures"));
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setSelectionMode(QAbstractItemView::NoSelection);
    setShowGrid(false);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(row_px);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
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
    std::vector<Row> rows;
    const auto found = std::ranges::find(bench::allTests(), test.toStdString(), &bench::TestInfo::key);
    if (found == bench::allTests().end())
        return fill(benched, rows);
    for (const bench::FigureInfo& figure : found->figures()) {
        const QString key = QString::fromStdString(figure.key);
        if (figure.shape != bench::FigureShape::Numbers) {
            rows.emplace_back(test, key);
            continue;
        }
        // What a group holds is known from the readings alone; where none has it, the group stands for it.
        const std::size_t before = rows.size();
        for (const Benched& one : benched)
            if (const auto* reading = one.reading(test))
                if (const ordered_json* group = figureIn(*reading, key); group && group->is_object())
                    for (const auto& [inner, value] : group->items())
                        if (const Row row(test, key + QLatin1Char('.') + QString::fromStdString(inner));
                            std::ranges::find(rows, row) == rows.end())
                            rows.push_back(row);
        if (rows.size() == before)
            rows.emplace_back(test, key);
    }
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
    QString name = QString::fromStdString(figure->name);
    if (const auto group = key.section(QLatin1Char('.'), 0, -2); !group.isEmpty())
        if (const auto* of = bench::figureInfo(test.toStdString(), group.toStdString()))
            name += tr(" (%1)").arg(QString::fromStdString(of->name));
    const QString unit = QString::fromStdString(figure->unit);
    const bool in_cells = unit.isEmpty() || figure->shape == bench::FigureShape::Verdict;
    auto* title = new QTableWidgetItem(in_cells ? name : tr("%1, %2").arg(name, unit));
    QString tip = QString::fromStdString(figure->definition);
    if (!figure->source.empty())
        tip += tr(" (%1)").arg(QString::fromStdString(figure->source));
    title->setToolTip(tip.toHtmlEscaped());
    setItem(at, 0, title);
    for (std::size_t i = 0; i < benched.size(); ++i) {
        const bench::Reading* reading = benched[i].reading(test);
        auto* cell = reading ? cellOf(*reading, key, *figure) : new QTableWidgetItem;
        cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        cell->setFont(Theme::figures(12));
        if (cell->toolTip().isEmpty())
            cell->setToolTip(cell->text().toHtmlEscaped()); // whole where the column is narrow
        setItem(at, static_cast<int>(i) + 1, cell);
    }
}

} // namespace hr::app
