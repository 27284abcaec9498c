// SPDX-License-Identifier: GPL-3.0-or-later
//
// A chain and where its stages lie, looked up on the interface's thread, to be opened on another.
#pragma once

#include "audition/orders.h"
#include "library/store.h"

#include <map>

namespace hr::app {

class ChainOpening {
public:
    ChainOpening(const chain::Chain& chain, const library::Store& store);
    /// For these, one after the other; chain() is the first.
    ChainOpening(const std::vector<chain::Chain>& chains, const library::Store& store);

    const chain::Chain& chain() const { return m_chain; }
    /// The chain, or another of the same processors. What is not installed is bypassed.
    Result<hosting::FaultOr<audition::OpenedChain>> open(const chain::Chain& chain,
                                                         const std::stop_token& cancel) const;

private:
    chain::Chain m_chain;
    std::map<std::string, Result<hosting::Location>> m_places;
};

/// Why a job with a chain came to nothing, as a sentence.
QString inWords(const Error& error);
QString inWords(const hosting::Fault& fault);

} // namespace hr::app
