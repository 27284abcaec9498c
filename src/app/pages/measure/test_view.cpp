// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/test_view.h"

#include "bench/suite.h"
#include "widgets/candidate_mark.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
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

/// A line for each flag, with those who have it: "≈ A, C: the decay is no straight line …".
QStringList doubtsOf(const std::vector<MeasuredCandidate>& candidates, const QString& test)
{
    std::vector<std::pair<QString, QStringList>> doubts;
    for (const MeasuredCandidate& one : candidates)
        if (const auto* reading = one.reading(test))
            for (const bench::Flag& flag : reading->flags) {
                const QString words =
                    (flag.unsure.empty() ? QStringLiteral("%1: ") : QStringLiteral("≈ %1: ")) +
                    QString::fromStdString(flag.detail) + QLatin1Char('.');
                auto known = std::ranges::find(doubts, words, &decltype(doubts)::value_type::first);
                if (known == doubts.end())
                    known = doubts.insert(doubts.end(), {words, {}});
                known->second << markLetter(one.mark);
            }
    QStringList lines;
    for (auto& [words, letters] : doubts) {
        letters.removeDuplicates();
        lines << QString(words).replace(QStringLiteral("%1"), letters.join(QStringLiteral(", ")));
    }
    return lines;
}

/// A line for each check that failed, and for each that has nothing to show, and for each flag.
QString meaningOf(const std::vector<MeasuredCandidate>& candidates, const QString& test)
{
    QStringList lines;
    for (const MeasuredCandidate& one : candidates)
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
    return (lines + doubtsOf(candidates, test)).join(QLatin1Char('\n'));
}

} // namespace

TestView::TestView(const QString& test, QWidget* parent) : QWidget(parent), m_test(test)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(12);
    m_place = new QWidget;
    auto* place = new QVBoxLayout(m_place);
    place->setContentsMargins(0, 0, 0, 0);
    place->setSpacing(8);
    for (const bench::PlotInfo& of : bench::allPlots()) {
        if (test.toStdString() != of.test)
            continue;
        Plot* plot = plotFor(of);
        m_plots.push_back({&of, plot, plotSheet(QString::fromStdString(of.title), plot)});
        m_plots.back().sheet->setParent(m_place); // what has no place yet would be a window once it is seen
    }
    place->addWidget(makeChoices());
    m_grid = new QGridLayout;
    m_grid->setSpacing(12);
    place->addLayout(m_grid, 1);
    column->addWidget(m_place, 3);
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

QWidget* TestView::makeChoices()
{
    m_choices = new QWidget;
    auto* row = new QHBoxLayout(m_choices);
    row->setContentsMargins(0, 0, 0, 0);
    m_which = new QComboBox;
    m_which->setAccessibleName(tr("which plot is shown"));
    m_which->addItem(tr("All plots"));
    for (const Shown& shown : m_plots)
        m_which->addItem(QString::fromStdString(shown.of->title));
    row->addWidget(m_which);
    m_which->setVisible(m_plots.size() > 1);
    m_against = new QComboBox;
    m_against->setAccessibleName(tr("what the plots are drawn against"));
    row->addWidget(m_against);
    m_second = new QCheckBox(tr("second output, thin"));
    row->addWidget(m_second);
    row->addStretch();
    connect(m_which, &QComboBox::activated, this, &TestView::fillPlots);
    connect(m_against, &QComboBox::activated, this, &TestView::fillPlots);
    connect(m_second, &QCheckBox::toggled, this, &TestView::fillPlots);
    return m_choices;
}

void TestView::fill(const std::vector<MeasuredCandidate>& candidates)
{
    m_candidates = candidates;
    fillAgainst();
    fillPlots();
    m_table->fillWith(candidates, m_test);
    const QString meaning = meaningOf(candidates, m_test);
    m_meaning->setText(meaning);
    m_meaning->setVisible(!meaning.isEmpty());
}

void TestView::fillAgainst()
{
    const QVariant before = m_against->currentData();
    m_against->clear();
    m_against->addItem(tr("as measured"));
    for (const MeasuredCandidate& one : m_candidates)
        if (one.reading(m_test))
            m_against->addItem(tr("against %1 %2").arg(markLetter(one.mark), one.title), one.mark);
    m_against->setCurrentIndex(std::max(0, before.isValid() ? m_against->findData(before) : 0));
    m_against->setVisible(m_against->count() > 2); // one alone has nobody to be compared with
    m_second->setVisible(std::ranges::any_of(m_plots, [this](const Shown& shown) {
        return shown.of->thin && shown.of->thin->on_demand &&
               std::ranges::any_of(m_candidates, [&](const MeasuredCandidate& one) {
                   const auto* reading = one.reading(m_test);
                   return reading && bench::thinLineIn(*reading, *shown.of);
               });
    }));
}

void TestView::fillPlots()
{
    PlotWish wish;
    wish.thin_on_demand = m_second->isChecked() && !m_second->isHidden();
    if (const QVariant mark = m_against->currentData(); mark.isValid())
        wish.against_mark = mark.toInt();
    std::vector<Sheet*> shown;
    for (std::size_t i = 0; i < m_plots.size(); ++i) {
        const bool any = fillPlot(*m_plots[i].plot, m_candidates, *m_plots[i].of, wish);
        const bool chosen = m_which->currentIndex() <= 0 || m_which->currentIndex() == static_cast<int>(i) + 1;
        m_plots[i].sheet->setVisible(any && chosen);
        if (any && chosen)
            shown.push_back(m_plots[i].sheet);
    }
    arrange(shown);
    const bool measured = std::ranges::any_of(m_candidates, [this](const MeasuredCandidate& one) {
        const auto* reading = one.reading(m_test);
        return reading && !reading->series.empty();
    });
    m_choices->setVisible(measured && (m_plots.size() > 1 || m_against->count() > 2));
    m_place->setVisible(measured && !m_plots.empty());
}

/// Up to three side by side, the first, which says most, the widest; more in two rows.
void TestView::arrange(const std::vector<Sheet*>& sheets)
{
    for (const Shown& shown : m_plots)
        m_grid->removeWidget(shown.sheet);
    const auto count = static_cast<int>(sheets.size());
    const int columns = count > 3 ? (count + 1) / 2 : std::max(count, 1);
    for (int i = 0; i < count; ++i)
        m_grid->addWidget(sheets[static_cast<std::size_t>(i)], i / columns, i % columns);
    for (int column = 0; column < static_cast<int>(m_plots.size()); ++column)
        m_grid->setColumnStretch(column, column >= columns ? 0 : column == 0 && count <= 3 ? 3 : 2);
    for (int row = 0; row < 2; ++row)
        m_grid->setRowStretch(row, row * columns < count ? 1 : 0);
}

} // namespace hr::app
