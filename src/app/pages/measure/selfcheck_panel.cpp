// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/selfcheck_panel.h"

#include "bench/suite.h"
#include "widgets/basics.h"

#include <QVBoxLayout>

namespace hr::app {

namespace {

QString currentVersion()
{
    return QString::fromStdString(bench::benchVersion());
}

} // namespace

SelfcheckPanel::SelfcheckPanel(Jobs& jobs, library::Store& store, QWidget* parent)
    : QWidget(parent), m_jobs(jobs), m_store(store), m_last(library::lastBenchCheck(store))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    m_result = paragraph({}, "faint");
    column->addWidget(m_result);
    auto* row = new QHBoxLayout;
    m_button = new Button(tr("Check the bench"));
    connect(m_button, &QPushButton::clicked, this, &SelfcheckPanel::startOrStop);
    row->addWidget(m_button);
    auto* all = new Button(tr("Show"));
    all->setToolTip(tr("Known against measured, figure by figure"));
    connect(all, &QPushButton::clicked, this, &SelfcheckPanel::askedForAll);
    row->addWidget(all);
    row->addStretch();
    column->addLayout(row);
    say();
}

/// What the last check of this version came to.
void SelfcheckPanel::say()
{
    if (!m_last || !m_last->isOf(currentVersion())) {
        setRole(m_result, "faint");
        return m_result->setText(
            tr("Is the bench right? It can measure its own references, whose answers are known."));
    }
    setRole(m_result, m_last->isWithinLimits() ? "pass" : "fault");
    const QString day = m_last->taken.left(10);
    m_result->setText(
        m_last->isWithinLimits()
            ? tr("The bench was within its limits on %1: %2 figures.").arg(day).arg(m_last->passed)
            : tr("The bench was off on %1, in %2 of %3 figures: check it again.")
                  .arg(day)
                  .arg(m_last->failed)
                  .arg(m_last->passed + m_last->failed));
}

void SelfcheckPanel::startOrStop()
{
    if (m_job != 0)
        return m_jobs.cancel(m_job);
    m_button->setText(tr("Stop"));
    setRole(m_result, "faint");
    m_result->setText(tr("measuring the references …"));
    const auto checks = std::make_shared<std::vector<bench::Check>>();
    JobOrder job;
    job.title = tr("Check the bench");
    job.owner = this;
    job.work = [checks](const JobControl& control) {
        *checks = bench::selfcheck([&control](double done) { control.report(done); }, control.cancel());
    };
    job.finished = [this, checks](JobEnd end) {
        m_job = 0;
        m_button->setText(tr("Check the bench"));
        if (end == JobEnd::Done) {
            m_last = library::benchCheckOf(*checks);
            say();
            const auto kept = library::keepBenchCheck(m_store, *m_last);
            if (!kept)
                m_result->setText(QString::fromStdString(kept.error().text));
            emit checked();
        } else
            m_result->setText(tr("The check was stopped: there is no result."));
    };
    m_job = m_jobs.add(std::move(job));
}

} // namespace hr::app
