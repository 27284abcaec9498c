// SPDX-License-Identifier: GPL-3.0-or-later
//
// Chains that several tests are about.
#pragma once

#include "chain/chain_json.h"

namespace hr::test {

inline chain::Chain series(const std::string& name, const std::vector<std::string>& processors)
{
    chain::Chain made{name, {}};
    for (const std::string& processor : processors)
        chain::addStage(made, processor);
    return made;
}

} // namespace hr::test
