// SPDX-License-Identifier: GPL-3.0-or-later
//
// What Find and its parts work with.
#pragma once

#include "actions/action_list.h"
#include "models/fault_search_job.h"
#include "models/measured_prints.h"
#include "models/processor_model.h"
#include "models/scan_job.h"
#include "models/similar_job.h"
#include "models/source_list.h"
#include "services/keeping.h"
#include "services/page_book.h"
#include "services/page_routes.h"

namespace hr::app {

struct FindServices {
    library::Store& store;
    ProcessorModel& processors;
    Notebook& notebook;
    Keeping& keeping;
    PageRoutes& routes;
    PageBook& book;
    Navigation& navigation;
    BenchQueue& bench;
    LineUp& line_up;
    Transport& transport;
    SourceList& sources;
    ScanJob& scan;
    FaultSearchJob& fault_search;
    SimilarJob& similar;
    MeasuredPrints& prints;
    ActionList& actions;
    QUndoStack& undo;
    Notices& notices;
    Jobs& jobs;
};

} // namespace hr::app
