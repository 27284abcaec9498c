// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/fit_job.h"

namespace hr::app {

FitJob::FitJob(LineUp& line_up, Jobs& jobs, Notices& notices, QObject* parent)
    : QObject(parent), m_line_up(line_up), m_jobs(jobs), m_notices(notices)
{
}

void FitJob::start(ContenderId like, ContenderId set, const bench::FitOrder& order,
                   const bench::Conditions& conditions)
{
    const Contender* target = m_line_up.find(like);
    const Contender* moved = m_line_up.find(set);
    if (!target || !moved || isRunning())
        return;
    m_best.reset();
    const quint64 turn = ++m_turn;
    const auto found = std::make_shared<hosting::FaultOr<bench::Fit>>();
    const auto fitted = [](const Contender& one) {
        return bench::Fitted{one.location, one.described, one.values};
    };
    JobOrder job;
    job.title = tr("Set %1 like %2").arg(moved->title, target->title);
    job.line = QStringLiteral("bench");
    job.owner = this;
    job.work = [this, turn, order, conditions, found, a = fitted(*target),
                b = fitted(*moved)](const JobControl& in_hand) {
        bench::MeasureControl control;
        control.cancel = in_hand.cancel();
        control.progress = [&in_hand](const std::string&, double done) { in_hand.report(done); };
        *found = bench::fit(a, b, order, conditions, control, [this, turn](const bench::Fit& best) {
            QMetaObject::invokeMethod(this, [this, turn, best] {
                if (turn != m_turn)
                    return;
                m_best = best;
                emit changed();
            });
        });
    };
    job.finished = [this, turn, like, set, generation = moved->generation, found](JobEnd) {
        if (turn != m_turn)
            return;
        m_job = 0;
        finished(like, set, generation, *found);
        emit changed();
    };
    m_job = m_jobs.add(std::move(job));
    emit changed();
}

void FitJob::finished(ContenderId like, ContenderId set, std::uint32_t generation,
                      const hosting::FaultOr<bench::Fit>& fit)
{
    const Contender* moved = m_line_up.find(set);
    if (!fit) {
        if (!isCancelled(fit.error()))
            m_notices.say(tr("Nothing was fitted: one of the two %1")
                              .arg(QString::fromStdString(hosting::sentence(fit.error()))));
        return;
    }
    if (fit->values.empty())
        return; // it was cancelled before it began
    m_best = *fit;
    if (!moved || moved->generation != generation || fit->values.size() != moved->values.size())
        return m_notices.say(
            tr("The candidate that was to be set has been replaced meanwhile: nothing was added."));
    if (fit->after.empty() || bench::togetherApart(fit->after) >= bench::togetherApart(fit->before))
        return m_notices.say(tr("No setting came closer than the one that %1 has.").arg(moved->title));
    const QString title = moved->title;
    const ContenderId copy = m_line_up.addCopy(set);
    if (copy == audition::no_contender)
        return;
    m_line_up.changeTo(copy, fit->values);
    const int place = m_line_up.placeOf(like) + 1;
    m_line_up.move(copy, std::min(place, static_cast<int>(m_line_up.candidates().size())));
    m_notices.say(tr("%1, as set like %2, stands beside it on Listen.")
                      .arg(title, m_line_up.find(like) ? m_line_up.find(like)->title : tr("the other")));
}

/// Its work comes to an end with what it has.
void FitJob::cancel()
{
    if (m_job != 0)
        m_jobs.cancel(m_job);
}

} // namespace hr::app
