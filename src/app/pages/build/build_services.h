// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the parts of Build work with.
#pragma once

#include "actions/action_list.h"
#include "models/chain_chance.h"
#include "models/chain_hearing.h"
#include "models/chain_study.h"
#include "models/chain_versions.h"
#include "models/delivery_job.h"
#include "models/line_up_edits.h"
#include "models/measured_prints.h"
#include "models/parts_play.h"
#include "models/purposes.h"
#include "models/stage_pictures.h"
#include "services/keeping.h"
#include "services/page_book.h"
#include "services/page_routes.h"
#include "services/source_tempo.h"

namespace hr::app {

struct BuildServices {
    library::Store& store;
    ActionList& actions;
    ProcessorModel& processors;
    ChainDraft& draft;
    Purposes& purposes;
    StageFacts& facts;
    StagePictures& pictures;
    ChainHearing& hearing;
    LineUpEdits& edits;
    PartsDraft& parts;
    PartsPlay& parts_play;
    ChainVersions& versions;
    ChainChance& chance;
    ChainStudy& study;
    DeliveryJob& delivery;
    MeasuredPrints& prints;
    Transport& transport;
    SourceTempo& tempo;
    Keeping& keeping;
    PageBook& book;
    PageRoutes& routes;
    Navigation& navigation;
    Notices& notices;
};

} // namespace hr::app
