// SPDX-License-Identifier: GPL-3.0-or-later
//
// A blind trial between two of the line-up, while it is held and until its result is put away. X has a lane of
// its own for each of the two, open from the first round to the last, so that neither time nor processor load
// nor anything on the screen differs with what it is.
#pragma once

#include "audition/trial/abx.h"
#include "models/bench_queue.h"
#include "models/line_up.h"
#include "playbar/source_list.h"

#include <QDateTime>

namespace hr::app {

class AbxTrial : public QObject {
    Q_OBJECT
public:
    enum class Which { First, X, Second };
    enum class Stage { None, GettingReady, Asking, Over };

    AbxTrial(LineUp& line_up, Transport& transport, const BenchQueue& bench, library::Store& store,
             SourceList& sources, Notices& notices, QObject* parent = nullptr);

    /// Why these two cannot be told apart now, as a sentence with what to do; empty where they can be tried.
    QString hindrance(ContenderId first, ContenderId second) const;
    /// Where there is no hindrance.
    void begin(ContenderId first, ContenderId second, int rounds);

    Stage stage() const { return m_stage; }
    /// What is said to whoever would do meanwhile what would disturb it; empty while none is under way.
    QString disturbed() const;
    bool isRunning() const { return m_stage == Stage::GettingReady || m_stage == Stage::Asking; }
    const audition::AbxSheet& sheet() const { return *m_sheet; } ///< not while the stage is None
    const Contender& first() const { return m_first; }           ///< as it was when it began
    const Contender& second() const { return m_second; }
    double apartLu() const; ///< how far their loudness may be apart

    Which heard() const { return m_heard; } ///< what was asked for last
    void hear(Which which);
    /// Of this round. The next begins with the first, so that what is heard does not tell whether X has
    /// changed.
    void answer(bool x_is_second);
    /// What was answered is kept, and that it was stopped; with no answer, nothing is.
    void stop();
    /// Back to the line-up.
    void putAway();

    /// What is kept of it once it is over (docs/file-formats.md); null where nothing was answered.
    const nlohmann::ordered_json& document() const { return m_document; }

    /// Of the same two, the newest first.
    std::vector<library::Trial> earlier(ContenderId first, ContenderId second) const;

signals:
    void changed();

private:
    QString keyOf(const Contender& contender) const;
    nlohmann::ordered_json describe(const Contender& contender) const;
    void waitUntilReady();
    void watch();
    void finish();

    LineUp& m_line_up;
    Transport& m_transport;
    const BenchQueue& m_bench;
    library::Store& m_store;
    SourceList& m_sources;
    Notices& m_notices;

    Stage m_stage = Stage::None;
    std::optional<audition::AbxSheet> m_sheet;
    Contender m_first, m_second;
    ContenderId m_x_as_first = audition::no_contender;
    ContenderId m_x_as_second = audition::no_contender;
    Which m_heard = Which::First;
    QDateTime m_started;
    nlohmann::ordered_json m_document;
    nlohmann::ordered_json m_source; // as it was when it began
    QTimer m_ready;
};

} // namespace hr::app
