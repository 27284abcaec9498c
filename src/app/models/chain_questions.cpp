// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is asked about the chain on Build, each question answered once.
#include "models/chain_study.h"

namespace hr::app {

template<class T>
void ChainStudy::ask(Answer<T> ChainStudy::*answer, const QString& title, Question<T> question)
{
    Answer<T>& asked_for = this->*answer;
    if (asked_for.isPending())
        return;
    asked_for = {};
    if (!m_transport.source())
        asked_for.why_none = tr("There is no source to hear it on: choose one below.");
    if (!asked_for.why_none.isEmpty())
        return emit answersChanged();
    const auto found = std::make_shared<Found<T>>(wrongRequest(""));
    JobOrder job;
    job.title = title;
    job.line = QStringLiteral("bench");
    job.awaited = true;
    job.progressed = [this, answer, turn = m_answers_turn](double progress) {
        if (turn != m_answers_turn)
            return;
        (this->*answer).progress = progress;
        emit answersChanged();
    };
    job.finished = [this, found, answer, turn = m_answers_turn](JobEnd end) {
        if (turn != m_answers_turn)
            return;
        Answer<T>& now = this->*answer;
        now.job = 0;
        if (end == JobEnd::Done && *found && **found)
            now.found = std::move(***found);
        else if (end == JobEnd::Done)
            now.why_none = whyNot(*found);
        emit answersChanged();
    };
    asked_for.job = onSection(
        std::move(job), [found, question](const Request& asked, const auto& file, const JobControl& control) {
            *found = file ? question(asked, *file, control) : tl::make_unexpected(file.error());
        });
    emit answersChanged();
}

template<class T>
void ChainStudy::forget(Answer<T>& answer)
{
    if (answer.job != 0)
        m_jobs.cancel(answer.job);
    answer = {};
}

void ChainStudy::forgetAnswers()
{
    ++m_answers_turn;
    forget(m_orders);
    forget(m_followed);
    forget(m_equaliser);
    emit answersChanged();
}

void ChainStudy::cancelAnswers()
{
    for (const Jobs::Id job : {m_orders.job, m_followed.job, m_equaliser.job})
        if (job != 0)
            m_jobs.cancel(job);
}

void ChainStudy::compareOrders()
{
    const auto movable = chain::movable(m_draft.chain(), {});
    if (!movable) {
        m_orders.why_none = QString::fromStdString(movable.error().text);
        return emit answersChanged();
    }
    ask<audition::Orders>(&ChainStudy::m_orders, tr("Compare orders of the chain"),
                          [movable = *movable](const Request& asked, const std::filesystem::path& file,
                                               const JobControl& control) {
                              return audition::compareOrders(
                                  asked.chain.chain(), movable, asked.opener(control.cancel()), file,
                                  file.parent_path(),
                                  {control.cancel(), [&](std::size_t done, std::size_t of) {
                                       control.report(static_cast<double>(done) / static_cast<double>(of));
                                   }});
                          });
}

void ChainStudy::followPath()
{
    ask<audition::AlongPath>(
        &ChainStudy::m_followed, tr("Measure along the chain"),
        [](const Request& asked, const std::filesystem::path& file, const JobControl& control) {
            std::size_t done = 0;
            audition::PathQuestion question;
            question.cancel = control.cancel();
            question.with_in_out = true;
            question.point = [&](const audition::PathPoint&, std::size_t of) {
                control.report(static_cast<double>(++done) / static_cast<double>(of));
            };
            return audition::alongPath(asked.chain.chain(), asked.opener(control.cancel()), file, question);
        });
}

void ChainStudy::compareEqualiser(const chain::EqualiserAndCompressor& which)
{
    ask<audition::BeforeOrBehind>(
        &ChainStudy::m_equaliser, tr("Compare an equaliser before and behind a compressor"),
        [which](const Request& asked, const std::filesystem::path& file, const JobControl& control) {
            return audition::equaliserBeforeOrBehind(asked.chain.chain(), which, asked.opener(control.cancel()),
                                                     file, control.cancel());
        });
}

} // namespace hr::app
