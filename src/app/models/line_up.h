// SPDX-License-Identifier: GPL-3.0-or-later
//
// What is heard against what: the reference and up to eight candidates on one source. Keeps the
// engine in step with itself and everything matched in loudness, again after every change.
#pragma once

#include "audio/audio_session.h"
#include "audition/matching.h"
#include "chain/chain.h"
#include "library/store.h"
#include "models/jobs.h"

#include <QTimer>

namespace hr::app {

enum class MatchState { Waiting, Matched, Silent, Failed };

/// One that is heard: the reference, or a candidate.
struct Contender {
    QString id; ///< empty: the reference
    QString title;
    QString maker;
    processors::ProcessorInfo info;
    hosting::Location location;
    std::vector<double> values;
    std::optional<chain::Chain> chain; ///< as it was opened, where it is one

    MatchState match = MatchState::Waiting;
    std::optional<double> loudness_lufs; ///< before matching
    double gain_db = 0;                  ///< what the matching took
    double spread_lu = 0;                ///< how far repetitions differ
    QString fault;                       ///< why it is silent

    std::vector<processors::Setting> settings() const; ///< those that differ from the defaults
    chain::Chain chainNow() const;                     ///< of one that is a chain, with its values as they are
    library::CollectionItem item() const;              ///< as it is kept
};

library::CollectionItem itemOf(const chain::Chain& chain);

class LineUp : public QObject {
    Q_OBJECT
public:
    static constexpr int most_candidates = 8;

    LineUp(AudioSession& audio, library::Store& store, Jobs& jobs, QObject* parent = nullptr);

    /// 0 is the reference.
    int count() const { return static_cast<int>(m_contenders.size()); }
    const Contender& at(int lane) const { return m_contenders[static_cast<std::size_t>(lane)]; }
    int heard() const { return m_heard; }

    /// Returns the lane, or 0 with notice() saying why not. At `lane` when it is positive.
    int add(const QString& id, const std::vector<processors::Setting>& settings = {}, int lane = 0);
    /// A chain of this file, in the background: contendersChanged() follows, or notice(). Stages that are not
    /// installed are said and played round.
    void addChainFile(const QString& file);
    void addChain(const chain::Chain& chain);
    void remove(int lane);
    void setValue(int lane, int parameter, double value);
    void hear(int lane);

    const std::shared_ptr<const audition::Source>& source() const { return m_source; }
    const QString& sourceFile() const { return m_source_file; }
    /// Loads in the background; sourceChanged() follows, or notice().
    void loadSource(const QString& file, std::optional<audition::Section> loop = {});
    void setLoop(audition::Section loop);
    audition::Section loop() const { return m_loop; }

    /// The common level everything is brought to, and how fair that is; empty until known.
    std::optional<double> commonLufs() const;
    std::optional<double> fairWithinLu() const;
    bool isMatching() const { return m_matching > 0 || m_settle.isActive(); }

signals:
    void contendersChanged();
    void valueChanged(int lane, int parameter);
    void matchChanged();
    void heardChanged(int lane);
    void sourceChanged();
    void notice(const QString& text);

private:
    /// Its values with these over them; says what was beyond a range.
    void apply(Contender& contender, const std::vector<processors::Setting>& settings);
    Result<library::Entry> fittingBuild(const library::Entry& entry) const;
    void fitBuilds();
    int insert(Contender contender, int lane);
    void updateEngine();
    void scheduleMatch(int lane);
    void startMatching();
    void setSource(const std::shared_ptr<const audition::Source>& source, const QString& file,
                   const std::optional<audition::Section>& loop);
    void chainOpened(const chain::Chain& chain, const chain::Placed& placed,
                     const hosting::FaultOr<processors::ProcessorInfo>& info);
    void matched(quint64 ticket, const hosting::FaultOr<audition::LoopLoudness>& result);
    void applyGains();
    void checkFaults();

    AudioSession& m_audio;
    library::Store& m_store;
    std::vector<Contender> m_contenders;
    std::vector<quint64> m_tickets; // by lane: which match job is the one to believe; 0: none needed
    quint64 m_next_ticket = 0;
    int m_heard = 0;
    std::shared_ptr<const audition::Source> m_source;
    QString m_source_file;
    audition::Section m_loop;
    bool m_problem_said = false; // of this source
    QTimer m_settle;             // a moment after the last change, then match
    int m_matching = 0;
    Jobs& m_jobs;
};

} // namespace hr::app
