// SPDX-License-Identifier: GPL-3.0-or-later
//
// The search for the processor that only breaks things in company. Sets of processors are started together in
// one worker; by halving, the shortest beginning of the list that fails is found, whose last is needed for the
// failure, and by halving again the one that it fails beside. Both then stand, one after the other, beside a
// third, which tells the culprit from its victim.
//
//     FaultSearch search(ids);
//     while (auto set = search.next())
//         search.tell(failsTogether(*set));
#pragma once

#include "hosting/instance.h"

#include <QStringList>
#include <optional>

namespace hr::library {

class FaultSearch {
public:
    explicit FaultSearch(QStringList ids);

    /// The next set to start together; nothing when it is over.
    std::optional<QStringList> next() const;
    /// Whether that set failed.
    void tell(bool failed);

    /// How many sets are still to be tried, at most.
    int stepsLeft() const;

    struct Verdict {
        QStringList culprits; ///< one; two where neither fails beside a third; none where nothing failed
        QString beside;       ///< with which it fails; empty: it fails alone
    };
    /// Once next() gives nothing.
    const Verdict& verdict() const { return m_verdict; }

private:
    enum class Step { All, Beginning, Alone, Company, FirstBesideThird, SecondBesideThird, Over };
    void beginCompany();
    void beginTelling();

    QStringList m_ids;
    Step m_step = Step::All;
    qsizetype m_works = 0; // a beginning of this length works,
    qsizetype m_fails = 0; // one of this length fails
    QString m_last;        // needed for the failure
    QString m_partner, m_third;
    bool m_first_fails = false;
    Verdict m_verdict;
};

/// Starts these in one worker, one after the other, runs noise through them side by side, and stops them. What
/// went wrong, or nothing; Cause::Cancelled where it was not tried to its end.
std::optional<hosting::Fault> failureTogether(const std::vector<hosting::Location>& locations,
                                              const std::stop_token& cancel = {});

} // namespace hr::library
