// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/build/times_view.h"

#include "processors/note_value.h"
#include "theme/theme.h"
#include "widgets/basics.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

namespace hr::app {

TimesView::TimesView(SourceTempo& tempo, QWidget* parent) : QWidget(parent), m_tempo(tempo)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(m_told = paragraph({}, "faint"));
    m_table = new QTableWidget(0, 3);
    m_table->setAccessibleName(tr("note values at the tempo"));
    m_table->setHorizontalHeaderLabels({tr("note"), tr("ms"), tr("Hz")});
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setTabKeyNavigation(false);
    column->addWidget(m_table, 1);
    const auto choose = [this](int row, int) { emit chosen(m_table->item(row, 0)->text()); };
    connect(m_table, &QTableWidget::cellClicked, this, choose);
    connect(m_table, &QTableWidget::cellActivated, this, choose);
    connect(&m_tempo, &SourceTempo::changed, this, &TimesView::reload);
    reload();
}

void TimesView::reload()
{
    const double bpm = m_tempo.bpm();
    m_table->setRowCount(0);
    m_table->setVisible(bpm > 0);
    if (bpm <= 0)
        return m_told->setText(
            tr("The source has no tempo yet: tap it with T, or type it with Shift+T. Times in note values are "
               "here then."));
    m_told->setText(
        tr("At %1 beats a minute. A click puts one into the time or rate in hand.").arg(number(bpm, 1)));
    const auto times = processors::noteTimes(bpm);
    m_table->setRowCount(static_cast<int>(times.size()));
    for (int row = 0; row < m_table->rowCount(); ++row) {
        const auto& [note, ms] = times[static_cast<std::size_t>(row)];
        const auto rate_hz = processors::noteInUnit(note, bpm, "Hz");
        const QString texts[] = {QString::fromStdString(note), number(ms, 1),
                                 rate_hz ? number(*rate_hz, 3) : QString()};
        for (int column = 0; column < 3; ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            item->setFont(Theme::figures(Theme::text_px));
            item->setTextAlignment(Qt::AlignVCenter | (column == 0 ? Qt::AlignLeft : Qt::AlignRight));
            m_table->setItem(row, column, item);
        }
    }
}

} // namespace hr::app
