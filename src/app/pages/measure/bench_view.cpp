// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/bench_view.h"

#include "pages/measure/plain_table.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace hr::app {

namespace {

const std::set<int> wordy{0, 1, 6}; // columns without figures

/// One digit more than the allowed error.
int digitsFor(double allowed)
{
    return allowed > 0 ? std::clamp(static_cast<int>(std::ceil(-std::log10(allowed))) + 1, 0, 5) : 0;
}

/// "peak-filter, frequency_hz = 80": its id says what every one of these is.
QString referenceName(const bench::Check& check)
{
    return QString::fromStdString(check.reference).remove(QStringLiteral("reference:"));
}

QString titleOf(const bench::Check& check)
{
    return QString::fromStdString(check.unit.empty() ? check.name : check.name + ", " + check.unit);
}

QString sentence(const std::optional<library::BenchCheck>& check)
{
    if (!check)
        return BenchView::tr("The bench has not been checked yet: “Check the bench” measures its references, "
                             "whose answers are known on paper.");
    return BenchView::tr("Checked on %1 by version %2 of the bench: %3 of %4 figures within their limits. What "
                         "is known was worked out on paper, or from the discrete filter's own transfer "
                         "function.")
        .arg(check->taken.left(10), check->bench_version)
        .arg(check->passed)
        .arg(check->passed + check->failed);
}

} // namespace

BenchView::BenchView(QWidget* parent) : QWidget(parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    m_words = paragraph({}, "faint");
    column->addWidget(m_words);
    m_table = new QTableWidget;
    asFigures(*m_table, tr("known against measured"));
    column->addWidget(tableSheet(m_table), 1);
}

void BenchView::fill(const std::optional<library::BenchCheck>& check)
{
    m_words->setText(sentence(check));
    setHeadings(*m_table,
                {tr("reference"), tr("figure"), tr("known"), tr("measured"), tr("off by"), tr("allowed"),
                 tr("verdict")},
                wordy);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    if (!check)
        return;
    auto checks = check->checks;
    std::stable_partition(checks.begin(), checks.end(), [](const bench::Check& one) { return !one.pass(); });
    for (const bench::Check& one : checks) {
        const int digits = digitsFor(one.allowed);
        const bool found = std::isfinite(one.measured);
        addRow(*m_table,
               {referenceName(one), titleOf(one), number(one.known, digits),
                found ? number(one.measured, digits) : tr("none"),
                found ? signedNumber(one.error(), digits) : QString(),
                one.allowed > 0 ? number(one.allowed, digits) : tr("exact"),
                one.pass() ? tr("within") : tr("off")},
               wordy);
        m_table->item(m_table->rowCount() - 1, 6)
            ->setForeground(one.pass() ? Theme::palette().pass : Theme::palette().fault);
    }
}

} // namespace hr::app
