// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/figures_view.h"

#include "exchange/document.h"
#include "exchange/figures_csv.h"
#include "widgets/ask_file.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QCheckBox>
#include <QFile>
#include <QLineEdit>
#include <QVBoxLayout>

namespace hr::app {

FiguresView::FiguresView(QWidget* parent) : QWidget(parent)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    m_words = new QLineEdit;
    m_words->setAccessibleName(tr("find a figure"));
    m_words->setPlaceholderText(tr("find a figure: corner, THD, release"));
    m_words->setClearButtonEnabled(true);
    row->addWidget(m_words, 1);
    m_differing = new QCheckBox(tr("only what differs"));
    m_differing->setToolTip(tr("from the first, by more than the uncertainty of both"));
    row->addWidget(m_differing);
    m_count = label({}, "faint");
    row->addWidget(m_count);
    auto* save = new Button(tr("Save as a file"));
    row->addWidget(save);
    column->addLayout(row);
    m_table = new FiguresTable;
    column->addWidget(tableSheet(m_table), 1);
    connect(m_words, &QLineEdit::textChanged, this, &FiguresView::filter);
    connect(m_differing, &QCheckBox::toggled, this, &FiguresView::filter);
    connect(save, &QPushButton::clicked, this, &FiguresView::askWhere);
}

void FiguresView::fill(const std::vector<MeasuredCandidate>& candidates)
{
    m_candidates = candidates;
    m_table->fillWithAll(candidates);
    filter();
}

void FiguresView::filter()
{
    m_table->filter({m_words->text(), m_differing->isChecked()});
    const auto shown = m_table->rowsInSight().size();
    m_count->setText(m_table->rowCount() == 0 ? tr("nothing measured yet")
                                              : tr("%1 of %2 figures").arg(shown).arg(m_table->rowCount()));
}

Result<void> FiguresView::saveAs(const std::filesystem::path& file) const
{
    std::vector<std::pair<std::string, std::string>> rows;
    for (const auto& [test, figure] : m_table->rowsInSight())
        rows.emplace_back(test.toStdString(), figure.toStdString());
    std::vector<exchange::FiguresColumn> columns;
    for (const MeasuredCandidate& one : m_candidates)
        columns.push_back(
            {(markLetter(one.mark) + QLatin1Char(' ') + one.title).toStdString(),
             [&one](const std::string& test) { return one.reading(QString::fromStdString(test)); }});
    return exchange::writeText(file, exchange::figuresCsv(rows, columns));
}

void FiguresView::askWhere()
{
    askToSave(this, tr("Save the figures"), QStringLiteral("figures.csv"), tr("Data (*.csv)"),
              [this](const QString& file) {
                  emit told(savedOrWhy(saveAs(QFile::encodeName(file).toStdString()), file));
              });
}

} // namespace hr::app
