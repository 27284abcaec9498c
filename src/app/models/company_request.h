// SPDX-License-Identifier: GPL-3.0-or-later
//
// A company as it was when its sound was asked for, with all that is needed to play it in the background.
#pragma once

#include "audition/company.h"
#include "models/chain_opening.h"

namespace hr::app {

struct CompanyRequest {
    CompanyRequest(const chain::Company& the_company, library::Store& store, double the_rate_hz)
        : company(the_company), opening(chainsOf(the_company), store), rate_hz(the_rate_hz)
    {
    }

    chain::Company company;
    ChainOpening opening;
    double rate_hz;
    double first_s = 0;
    std::optional<double> length_s; ///< empty: to the end

    audition::CompanyOrder order(const std::stop_token& cancel) const;
    audition::OpenPart opener(const std::stop_token& cancel) const
    {
        return [this, cancel](const chain::Chain& chain) { return opening.open(chain, cancel); };
    }
    /// All that a company's sound depends on, in one text.
    static std::string textOf(const chain::Company& company);

private:
    static std::vector<chain::Chain> chainsOf(const chain::Company& company);
};

} // namespace hr::app
