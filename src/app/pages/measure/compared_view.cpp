// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/compared_view.h"

#include "pages/measure/plain_table.h"
#include "theme/theme.h"
#include "widgets/basics.h"
#include "widgets/candidate_mark.h"

#include <QComboBox>
#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

const std::set<int> wordy_columns{0, 5}; // columns without figures

QString lettered(const Contender& contender)
{
    return markLetter(contender.mark) + QStringLiteral("  ") + contender.calledHere();
}

QString figureOr(const std::optional<double>& value, int digits, const QString& none)
{
    return value ? number(*value, digits) : none;
}

QString verdictOf(const CompareJob::Outcome& outcome)
{
    return !outcome.fault.isEmpty()  ? outcome.fault
           : outcome.comparison.same ? ComparedView::tr("the same: on every source less than %1 dB is left")
                                           .arg(number(audition::same_below_db, 0))
                                     : ComparedView::tr("not the same: furthest apart on %1").arg(outcome.on);
}

} // namespace

ComparedView::ComparedView(LineUp& line_up, CompareJob& job, QWidget* parent)
    : QWidget(parent), m_line_up(line_up), m_job(job)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    auto* row = new QHBoxLayout;
    row->addWidget(label(tr("compare all with"), "faint"));
    m_with = new QComboBox;
    m_with->setAccessibleName(tr("which one all others are compared with"));
    m_with->setMinimumWidth(200);
    row->addWidget(m_with);
    row->addStretch();
    m_start = (new Button(tr("Compare")))->main();
    row->addWidget(m_start);
    column->addLayout(row);
    m_words = paragraph({}, "faint");
    column->addWidget(m_words);
    m_table = new QTableWidget;
    asFigures(*m_table, tr("how far apart they are"));
    column->addWidget(tableSheet(m_table), 1);
    connect(m_with, &QComboBox::currentIndexChanged, this, &ComparedView::refresh);
    connect(m_start, &QPushButton::clicked, this,
            [this] { m_job.isRunning() ? m_job.cancel() : m_job.start(with()); });
    connect(&m_job, &CompareJob::changed, this, &ComparedView::refresh);
    fillCandidates();
}

ContenderId ComparedView::with() const
{
    return m_with->currentData().value<quint64>();
}

void ComparedView::fillCandidates()
{
    {
        const QVariant before = m_with->currentData();
        const QSignalBlocker quiet(m_with);
        m_with->clear();
        for (const Contender& candidate : m_line_up.candidates())
            if (candidate.isMeasurable())
                m_with->addItem(lettered(candidate), QVariant::fromValue<quint64>(candidate.id));
        m_with->setCurrentIndex(std::max(0, m_with->findData(before)));
    }
    refresh();
}

void ComparedView::refresh()
{
    const bool running = m_job.isRunning();
    m_start->setText(running ? tr("Stop") : tr("Compare"));
    m_start->setEnabled(running || m_with->count() > 1);
    m_words->setText(m_with->count() < 2 ? tr("It takes two candidates: add another from Find.")
                                         : tr("Each as it is set, on every source of the demo, lined up in "
                                              "time and matched in loudness; what "
                                              "is left is the difference, against the one compared with."));
    setHeadings(*m_table,
                {tr("candidate"), tr("later by, samples"), tr("gain to match, dB"), tr("what is left, dB"),
                 tr("responses differ by, dB"), tr("verdict")},
                wordy_columns);
    m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    m_table->horizontalHeader()->setSectionResizeMode(5, QHeaderView::Stretch);
    for (const Contender& candidate : m_line_up.candidates()) {
        if (!candidate.isMeasurable() || candidate.id == with())
            continue;
        const auto* outcome = m_job.with() == with() ? m_job.outcomeOf(candidate.id) : nullptr;
        QStringList texts{
            lettered(candidate), {}, {}, {}, {}, running ? tr("waiting") : tr("not compared yet")};
        if (outcome && !outcome->fault.isEmpty()) {
            texts[5] = verdictOf(*outcome);
        } else if (outcome) {
            const auto& c = outcome->comparison;
            const QString none = tr("none");
            texts = {texts[0],
                     number(c.offset_samples, 2),
                     c.gain_db ? signedNumber(*c.gain_db, 2) : none,
                     figureOr(c.residual_db, 1, c.same ? tr("nothing") : none),
                     figureOr(c.response_difference_db, 2, none),
                     verdictOf(*outcome)};
        }
        addRow(*m_table, texts, wordy_columns);
    }
}

} // namespace hr::app
