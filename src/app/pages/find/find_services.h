// SPDX-License-Identifier: GPL-3.0-or-later
//
// What Find and its parts work with.
#pragma once

#include "actions/action_list.h"
#include "models/fault_search_job.h"
#include "models/kin_job.h"
#include "models/measured_prints.h"
#include "models/processor_model.h"
#include "models/scan_job.h"
#include "models/source_list.h"
#include "services/keeping.h"
#include "services/page_book.h"
#include "services/ways_on.h"

namespace hr::app {

struct FindServices {
    library::Store& store;
    ProcessorModel& processors;
    Notebook& notebook;
    Keeping& keeping;
    WaysOn& ways;
    PageBook& book;
    Navigation& navigation;
    BenchQueue& bench;
    LineUp& line_up;
    Transport& transport;
    SourceList& sources;
    ScanJob& scan;
    FaultSearchJob& fault_search;
    KinJob& kin;
    MeasuredPrints& prints;
    ActionList& actions;
    QUndoStack& undo;
    Notices& notices;
    Jobs& jobs;
};

} // namespace hr::app
