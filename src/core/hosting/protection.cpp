// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/protection.h"

#include <algorithm>
#include <cerrno>
#include <charconv>
#include <cstdlib>
#include <linux/landlock.h>
#include <linux/seccomp.h>
#include <string_view>
#include <sys/prctl.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace hr::hosting {

namespace {

constexpr std::string_view landlock_at_most = "landlock=";

/// Less than there is, never more.
void takeAway(std::string_view what, Protection& offered)
{
    int version = 0;
    if (what == "no-filter")
        offered.system_calls = false;
    else if (what.starts_with(landlock_at_most) &&
             std::from_chars(what.data() + landlock_at_most.size(), what.data() + what.size(), version).ec ==
                 std::errc())
        offered.landlock = std::min(offered.landlock, version);
}

} // namespace

Protection protection()
{
    Protection offered;
#if defined(__x86_64__) || defined(__aarch64__)
    // Asking for a filter without one is refused as a bad address where filters are known (seccomp(2)).
    const long filter = syscall(SYS_seccomp, SECCOMP_SET_MODE_FILTER, 0, nullptr);
    offered.system_calls = filter != 0 && errno == EFAULT;
#endif
    const long version = syscall(SYS_landlock_create_ruleset, nullptr, 0, LANDLOCK_CREATE_RULESET_VERSION);
    offered.landlock = version > 0 ? static_cast<int>(version) : 0;
    const char* waived = std::getenv("HONEST_RACK_UNPROTECTED");
    offered.waived = waived && std::string_view(waived) == "1";
    const char* pretended = std::getenv("HONEST_RACK_PRETEND");
    for (std::string_view rest = pretended ? pretended : ""; !rest.empty();) {
        const auto comma = std::min(rest.find(','), rest.size());
        takeAway(rest.substr(0, comma), offered);
        rest.remove_prefix(std::min(comma + 1, rest.size()));
    }
    return offered;
}

std::vector<std::string> missingFrom(const Protection& protection)
{
    std::vector<std::string> missing;
    if (!protection.system_calls)
        missing.emplace_back("Plug-ins can reach the network, start programs and disturb other processes: this "
                             "kernel has no seccomp filters.");
    if (protection.landlock < 1)
        missing.emplace_back(
            protection.system_calls
                ? "Plug-ins can read your files: this kernel has no Landlock."
                : "Plug-ins can read, write and delete your files: this kernel has no Landlock.");
    return missing;
}

std::optional<std::string> whyNotRun(const Protection& protection)
{
    const auto missing = missingFrom(protection);
    if (missing.empty() || protection.waived)
        return std::nullopt;
    std::string why;
    for (const std::string& sentence : missing)
        why += sentence + ' ';
    return why +
           "So none is run. Use a kernel that has it (Linux 5.13 or later), or set HONEST_RACK_UNPROTECTED=1 "
           "to run them all the same.";
}

} // namespace hr::hosting
