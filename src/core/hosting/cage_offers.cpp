// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/cage_offers.h"

#include <cerrno>
#include <linux/landlock.h>
#include <linux/seccomp.h>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace hr::hosting {

CageOffers cageOffers()
{
    // Asking for a filter without one is refused as a bad address where filters are known (seccomp(2)).
    const long filter = syscall(SYS_seccomp, SECCOMP_SET_MODE_FILTER, 0, nullptr);
    const bool system_calls = filter != 0 && errno == EFAULT;
    const long version = syscall(SYS_landlock_create_ruleset, nullptr, 0, LANDLOCK_CREATE_RULESET_VERSION);
    return {system_calls, version > 0 ? static_cast<int>(version) : 0};
}

std::vector<std::string> missingFrom(const CageOffers& offers)
{
    std::vector<std::string> missing;
    if (!offers.system_calls)
        missing.emplace_back("Plug-ins can reach the network, start programs and disturb other processes: this "
                             "kernel has no seccomp filters.");
    if (offers.landlock < 1)
        missing.emplace_back("Plug-ins can write and delete your files: this kernel has no Landlock.");
    else if (offers.landlock < 3)
        missing.emplace_back(
            "Plug-ins can cut off your files: this kernel's Landlock does not cover truncation.");
    return missing;
}

} // namespace hr::hosting
