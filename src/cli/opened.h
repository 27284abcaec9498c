// SPDX-License-Identifier: GPL-3.0-or-later
//
// A processor or a chain as the command line names it, opened to play a stereo signal.
#pragma once

#include "command.h"

namespace hr::cli {

struct Opened {
    hosting::Location location;
    std::unique_ptr<hosting::Instance> instance; ///< as Channels::Stereo
    std::vector<double> values;
    bool mono = false; ///< the processor itself has one channel
};

/// A Fault of what was to be opened, or an Error of the request.
using OpenedOrFault = Result<hosting::FaultOr<Opened>>;

/// Where an id may stand, a chain file may, too: it is known by its ending.
bool isChainFile(const std::string& name);
OpenedOrFault openProcessor(const Context& context, const std::string& id, const std::string& preset,
                            const std::vector<std::string>& settings, bool again);
OpenedOrFault openChain(const Context& context, const std::string& file, bool again);

} // namespace hr::cli
