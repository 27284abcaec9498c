// SPDX-License-Identifier: GPL-3.0-or-later
//
// All specimens, in the order in which the library lists them.
#pragma once

#include "broken/runaways.h"
#include "broken/stormglass.h"
#include "dynamics/cordage_leveller.h"
#include "dynamics/gates.h"
#include "dynamics/levellers.h"
#include "motion/movers.h"
#include "time/echoes.h"
#include "tone/filters.h"
#include "tone/lantern_saturator.h"
#include "tone/saturators.h"
#include "tone/tidepool_equaliser.h"

namespace specimens {

template<class... T>
struct List {
};

using All = List<CordageLeveller, LighthouseOpto, WinchBus, StrongboxFour, HarbourWall, LockGate, BosunsWhistle,
                 TidepoolEqualiser, DriftCompass, Brightwork, Breakwater, BreakwaterMono, LanternSaturator,
                 BarnacleDrive, RustBucket, BilgePump, FogSignal, EchoSounder, DoubleQuay, Boathouse, ChartRoom,
                 DeepKeel, Shoal, Undertow, Flagstaff, Eddy, Swell, Spreader, TwinHulls, Halyard, Stormglass,
                 Becalmed, Wrecker>;

} // namespace specimens
