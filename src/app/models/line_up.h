// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is heard against what: the untreated source and up to eight candidates, one of them the reference, all
// brought to one level, again after every change. Each has an id for life; the order is only the order.
#pragma once

#include "audio/transport.h"
#include "audition/fairness.h"
#include "library/store.h"
#include "models/contender.h"
#include "models/matcher.h"

namespace hr::app {

using audition::ContenderId;

class LineUp : public QObject {
    Q_OBJECT
public:
    static constexpr int most_candidates = 8;
    static constexpr ContenderId untreated = 1; ///< the source itself

    LineUp(Transport& transport, library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// The untreated source first, then the candidates in their order.
    const std::vector<Contender>& contenders() const { return m_contenders; }
    std::span<const Contender> candidates() const { return std::span(m_contenders).subspan(1); }
    const Contender* find(ContenderId id) const; ///< null: it has left
    const Contender* byMark(int mark) const;     ///< null: nobody has it
    int placeOf(ContenderId id) const;           ///< 0: the untreated source; -1: it has left

    /// At the end, or at `place` from 1. no_contender where it cannot be, which notice() says.
    ContenderId add(const QString& processor, const std::vector<processors::Setting>& settings = {},
                    int place = 0);
    /// One that was in the line-up before, under its letter where that is free: what is not installed any more
    /// is kept, with its settings, and says so.
    ContenderId addKept(const QString& processor, const QString& title,
                        const std::vector<processors::Setting>& settings, int mark,
                        const std::string& state = {});
    /// What it holds is looked up in the background; missing stages are bypassed, which notice() says. One that
    /// cannot be opened stays in its place and says why.
    ContenderId addChain(const chain::Chain& chain, int place = 0, int mark = 0);
    /// Another like it, behind it.
    ContenderId addCopy(ContenderId of);
    ContenderId addChainFile(const QString& file);
    /// Of one that is a chain. Values go to what plays; for any other change what is audible stays until the
    /// new form is open and matched, and only what is new in it is loaded. Where it cannot be opened, all stays
    /// as it was, which notice() says.
    void changeChain(ContenderId id, const chain::Chain& chain);
    /// A sound that was rendered before from the source that plays, or from `of`: it begins where that begins.
    ContenderId addRendered(const QString& file, const QString& of = {}, int mark = 0);
    /// What it was, for putBack(), which returns it to its place under the same id.
    std::optional<Contender> remove(ContenderId id);
    void putBack(Contender contender, int place);
    void move(ContenderId id, int place);
    /// Everybody but the source leaves; false where a trial needs them, which is said.
    bool clear();
    void setValue(ContenderId id, std::size_t parameter, double value);
    /// All values at once: what is audible stays until they are matched, and is then changed over to, at the
    /// right gain, at one frame. Where they make it fail, it stays as it was, which notice() says.
    /// `state` is what the processor keeps beside them; empty: its own default, nullopt: as it is now.
    void changeTo(ContenderId id, std::vector<double> values, std::optional<AppliedPreset> preset = {},
                  const std::optional<std::string>& state = {});

    // --- beside its values (line_up_extras.cpp) ---

    /// What it is called here; empty: by its title.
    void setName(ContenderId id, const QString& name);
    void hold(ContenderId id, std::size_t parameter, bool on);
    void pin(ContenderId id, std::size_t parameter, bool on);
    /// From now on, whenever one of its kind is added, what is pinned of this one is pinned of that.
    void rememberPins(ContenderId id);
    void seeAll(ContenderId id, bool on);
    /// Between which random settings stay; empty: anywhere.
    void setLimits(ContenderId id, std::size_t parameter, std::optional<std::pair<double, double>> limits);
    /// As what its value is to be understood ("1/8."), until it is set to another; empty: a figure.
    void setNote(ContenderId id, std::size_t parameter, const QString& note);
    void setFollowsTempo(ContenderId id, bool on);
    void setPreset(ContenderId id, const AppliedPreset& preset); ///< the name alone: its values are there
    void setSnapshot(ContenderId id, std::size_t place, std::optional<std::vector<double>> values);

    /// Audible as soon as it is ready and matched; until then what is audible stays.
    void hear(ContenderId id);
    /// The one that stands so many places further, round and round.
    void hearNext(int places);
    ContenderId wanted() const { return m_wanted; }
    ContenderId audible() const { return m_transport.audible(); }

    /// What the others are compared with: the untreated source, or any candidate.
    ContenderId reference() const { return m_reference; }
    void setReference(ContenderId id);

    // --- how candidates are used (line_up_use.cpp) ---

    enum class Use {
        Insert, ///< each in the place of the source, or so much of it
        Send,   ///< each fully wet beside the source, at a level of its own
    };
    static constexpr double least_return_db = -60;
    static constexpr double most_return_db = 12;
    Use use() const { return m_use; }
    void setUse(Use use);
    void setAmount(ContenderId id, double percent); ///< 0 to 100
    void setReturn(ContenderId id, double level_db);
    void setOn(ContenderId id, bool on);
    /// What of the candidates is heard.
    enum class Part {
        Whole,
        Wet, ///< what they add, fully wet and without the source
        Key, ///< what their detector listens to: a chain's key, or the source as its detector was measured
    };
    void setPart(Part part);
    Part part() const { return m_part; }
    /// What the key signal of this one is; empty where it is not heard.
    QString keyText(const Contender& contender) const;

    /// What all are brought to one level by.
    const audition::MatchRule& rule() const { return m_rule; }
    void setRule(const audition::MatchRule& rule);
    /// The source has another tempo: those that are told it sound otherwise.
    void tempoChanged();
    /// Of one that is not open, or not installed: what is held, snapshots and the like, as they stand in its
    /// document. A chain has them once it is open; what is not installed keeps them for when it is.
    void keepExtras(ContenderId id, nlohmann::ordered_json extras);
    /// A gain of the user's own in place of the matching; empty: matched again.
    void setByHand(ContenderId id, std::optional<double> gain_db);

    /// While what comes in is heard live: what each has been as loud as; all are matched by that, whatever the
    /// rule. Empty: the source is heard, and what was found of its section counts again.
    void setLive(std::optional<std::map<ContenderId, std::optional<double>>> lufs);

    /// Loudness of the reference at its gain, and how far the others are from it; empty until known.
    const std::optional<double>& commonLufs() const { return m_common_lufs; }
    std::optional<double> fairWithinLu() const;
    /// Whether everything is at one loudness by rule, and not by hand, or by something else, or not at all.
    bool isMatchedByLoudness() const;
    bool isLive() const { return m_live; }
    /// Of the source, live too: level of its difference from the reference, both at their gains; empty: not
    /// known, or there is none.
    std::optional<double> differenceDb(const Contender& contender) const;
    bool isMatching() const { return m_matcher.isBusy(); }

    /// All other parts of a company, as one sound that begins where the source begins; and how loud the part
    /// that is worked on is among them, so that the balance stays whatever all are brought to.
    struct Rest {
        QString file;
        double part_lufs = 0;
    };
    void setRest(std::optional<Rest> rest);
    /// The lane that plays it: for Transport::setAccompaniment(); no_contender: there is none.
    ContenderId rest() const { return m_rest ? m_rest_id : audition::no_contender; }

    // --- a blind trial's side ---
    /// One more that sounds like `of`, through a lane of its own and in no list: heard, but never named. What
    /// it was made of is held as it is until releaseTwins(); who would change it is told why not.
    /// With `anchor_hz`, it sounds like the anchor of a rating trial with that cutoff, at the gain of `of`.
    ContenderId addTwin(ContenderId of, std::optional<double> anchor_hz = {});
    void releaseTwins();
    /// Whether a trial holds the line-up as it is, which is then said.
    bool isTried();
    /// For how many seconds its processor is being loaded by now; empty once it is, and for the first moment.
    std::optional<int> loadingS(ContenderId id) const;
    /// Whether it could be changed over to at once.
    bool isReady(ContenderId id) const;

signals:
    void contendersChanged(); ///< who there is, in which order, and what they are
    void valueChanged(hr::audition::ContenderId id, std::size_t parameter);
    void settingsChanged(hr::audition::ContenderId id); ///< what is held, the preset, snapshots, or all values
    void matchChanged();
    void ruleChanged();
    void useChanged();
    void audibleChanged(); ///< or who is wanted
    void notice(const QString& text);

private:
    Contender* findMutable(ContenderId id);
    bool isJump(ContenderId from, ContenderId to) const;
    bool hasRoom();              ///< says so where there is none
    bool isHeld(ContenderId id); ///< for a trial, which it says
    audition::Basis basis() const { return m_live ? audition::Basis::Loudness : m_rule.basis; }
    std::optional<double> gainOf(const Contender& contender) const;
    std::optional<double> restGain() const;
    double offsetOf(const Contender& contender) const;
    int freeMark(int wanted = 0) const;
    ContenderId insert(Contender contender, int place);
    void updateEngine();
    void putAmong(ContenderId id, std::set<std::size_t> Contender::*which, std::size_t parameter, bool on);
    void recallPins(Contender& contender) const;
    static void takeAlong(Contender& contender, const processors::ProcessorInfo& before);

    // Processors of the catalogue:
    Result<library::Entry> fittingBuild(const library::Entry& entry) const;
    Result<void> become(Contender& contender, const library::Entry& entry,
                        const std::vector<processors::Setting>& settings);
    void followSource();
    bool placeRendered(Contender& contender);

    // Chains:
    using ChainOpened =
        std::function<void(const chain::Placed&, const hosting::FaultOr<processors::ProcessorInfo>&)>;
    chain::Placed placeOf(const chain::Chain& chain) const;
    void openChain(const chain::Chain& chain, const ChainOpened& take);
    void open(const Contender& contender);
    void opened(ContenderId id, std::uint32_t generation, const chain::Placed& placed,
                const hosting::FaultOr<processors::ProcessorInfo>& info);
    void setChainValues(Contender& contender, const chain::Chain& chain);
    void changedChainOpened(Contender& contender, const chain::Chain& chain, const chain::Placed& placed,
                            const hosting::FaultOr<processors::ProcessorInfo>& info);
    void takeChangedChain(Contender& contender);
    void sayMissing(const Contender& contender, const chain::Placed& placed);

    // How they are used:
    std::vector<double> playedValues(const processors::ProcessorInfo& info,
                                     const std::vector<double>& values) const;
    audition::WetDry mixOf(const Contender& contender) const;
    audition::Treatment treatmentOf(const Contender& contender) const;
    audition::Treatment keyOf(const Contender& contender) const;
    template<class Figure>
    void setMixed(ContenderId id, Figure Contender::*figure, Figure value);
    void usedOtherwise();

    // Matching:
    void changed(Contender& contender);
    void toBeMatched(Contender& contender);
    void mixedOtherwise(Contender& contender, const audition::WetDry& before);
    void matchNow(ContenderId id);
    void matched(ContenderId id, const MatchAnswer& answer);
    void take(Contender& contender);
    void applyGains();
    void compareWith(ContenderId reference);
    void compareNow(ContenderId id);
    void compared(ContenderId id, const std::optional<audition::Difference>& difference);
    void checkLanes();

    Transport& m_transport;
    library::Store& m_store;
    Jobs& m_jobs;
    Matcher m_matcher;
    std::vector<Contender> m_contenders;
    struct Twin {
        ContenderId id, of;
        std::optional<double> anchor_hz;
    };
    std::vector<Twin> m_twins;
    std::optional<Rest> m_rest;
    ContenderId m_rest_id = audition::no_contender;
    ContenderId m_next_id = untreated;
    ContenderId m_wanted = untreated;
    ContenderId m_reference = untreated;
    audition::MatchRule m_rule;
    bool m_live = false;
    Use m_use = Use::Insert;
    Part m_part = Part::Whole;
    std::optional<double> m_common_lufs;
    double m_within_lu = 0;
    double m_rate_hz; // that the contenders are described at
};

} // namespace hr::app
