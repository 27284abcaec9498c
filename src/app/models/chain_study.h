// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is known of the chain on Build, found in the background with the section that repeats: how loud it is
// after each stage and, where that is asked for, what the orders of its stages do to it and what it is like
// from point to point. Of a chain that has changed since, nothing is known.
#pragma once

#include "audio/transport.h"
#include "audition/before_or_behind.h"
#include "audition/neutral.h"
#include "jobs/jobs.h"
#include "jobs/soon.h"
#include "models/chain_draft.h"
#include "models/chain_opening.h"

namespace hr::app {

class ChainStudy : public QObject {
    Q_OBJECT
public:
    ChainStudy(ChainDraft& draft, Transport& transport, library::Store& store, Jobs& jobs,
               QObject* parent = nullptr);

    /// Levels along the chain are kept current while they are wanted.
    void keepLevels(bool wanted);
    /// Empty until they are known.
    const std::vector<audition::PathPoint>& levels() const { return m_path.points; }
    bool isOverloadHeard() const { return m_path.overload_heard; }
    /// Why there are none; empty while they are on their way.
    const QString& whyNoLevels() const { return m_why_no_levels; }

    /// Sets the trims of these stages so that none adds loudness, in one step, once they are found.
    void toNeutral(const std::vector<std::string>& stages);

    // --- asked for (chain_questions.cpp) ---

    template<class T>
    struct Answer {
        std::optional<T> found; ///< empty: not asked, or not of the chain as it is
        QString why_none;       ///< empty: not asked, or on its way
        Jobs::Id job = 0;
        double progress = 0; ///< 0 to 1, while isPending()
        bool isPending() const { return job != 0; }
    };
    /// All orders of the stages that may move.
    void compareOrders();
    const Answer<audition::Orders>& orders() const { return m_orders; }
    /// Response, ratio and latency from point to point.
    void followPath();
    const Answer<audition::AlongPath>& path() const { return m_followed; }
    /// What it changes whether these two change places.
    void compareEqualiser(const chain::EqualiserAndCompressor& which);
    const Answer<audition::BeforeOrBehind>& equaliser() const { return m_equaliser; }
    void cancelAnswers();

signals:
    /// An edit has made it louder than full scale, from behind this node on, where it was not before.
    void overloadArose(const std::string& node, double true_peak_dbtp);
    void notice(const QString& text);
    void levelsChanged();
    void answersChanged();

private:
    /// As it was when it was asked about.
    struct Request {
        ChainOpening chain;
        std::shared_ptr<const audition::Source> source;
        audition::Section section;
        audition::OpenPart opener(const std::stop_token& cancel) const;
    };
    /// With the section as a file, or why there is none, on another thread.
    using Work =
        std::function<void(const Request&, const Result<std::filesystem::path>& file, const JobControl&)>;
    Jobs::Id onSection(JobOrder job, Work work);
    template<class T>
    using Found = Result<hosting::FaultOr<T>>;
    template<class T>
    using Question =
        std::function<Found<T>(const Request&, const std::filesystem::path& file, const JobControl&)>;
    template<class T>
    void ask(Answer<T> ChainStudy::*answer, const QString& title, Question<T> question);
    template<class T>
    void forget(Answer<T>& answer);

    static Result<void> writeSection(const Request& asked, const std::filesystem::path& file,
                                     const std::stop_token& cancel);
    void forgetLevels();
    void forgetAnswers();
    void chainChanged();
    void findLevels();
    void levelsFound(Found<audition::AlongPath> found);
    using Trims = std::map<std::string, double>;
    void takeTrims(const Found<Trims>& found, const std::vector<std::string>& asked);

    ChainDraft& m_draft;
    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    Soon m_soon;
    bool m_wanted = false;
    std::string m_sounding;                        // the chain without what is not heard
    quint64 m_levels_turn = 0, m_answers_turn = 0; // what is told of an earlier one is not of this
    audition::AlongPath m_path;
    std::optional<bool> m_overloaded; // as it was before the last edit; empty: not known
    QString m_why_no_levels;
    Jobs::Id m_levels_job = 0;
    Answer<audition::Orders> m_orders;
    Answer<audition::AlongPath> m_followed;
    Answer<audition::BeforeOrBehind> m_equaliser;
};

/// Why there is nothing; of something that was found: empty.
template<class T>
QString whyNot(const Result<hosting::FaultOr<T>>& found)
{
    return !found ? inWords(found.error()) : !*found ? inWords(found->error()) : QString();
}

} // namespace hr::app
