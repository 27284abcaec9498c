// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/file_access.h"

#include <array>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <linux/landlock.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

namespace hr::hosting::inside {

namespace {

// Rights that are newer than this distribution's header (landlock(7)).
constexpr std::uint64_t access_truncate = 1ULL << 14;     // since version 3
constexpr std::uint64_t access_ioctl_device = 1ULL << 15; // since version 5
constexpr std::uint64_t access_bind_and_connect_tcp = 3;  // since version 4
constexpr std::uint64_t scope_sockets_and_signals = 3;    // since version 6
struct RulesetAttributes {
    std::uint64_t files = 0, ports = 0, scoped = 0;
};

constexpr std::uint64_t reading = LANDLOCK_ACCESS_FS_READ_FILE | LANDLOCK_ACCESS_FS_READ_DIR;

std::uint64_t allAccess(int version)
{
    std::uint64_t access =
        reading | LANDLOCK_ACCESS_FS_EXECUTE | LANDLOCK_ACCESS_FS_WRITE_FILE | LANDLOCK_ACCESS_FS_REMOVE_DIR |
        LANDLOCK_ACCESS_FS_REMOVE_FILE | LANDLOCK_ACCESS_FS_MAKE_CHAR | LANDLOCK_ACCESS_FS_MAKE_DIR |
        LANDLOCK_ACCESS_FS_MAKE_REG | LANDLOCK_ACCESS_FS_MAKE_SOCK | LANDLOCK_ACCESS_FS_MAKE_FIFO |
        LANDLOCK_ACCESS_FS_MAKE_BLOCK | LANDLOCK_ACCESS_FS_MAKE_SYM;
    if (version >= 2)
        access |= LANDLOCK_ACCESS_FS_REFER;
    if (version >= 3)
        access |= access_truncate;
    if (version >= 5)
        access |= access_ioctl_device;
    return access;
}

/// In a folder that it may write to: whatever makes ordinary files.
std::uint64_t ownAccess(std::uint64_t all)
{
    return all & (reading | LANDLOCK_ACCESS_FS_WRITE_FILE | LANDLOCK_ACCESS_FS_REMOVE_DIR |
                  LANDLOCK_ACCESS_FS_REMOVE_FILE | LANDLOCK_ACCESS_FS_MAKE_DIR | LANDLOCK_ACCESS_FS_MAKE_REG |
                  LANDLOCK_ACCESS_FS_MAKE_SYM | LANDLOCK_ACCESS_FS_REFER | access_truncate);
}

constexpr std::array system_readable{
    // Libraries and data of the system's.
    "/usr", "/lib", "/lib32", "/lib64", "/libx32", "/bin", "/nix/store", "/gnu/store",
    // What the C library, font libraries and their like look at.
    "/etc/ld.so.cache", "/etc/ld.so.conf", "/etc/ld.so.conf.d", "/etc/ld.so.preload", "/etc/alternatives",
    "/etc/fonts", "/etc/localtime", "/etc/timezone", "/etc/locale.alias", "/etc/nsswitch.conf", "/etc/passwd",
    "/etc/group", "/etc/host.conf", "/etc/hosts", "/etc/resolv.conf", "/etc/services", "/etc/gai.conf",
    "/etc/ssl", "/etc/ca-certificates", "/run/systemd/resolve", "/var/cache/fontconfig",
    // What the processor and this process are like.
    "/proc/self", "/proc/cpuinfo", "/proc/meminfo", "/proc/stat", "/proc/version", "/proc/filesystems",
    "/proc/sys/kernel", "/proc/sys/vm", "/sys/devices/system", "/sys/fs/cgroup", "/dev/null", "/dev/zero",
    "/dev/random", "/dev/urandom", "/dev/full"};

/// Whether a rule was added; what is not there needs none.
bool allow(int ruleset, const std::filesystem::path& path, std::uint64_t access)
{
    if (path.empty())
        return true;
    const int place = open(path.c_str(), O_PATH | O_CLOEXEC);
    if (place < 0)
        return true;
    struct stat facts {};
    if (fstat(place, &facts) != 0 || !S_ISDIR(facts.st_mode)) // of a file only what a file can have
        access &= LANDLOCK_ACCESS_FS_READ_FILE | LANDLOCK_ACCESS_FS_WRITE_FILE | access_truncate;
    const landlock_path_beneath_attr rule{access, place};
    const bool added = syscall(SYS_landlock_add_rule, ruleset, LANDLOCK_RULE_PATH_BENEATH, &rule, 0) == 0;
    close(place);
    return added;
}

bool addRules(int ruleset, const CageDoors& doors, std::uint64_t all)
{
    const std::uint64_t own = ownAccess(all);
    bool added =
        allow(ruleset, doors.own_folder, own) && allow(ruleset, doors.permissions.folder, own) &&
        allow(ruleset, doors.permissions.readable, reading) &&
        allow(ruleset, "/dev/null", all & (reading | LANDLOCK_ACCESS_FS_WRITE_FILE | access_truncate)) &&
        // Names of its own threads.
        allow(ruleset, "/proc/self", all & (reading | LANDLOCK_ACCESS_FS_WRITE_FILE | access_truncate));
    for (const char* path : system_readable)
        added = added && allow(ruleset, path, reading);
    for (const auto& path : doors.readable)
        added = added && allow(ruleset, path, reading);
    return added;
}

} // namespace

Result<void> restrictFiles(const CageDoors& doors, int version)
{
    RulesetAttributes attributes;
    attributes.files = allAccess(version);
    if (version >= 4 && !doors.permissions.network)
        attributes.ports = access_bind_and_connect_tcp;
    if (version >= 6)
        attributes.scoped = scope_sockets_and_signals;
    const std::size_t size = version >= 6 ? 24 : version >= 4 ? 16 : 8; // as long as the kernel knows it
    const auto ruleset = static_cast<int>(syscall(SYS_landlock_create_ruleset, &attributes, size, 0));
    const bool closed = ruleset >= 0 && addRules(ruleset, doors, attributes.files) &&
                        syscall(SYS_landlock_restrict_self, ruleset, 0) == 0;
    const int why = errno;
    if (ruleset >= 0)
        close(ruleset);
    if (!closed)
        return machineFailed(std::string("Landlock refused to protect your files (") + std::strerror(why) +
                             ")");
    return {};
}

} // namespace hr::hosting::inside
