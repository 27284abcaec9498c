// SPDX-License-Identifier: GPL-3.0-or-later
//
// The services of the application, made in the order in which they need each other. Only the frame knows them
// all: pages are given those that they use.
#pragma once

#include "actions/action_list.h"
#include "audio/transport.h"
#include "models/alternation.h"
#include "models/chain_chance.h"
#include "models/chain_hearing.h"
#include "models/chain_study.h"
#include "models/chain_versions.h"
#include "models/compare_job.h"
#include "models/delivery_job.h"
#include "models/fault_search_job.h"
#include "models/fit_job.h"
#include "models/line_up_edits.h"
#include "models/live_play.h"
#include "models/live_tap.h"
#include "models/measured_prints.h"
#include "models/outside_input.h"
#include "models/parts_play.h"
#include "models/purposes.h"
#include "models/scan_job.h"
#include "models/settings_steps.h"
#include "models/similar_job.h"
#include "models/source_list.h"
#include "models/stage_pictures.h"
#include "models/sweep_job.h"
#include "services/bench_conditions.h"
#include "services/journal_keeper.h"
#include "services/keeping.h"
#include "services/page_book.h"
#include "services/page_routes.h"
#include "services/saved_line_ups.h"
#include "services/source_notes.h"
#include "services/source_tempo.h"
#include "services/tempo_follower.h"

namespace hr::app {

class Desk : public QObject {
    Q_OBJECT
public:
    explicit Desk(std::unique_ptr<library::Store> opened);
    ~Desk() override; ///< ends what is under way before what it works for

    /// Ends everything, waiting at most so long; whether nothing runs any more. What was under way is lost,
    /// what was finished is kept.
    bool end(std::chrono::milliseconds patience);

    std::unique_ptr<library::Store> store;
    Notices notices;
    Navigation navigation;
    QUndoStack undo;
    ActionList actions;
    Jobs jobs;
    SourceList sources;
    OutputSwitch output;
    Transport transport;
    LineUp line_up;
    LineUpEdits edits;
    SettingsSteps settings;
    BenchConditions conditions;
    BenchQueue bench;
    ScanJob scan;
    ProcessorModel processors;
    FaultSearchJob fault_search;
    SimilarJob similar;
    MeasuredPrints prints;
    ChainDraft draft;
    Purposes purposes;
    StageFacts facts;
    StagePictures pictures;
    ChainHearing hearing;
    PartsDraft parts;
    PartsPlay parts_play;
    ChainVersions versions;
    ChainChance chance;
    ChainStudy study;
    DeliveryJob delivery;
    Notebook notebook;
    Keeping keeping;
    PageRoutes routes;
    SavedLineUps saved;
    BlindTrials trials;
    Alternation alternation;
    SourceRhythm rhythm;
    SourceTempo tempo;
    SourceNotes source_notes;
    OutsideInput outside;
    LivePlay live_play;
    TempoFollower tempo_follower;
    LiveTap live;
    SweepJob sweep;
    FitJob fit;
    CompareJob comparing;
    PageBook book;
    JournalKeeper journal;

private:
    void checkCatalogue();
};

} // namespace hr::app
