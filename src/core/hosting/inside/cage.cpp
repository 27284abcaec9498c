// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/cage.h"

#include "hosting/inside/allowed_calls.h"
#include "hosting/inside/file_access.h"
#include "hosting/protection.h"

#include <csignal>
#include <sys/prctl.h>

namespace hr::hosting::inside {

Result<void> enterCage(SharedBlock& block, const CageDoors& doors)
{
    const Protection offered = protection();
    if (auto why = whyNotRun(offered))
        return machineFailed(std::move(*why));
    // Nothing that is started, or asked of the kernel, from here on can have more rights than this process.
    if (prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) != 0)
        return machineFailed("The kernel did not give up rights that plug-ins might use.");
    if (offered.landlock > 0)
        if (auto closed = restrictFiles(doors, offered.landlock); !closed)
            return closed;
    if (offered.system_calls)
        if (auto closed = allowListedCalls(block, doors.permissions, offered); !closed)
            return closed;
    return {};
}

} // namespace hr::hosting::inside
