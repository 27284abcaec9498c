// SPDX-License-Identifier: GPL-3.0-or-later
//
// What every blind trial of the line-up has in common, while it is held and until its result is put away: what
// is tried stays as it is and is heard through lanes of its own, open from the first answer to the last, so
// that neither time nor processor load nor anything on the screen differs with who is behind them.
#pragma once

#include "models/bench_queue.h"
#include "models/line_up.h"
#include "models/source_list.h"

#include <QDateTime>

namespace hr::app {

class BlindTrial : public QObject {
    Q_OBJECT
public:
    enum class Stage { None, GettingReady, Asking, Over };

    /// What a trial works with.
    struct Around {
        LineUp& line_up;
        Transport& transport;
        const BenchQueue& bench;
        library::Store& store;
        SourceList& sources;
        Notices& notices;
    };

    explicit BlindTrial(const Around& around, QObject* parent = nullptr);

    Stage stage() const { return m_stage; }
    bool isRunning() const { return m_stage == Stage::GettingReady || m_stage == Stage::Asking; }

    /// What was answered is kept, and that it was stopped; with no answer, nothing is.
    void stop();
    /// Back to the line-up.
    void putAway();

    /// Those that are tried, as they were when it began.
    const std::vector<Contender>& tried() const { return m_tried; }
    double apartLu() const; ///< how far their loudness may be apart

    /// What is kept of it once it is over (docs/file-formats.md); null where nothing was answered.
    const nlohmann::ordered_json& document() const { return m_document; }

    /// Of the same ones, the newest first.
    std::vector<library::Trial> earlier() const;

signals:
    void changed();

protected:
    /// Why these cannot be tried now, as a sentence with what to do; empty where they can.
    QString disabledReasonFor(const std::vector<ContenderId>& contenders) const;
    /// From now on `contenders` are held; hidden lanes are added after this.
    void start(const std::vector<ContenderId>& contenders);
    /// A lane of its own that sounds like `of`, or like the anchor of that cutoff.
    ContenderId addHidden(ContenderId of, std::optional<double> anchor_hz = {});
    /// Once all lanes are open, it asks.
    void askWhenReady();
    /// After the last answer.
    void finish();

    static std::string nameOf(const Contender& contender); ///< "A", "the source"

    // The sheet's side:
    virtual int answered() const = 0;
    virtual void stopSheet() = 0;
    /// What is kept beside when, what on, and how fair: {"kind", who, "result"}.
    virtual nlohmann::ordered_json answers() const = 0;
    /// Under which two keys it is kept, so that the same ones are found again.
    virtual std::pair<QString, QString> keys() const = 0;

    QString keyOf(const Contender& contender) const;
    nlohmann::ordered_json describe(const Contender& contender) const;

    const Around m_around;

private:
    void waitUntilReady();
    void watch();
    bool isConcerned(ContenderId id) const;

    Stage m_stage = Stage::None;
    std::vector<Contender> m_tried;
    std::vector<ContenderId> m_hidden;
    QDateTime m_started;
    nlohmann::ordered_json m_document;
    nlohmann::ordered_json m_source; // as it was when it began
    QTimer m_ready;
};

} // namespace hr::app
