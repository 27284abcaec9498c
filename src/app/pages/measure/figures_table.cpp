// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/figures_table.h"

#include "bench/figure_text.h"
#include "bench/suite.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QVBoxLayout>
#include <cmath>

namespace hr::app {

namespace {

constexpr int test_role = Qt::UserRole;        // of a name
constexpr int figure_role = Qt::UserRole + 1;  // of a name
constexpr int differs_role = Qt::UserRole + 2; // of a name: whether a cell of its row is bold
constexpr int explanation_px = 360;

FigureCell* notMeasured()
{
    auto* cell = new FigureCell(QObject::tr("not measured"));
    cell->setAbsent();
    return cell;
}

QTableWidgetItem* cellOf(const bench::Reading& reading, const std::string& key, const bench::FigureInfo& figure)
{
    auto* cell = new FigureCell(QString::fromStdString(bench::cellText(reading, key, figure)));
    const auto* value = bench::figureIn(reading, key);
    if (value && !value->is_null()) {
        if (value->is_number())
            cell->setValue(value->get<double>());
        if (const std::string why = reading.whyUnsure(key); !why.empty())
            cell->setToolTip(QObject::tr("unsure: %1").arg(QString::fromStdString(why)).toHtmlEscaped());
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

/// "0.5 ms and 5 % of itself"; empty where it is exact, or a matter of the machine.
QString allowedText(const bench::FigureInfo& figure)
{
    QStringList parts;
    if (figure.allowed.absolute > 0)
        parts << (QString::number(figure.allowed.absolute) + QLatin1Char(' ') +
                  QString::fromStdString(figure.unit))
                     .trimmed();
    if (figure.allowed.relative > 0)
        parts << QObject::tr("%1 % of itself").arg(100 * figure.allowed.relative, 0, 'g', 3);
    return parts.join(QObject::tr(" and "));
}

} // namespace

FiguresTable::FiguresTable(QWidget* parent) : QTableWidget(parent)
{
    asFigures(*this, tr("figures"));
    connect(this, &QTableWidget::cellClicked, this, [this](int row, int column) {
        if (column == 0)
            explain(row);
    });
}

void FiguresTable::fill(const std::vector<MeasuredCandidate>& candidates, const std::vector<Row>& rows)
{
    setSortingEnabled(false);
    QStringList header{tr("figure")};
    for (const MeasuredCandidate& one : candidates)
        header << markLetter(one.mark) + QStringLiteral("  ") + one.title;
    setHeadings(*this, header);
    for (const Row& row : rows)
        addRow(candidates, row);
}

std::vector<FiguresTable::Row> FiguresTable::rowsOf(const std::vector<MeasuredCandidate>& candidates,
                                                    const QString& test)
{
    std::vector<const bench::Reading*> readings;
    for (const MeasuredCandidate& one : candidates)
        if (const auto* reading = one.reading(test))
            readings.push_back(reading);
    std::vector<Row> rows;
    for (const std::string& key : bench::figureKeys(test.toStdString(), readings))
        rows.emplace_back(test, QString::fromStdString(key));
    return rows;
}

void FiguresTable::fillWith(const std::vector<MeasuredCandidate>& candidates, const QString& test)
{
    const auto rows = rowsOf(candidates, test);
    fill(candidates, rows);
    addMeanings(candidates, rows);
}

namespace {

/// Of a check: who breaks it, and what that means; else what it means that it is kept; else why nobody has it.
QString meaningOf(const std::vector<MeasuredCandidate>& candidates, const FiguresTable::Row& row,
                  const bench::FigureInfo& figure)
{
    QStringList broken_by;
    bool kept = false;
    QString why_not;
    for (const MeasuredCandidate& one : candidates) {
        const auto* reading = one.reading(row.first);
        const auto* value = reading ? bench::figureIn(*reading, row.second.toStdString()) : nullptr;
        if (!value || !value->is_object())
            continue;
        const auto result = value->value("result", std::string());
        if (result == "fail")
            broken_by << markLetter(one.mark);
        else if (result == "pass")
            kept = true;
        else
            why_not = QString::fromStdString(value->value("detail", std::string()));
    }
    if (!broken_by.isEmpty())
        return (candidates.size() > 1 ? broken_by.join(QStringLiteral(", ")) + QStringLiteral(": ")
                                      : QString()) +
               QString::fromStdString(figure.if_broken);
    if (kept)
        return QString::fromStdString(figure.if_kept);
    return why_not.isEmpty() ? QString() : why_not.at(0).toUpper() + why_not.mid(1) + QLatin1Char('.');
}

} // namespace

void FiguresTable::addMeanings(const std::vector<MeasuredCandidate>& candidates, const std::vector<Row>& rows)
{
    const auto figureOf = [](const Row& row) {
        return bench::figureInfo(row.first.toStdString(), row.second.toStdString());
    };
    const bool checks =
        !rows.empty() && figureOf(rows.front()) && figureOf(rows.front())->shape == bench::FigureShape::Verdict;
    QHeaderView* header = horizontalHeader();
    header->setSectionResizeMode(checks ? QHeaderView::ResizeToContents : QHeaderView::Stretch);
    if (!checks)
        return;
    const int at = columnCount();
    setColumnCount(at + 1);
    auto* title = new QTableWidgetItem(words_indent + tr("what it means for the work"));
    title->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    setHorizontalHeaderItem(at, title);
    header->setSectionResizeMode(at, QHeaderView::Stretch);
    for (int row = 0; row < rowCount(); ++row) {
        const Row of(item(row, 0)->data(test_role).toString(), item(row, 0)->data(figure_role).toString());
        const QString meaning = figureOf(of) ? meaningOf(candidates, of, *figureOf(of)) : QString();
        auto* cell = new FigureCell(words_indent + meaning);
        cell->setToolTip(meaning.toHtmlEscaped()); // whole where the column is narrow
        setItem(row, at, cell);
    }
}

void FiguresTable::fillWithAll(const std::vector<MeasuredCandidate>& candidates)
{
    const bool first_time = !std::exchange(m_with_tests, true); // in the order of the suite then
    std::vector<Row> rows;
    for (const bench::TestInfo& test : bench::allTests()) {
        const QString key = QString::fromStdString(test.key);
        if (std::ranges::any_of(candidates, [&](const MeasuredCandidate& one) { return one.reading(key); }))
            std::ranges::copy(rowsOf(candidates, key), std::back_inserter(rows));
    }
    const int sorted_by = horizontalHeader()->sortIndicatorSection();
    const Qt::SortOrder order = horizontalHeader()->sortIndicatorOrder();
    fill(candidates, rows);
    horizontalHeader()->setSortIndicatorClearable(true);
    horizontalHeader()->setSortIndicator(first_time || sorted_by >= columnCount() ? -1 : sorted_by, order);
    setSortingEnabled(true);
}

void FiguresTable::filter(const Wish& wish)
{
    for (int row = 0; row < rowCount(); ++row) {
        const QTableWidgetItem* name = item(row, 0);
        setRowHidden(row, !name->text().contains(wish.words.trimmed(), Qt::CaseInsensitive) ||
                              (wish.only_differing && !name->data(differs_role).toBool()));
    }
}

std::vector<FiguresTable::Row> FiguresTable::rowsInSight() const
{
    std::vector<Row> rows;
    for (int row = 0; row < rowCount(); ++row)
        if (!isRowHidden(row))
            rows.emplace_back(item(row, 0)->data(test_role).toString(),
                              item(row, 0)->data(figure_role).toString());
    return rows;
}

QString FiguresTable::text() const
{
    QStringList lines;
    const auto line = [&](const auto& cell) {
        QStringList cells;
        for (int column = 0; column < columnCount(); ++column)
            cells << (cell(column) ? cell(column)->text() : QString());
        lines << cells.join(QLatin1Char('\t'));
    };
    line([this](int column) { return horizontalHeaderItem(column); });
    for (int row = 0; row < rowCount(); ++row)
        if (!isRowHidden(row))
            line([&](int column) { return item(row, column); });
    return lines.join(QLatin1Char('\n')) + QLatin1Char('\n');
}

void FiguresTable::keyPressEvent(QKeyEvent* event)
{
    if (event->matches(QKeySequence::Copy))
        QGuiApplication::clipboard()->setText(text());
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && currentRow() >= 0)
        explain(currentRow());
    else
        QTableWidget::keyPressEvent(event);
}

/// What the figure is, its uncertainty, and where the definition comes from.
void FiguresTable::explain(int row)
{
    const QTableWidgetItem* name = item(row, 0);
    const bench::FigureInfo* figure = bench::figureInfo(name->data(test_role).toString().toStdString(),
                                                        name->data(figure_role).toString().toStdString());
    if (!figure)
        return;
    QStringList lines;
    if (!figure->definition.empty())
        lines << QString::fromStdString(figure->definition);
    if (!figure->applies.empty())
        lines << tr("It exists %1.").arg(QString::fromStdString(figure->applies));
    const QString allowed = allowedText(*figure);
    if (!allowed.isEmpty())
        lines << tr("Uncertainty: %1.").arg(allowed);
    if (!figure->source.empty())
        lines << tr("Defined in: %1").arg(QString::fromStdString(figure->source));
    auto* sheet = new Sheet(window());
    sheet->setWindowFlags(Qt::Popup);
    sheet->setAttribute(Qt::WA_DeleteOnClose);
    sheet->setAccessibleName(name->text());
    sheet->setAccessibleDescription(lines.join(QLatin1Char(' ')));
    sheet->setFixedWidth(explanation_px);
    auto* column = new QVBoxLayout(sheet);
    column->setContentsMargins(14, 10, 14, 12);
    column->addWidget(label(name->text(), "strong"));
    for (const QString& line : lines) {
        auto* words = paragraph(line);
        words->setTextFormat(Qt::PlainText);
        column->addWidget(words);
    }
    sheet->adjustSize();
    // Below the name, or above it where the window ends.
    const QRect row_rect = visualItemRect(name);
    const int lowest = window()->mapToGlobal(window()->rect().bottomLeft()).y();
    QPoint at = viewport()->mapToGlobal(row_rect.bottomLeft() + QPoint(0, 2));
    if (at.y() + sheet->height() > lowest)
        at = viewport()->mapToGlobal(row_rect.topLeft() - QPoint(0, sheet->height() + 2));
    sheet->move(at);
    sheet->show();
}

/// As the test has declared the figure.
void FiguresTable::addRow(const std::vector<MeasuredCandidate>& candidates, const Row& row)
{
    const auto& [test, key] = row;
    const bench::FigureInfo* figure = bench::figureInfo(test.toStdString(), key.toStdString());
    if (!figure)
        return;
    const int at = rowCount();
    insertRow(at);
    const auto& tests = bench::allTests();
    const auto of = std::ranges::find(tests, test.toStdString(), &bench::TestInfo::key);
    const QString name = QString::fromStdString(bench::titleOf(test.toStdString(), key.toStdString(), *figure));
    auto* title = new QTableWidgetItem(m_with_tests && of != tests.end()
                                           ? QString::fromStdString(of->name) + QStringLiteral(": ") + name
                                           : name);
    title->setData(test_role, test);
    title->setData(figure_role, key);
    title->setToolTip(QString::fromStdString(figure->definition).toHtmlEscaped());
    setItem(at, 0, title);
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        const bench::Reading* reading = candidates[i].reading(test);
        auto* cell = reading ? cellOf(*reading, key.toStdString(), *figure) : notMeasured();
        cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
        cell->setFont(Theme::figures(12));
        if (cell->toolTip().isEmpty())
            cell->setToolTip(cell->text().toHtmlEscaped()); // whole where the column is narrow
        setItem(at, static_cast<int>(i) + 1, cell);
    }
    markDifferences(candidates, row, *figure, at);
}

/// Against the first that has the figure; only where they differ by more than the uncertainty of both.
void FiguresTable::markDifferences(const std::vector<MeasuredCandidate>& candidates, const Row& row,
                                   const bench::FigureInfo& figure, int at)
{
    if (figure.shape != bench::FigureShape::Number)
        return;
    std::optional<double> first;
    QString first_title;
    for (std::size_t i = 0; i < candidates.size(); ++i) {
        const bench::Reading* reading = candidates[i].reading(row.first);
        const auto* value = reading ? bench::figureIn(*reading, row.second.toStdString()) : nullptr;
        if (!value || !value->is_number())
            continue;
        const double one = value->get<double>();
        if (!first) {
            first = one;
            first_title = candidates[i].title;
            continue;
        }
        const bool of_the_machine =
            figure.allowed.absolute == 0 && figure.allowed.relative == 0 && one != std::round(one);
        if (of_the_machine || std::abs(one - *first) <= figure.allowed.at(one) + figure.allowed.at(*first))
            continue;
        QTableWidgetItem* cell = item(at, static_cast<int>(i) + 1);
        cell->setFont(Theme::figures(12, QFont::Bold));
        item(at, 0)->setData(differs_role, true);
        cell->setToolTip(tr("differs from %1 by %2 %3, more than the uncertainty of both")
                             .arg(first_title,
                                  QString::fromStdString(bench::numberText(one - *first, figure.digits)),
                                  QString::fromStdString(figure.unit))
                             .toHtmlEscaped());
    }
}

} // namespace hr::app
