// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the pages work with; made once by the main window's maker and handed to each. Pages know these
// models and never each other.
#pragma once

#include "audio/audio_session.h"
#include "library/store.h"
#include "models/bench_queue.h"
#include "models/chain_draft.h"
#include "models/hunt_job.h"
#include "models/jobs.h"
#include "models/kin_job.h"
#include "models/line_up.h"
#include "models/processor_model.h"
#include "models/scan_job.h"

#include <QUndoStack>

namespace hr::app {

enum class PageName { Find, Listen, Measure, Build, Keep, Write };

class Desk : public QObject {
    Q_OBJECT
public:
    explicit Desk(std::unique_ptr<library::Store> opened, const audition::DeviceChoice& device);
    ~Desk() override; ///< ends the jobs before what they work for

    std::unique_ptr<library::Store> store;
    AudioSession audio;
    std::unique_ptr<Jobs> jobs;
    LineUp line_up;
    BenchQueue bench;
    ScanJob scan;
    ProcessorModel processors;
    HuntJob hunt;
    KinJob kin;
    ChainDraft draft;
    QUndoStack undo;

    // Ways on, for every page. Each can be undone where it changes something kept.
    void listenTo(const QString& id, const std::vector<processors::Setting>& settings = {});
    void listenTo(const library::CollectionItem& item);
    /// In place of the chain that is on Build, in one step that can be taken back.
    void setDraft(const chain::Chain& chain);
    void measure(const QString& id);
    void build(const QStringList& ids); ///< as stages of the chain on Build
    void remember(const QString& id);   ///< as recently used
    /// Values that differ from new, as it stands in the line-up; nothing where it does not.
    std::optional<std::vector<processors::Setting>> heardSettings(const QString& id) const;
    /// Beats a minute of the source that is heard; 0: it has none.
    double tempo_bpm = 0;
    /// Keeps a processor in the collection, making one where there is none.
    void keep(const library::CollectionItem& item, qint64 collection);

    /// Changes what the user wrote about these, as one step that can be undone.
    void write(const QStringList& ids, const QString& what,
               const std::function<void(library::Written&)>& change);
    /// What was asked for as a collection by rule.
    void keepSearch(const library::Asked& asked, const QString& name);
    // Working sets; 0 where it failed, which notice() says.
    qint64 putSet(const library::WorkingSet& set);
    void removeSet(const library::WorkingSet& set); ///< can be undone
    void useSet(qint64 number);
    // Builds of one processor: said to be one, or each for itself. Can be undone.
    void joinBuilds(const QStringList& ids);
    void splitBuilds(const QStringList& ids);
    /// All of these that can be tried and are not measured yet, one after the other; it goes on after a
    /// restart.
    void measureInBackground(const QStringList& ids);

    bool said(const Result<void>& result); ///< whether it went well; if not, it is said

private:
    void takeFromQueue(const QString& id);
    void decideBuilds(const QString& what, const std::function<Result<void>()>& decide);

signals:
    void goTo(hr::app::PageName page);
    void collectionsChanged();
    void notice(const QString& text);
};

} // namespace hr::app
