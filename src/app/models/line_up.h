// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is heard against what: the reference and up to eight candidates on one source, all brought to one
// loudness, again after every change. Each has an id for life; the order is only the order.
#pragma once

#include "audio/transport.h"
#include "library/store.h"
#include "models/contender.h"
#include "models/matcher.h"

namespace hr::app {

using audition::ContenderId;

class LineUp : public QObject {
    Q_OBJECT
public:
    static constexpr int most_candidates = 8;
    static constexpr ContenderId reference = 1;

    LineUp(Transport& transport, library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// The reference first, then the candidates in their order.
    const std::vector<Contender>& contenders() const { return m_contenders; }
    std::span<const Contender> candidates() const { return std::span(m_contenders).subspan(1); }
    const Contender* find(ContenderId id) const; ///< null: it has left
    const Contender* byMark(int mark) const;     ///< null: nobody has it
    int placeOf(ContenderId id) const;           ///< 0: the reference; -1: it has left

    /// At the end, or at `place` from 1. no_contender where it cannot be, which notice() says.
    ContenderId add(const QString& processor, const std::vector<processors::Setting>& settings = {},
                    int place = 0);
    /// What it holds is looked up in the background; missing stages are bypassed, which notice() says. One that
    /// cannot be opened stays in its place and says why.
    ContenderId addChain(const chain::Chain& chain, int place = 0);
    ContenderId addChainFile(const QString& file);
    /// What it was, for putBack(), which returns it to its place under the same id.
    std::optional<Contender> remove(ContenderId id);
    void putBack(Contender contender, int place);
    void move(ContenderId id, int place);
    void setValue(ContenderId id, std::size_t parameter, double value);

    /// Audible as soon as it is ready and matched; until then what is audible stays.
    void hear(ContenderId id);
    ContenderId wanted() const { return m_wanted; }
    ContenderId audible() const { return m_transport.audible(); }

    /// The common level everything is brought to, and how fair that is; empty until known.
    std::optional<double> commonLufs() const;
    std::optional<double> fairWithinLu() const;
    bool isMatching() const { return m_matcher.isBusy(); }

    // --- a blind trial's side ---
    /// One more that sounds like `of`, through a lane of its own and in no list: heard, but never named. What
    /// it was made of is held as it is until releaseTwins(); who would change it is told why not.
    ContenderId addTwin(ContenderId of);
    void releaseTwins();
    /// Whether it could be changed over to at once.
    bool isReady(ContenderId id) const;

signals:
    void contendersChanged(); ///< who there is, in which order, and what they are
    void valueChanged(hr::audition::ContenderId id, std::size_t parameter);
    void matchChanged();
    void audibleChanged(); ///< or who is wanted
    void notice(const QString& text);

private:
    Contender* findMutable(ContenderId id);
    bool hasRoom();              ///< says so where there is none
    bool isHeld(ContenderId id); ///< for a trial, which it says
    std::optional<double> gainOf(const Contender& contender) const;
    int freeMark() const;
    ContenderId insert(Contender contender, int place);
    void updateEngine();

    // Processors of the catalogue:
    Result<library::Entry> fittingBuild(const library::Entry& entry) const;
    Result<void> become(Contender& contender, const library::Entry& entry,
                        const std::vector<processors::Setting>& settings);
    void followSource();

    // Chains:
    void open(const Contender& contender);
    void opened(ContenderId id, std::uint32_t generation, const chain::Placed& placed,
                const hosting::FaultOr<processors::ProcessorInfo>& info);

    // Matching:
    void changed(Contender& contender);
    void matchNow(ContenderId id);
    void matched(ContenderId id, const MatchAnswer& answer);
    void applyGains();
    void checkLanes();

    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    Matcher m_matcher;
    std::vector<Contender> m_contenders;
    struct Twin {
        ContenderId id, of;
    };
    std::vector<Twin> m_twins;
    ContenderId m_next_id = reference;
    ContenderId m_wanted = reference;
    double m_rate_hz; // that the contenders are described at
};

} // namespace hr::app
