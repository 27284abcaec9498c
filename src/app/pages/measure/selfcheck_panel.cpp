// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/measure/selfcheck_panel.h"

#include "bench/suite.h"
#include "widgets/basics.h"

#include <QVBoxLayout>
#include <algorithm>

namespace hr::app {

namespace {

QString currentVersion()
{
    return QString::fromStdString(bench::benchVersion());
}

} // namespace

SelfcheckPanel::SelfcheckPanel(Jobs& jobs, library::Store& store, QWidget* parent)
    : QWidget(parent), m_jobs(jobs), m_store(store)
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    m_result = paragraph(tr("Is the bench right? It can measure its own references, whose answers are known."),
                         "faint");
    if (const auto last = library::lastBenchCheck(m_store); last && last->isOf(currentVersion())) {
        setRole(m_result, last->isWithinLimits() ? "pass" : "fault");
        m_result->setText(last->isWithinLimits()
                              ? tr("The bench was within its limits on %1.").arg(last->taken.left(10))
                              : tr("The bench was off on %1: check it again.").arg(last->taken.left(10)));
    }
    column->addWidget(m_result);
    m_button = new Button(tr("Check the bench"));
    connect(m_button, &QPushButton::clicked, this, &SelfcheckPanel::startOrStop);
    column->addWidget(m_button, 0, Qt::AlignLeft);
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
            show(*checks);
            (void)library::keepBenchCheck(m_store, library::benchCheckOf(*checks));
            emit checked();
        } else
            m_result->setText(tr("The check was stopped: there is no result."));
    };
    m_job = m_jobs.add(std::move(job));
}

void SelfcheckPanel::show(const std::vector<bench::Check>& checks)
{
    const auto failed = std::ranges::find_if(checks, [](const bench::Check& c) { return !c.pass(); });
    const auto passed = std::ranges::count_if(checks, &bench::Check::pass);
    setRole(m_result, failed == checks.end() ? "pass" : "fault");
    m_result->setText(
        failed == checks.end()
            ? tr("The bench is within its limits: %1 of %2 figures.").arg(passed).arg(checks.size())
            : tr("The bench is off: %1 of %2 reads %3 instead of %4.")
                  .arg(QString::fromStdString(failed->figure), QString::fromStdString(failed->reference))
                  .arg(failed->measured)
                  .arg(failed->known));
}

} // namespace hr::app
