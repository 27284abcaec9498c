// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/cage.h"

#include "hosting/cage_offers.h"

#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <linux/landlock.h>
#include <linux/openat2.h>
#include <memory>
#include <sched.h>
#include <seccomp.h>
#include <sys/ioctl.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <ucontext.h>
#include <unistd.h>

namespace hr::hosting::inside {

namespace {

// --- files, ports and processes: Landlock -----------------------------------------------------------------

// Rights that are newer than this distribution's header (landlock(7)).
constexpr std::uint64_t access_truncate = 1ULL << 14;    // since version 3
constexpr std::uint64_t access_bind_and_connect_tcp = 3; // since version 4
constexpr std::uint64_t scope_sockets_and_signals = 3;   // since version 6
struct RulesetAttributes {
    std::uint64_t files = 0, ports = 0, scoped = 0;
};

/// All that changes something; reading stays free.
std::uint64_t changingAccess(int version)
{
    std::uint64_t access =
        LANDLOCK_ACCESS_FS_EXECUTE | LANDLOCK_ACCESS_FS_WRITE_FILE | LANDLOCK_ACCESS_FS_REMOVE_DIR |
        LANDLOCK_ACCESS_FS_REMOVE_FILE | LANDLOCK_ACCESS_FS_MAKE_CHAR | LANDLOCK_ACCESS_FS_MAKE_DIR |
        LANDLOCK_ACCESS_FS_MAKE_REG | LANDLOCK_ACCESS_FS_MAKE_SOCK | LANDLOCK_ACCESS_FS_MAKE_FIFO |
        LANDLOCK_ACCESS_FS_MAKE_BLOCK | LANDLOCK_ACCESS_FS_MAKE_SYM;
    if (version >= 2)
        access |= LANDLOCK_ACCESS_FS_REFER;
    if (version >= 3)
        access |= access_truncate;
    return access;
}

void allowBeneath(int ruleset, const char* path, std::uint64_t access)
{
    const int place = open(path, O_PATH | O_CLOEXEC);
    if (place < 0)
        return;
    const landlock_path_beneath_attr rule{access, place};
    syscall(SYS_landlock_add_rule, ruleset, LANDLOCK_RULE_PATH_BENEATH, &rule, 0);
    close(place);
}

void restrictFiles(const std::filesystem::path& own_folder, const Permissions& permissions)
{
    const int version = cageOffers().landlock;
    if (version == 0)
        return;
    RulesetAttributes attributes;
    attributes.files = changingAccess(version);
    if (version >= 4 && !permissions.network)
        attributes.ports = access_bind_and_connect_tcp;
    if (version >= 6)
        attributes.scoped = scope_sockets_and_signals;
    const std::size_t size = version >= 6 ? 24 : version >= 4 ? 16 : 8; // as long as the kernel knows it
    const auto ruleset = static_cast<int>(syscall(SYS_landlock_create_ruleset, &attributes, size, 0));
    if (ruleset < 0)
        return;
    const std::uint64_t in_folders = attributes.files & ~std::uint64_t{LANDLOCK_ACCESS_FS_EXECUTE};
    const std::uint64_t in_files =
        attributes.files & (std::uint64_t{LANDLOCK_ACCESS_FS_WRITE_FILE} | access_truncate);
    if (!own_folder.empty())
        allowBeneath(ruleset, own_folder.c_str(), in_folders);
    if (!permissions.folder.empty())
        allowBeneath(ruleset, permissions.folder.c_str(), in_folders);
    allowBeneath(ruleset, "/dev/null", in_files);
    allowBeneath(ruleset, "/proc/self", in_files); // names of its own threads
    syscall(SYS_landlock_restrict_self, ruleset, 0);
    close(ruleset);
}

// --- system calls: seccomp --------------------------------------------------------------------------------

SharedBlock* noted_in = nullptr; // by the signal handler

/// The registers of a system call that was trapped.
struct TrappedCall {
#if defined(__x86_64__)
    explicit TrappedCall(void* context) : m_registers(static_cast<ucontext_t*>(context)->uc_mcontext.gregs) {}
    std::uint64_t argument(std::size_t index) const
    {
        constexpr std::array<int, 4> names{REG_RDI, REG_RSI, REG_RDX, REG_R10};
        return static_cast<std::uint64_t>(m_registers[names[index]]);
    }
    void answer(long result)
    {
        m_registers[REG_RAX] = result;
    }

private:
    greg_t* m_registers;
#elif defined(__aarch64__)
    explicit TrappedCall(void* context) : m_registers(static_cast<ucontext_t*>(context)->uc_mcontext.regs) {}
    std::uint64_t argument(std::size_t index) const
    {
        return m_registers[index];
    }
    void answer(long result)
    {
        m_registers[0] = static_cast<std::uint64_t>(result);
    }

private:
    decltype(mcontext_t::regs[0])* m_registers;
#endif
};

void note(std::uint32_t refused)
{
    noted_in->refused.fetch_or(refused, std::memory_order_release);
}

void notePath(const char* path)
{
    if ((noted_in->refused.load(std::memory_order_relaxed) & refused_files) == 0) {
        auto& kept = noted_in->refused_path;
        std::strncpy(kept.data(), path, kept.size() - 1);
        kept.back() = '\0';
    }
    note(refused_files);
}

/// Opens what was to be opened for writing after all: Landlock decides, and what it refuses is noted. The other
/// call for it is not trapped.
long openAfterAll(int folder, const char* path, std::uint64_t flags, std::uint64_t mode)
{
    open_how how{};
    how.flags = flags;
    how.mode = (flags & (O_CREAT | O_TMPFILE)) != 0 ? mode & 07777U : 0;
    const long opened = syscall(SYS_openat2, folder, path, &how, sizeof how);
    if (opened >= 0)
        return opened;
    const int why = errno;
    if (why == EACCES || why == EROFS || why == EPERM)
        notePath(path);
    return -why;
}

void onTrapped(int, siginfo_t* info, void* context)
{
    const int before = errno;
    TrappedCall call(context);
    const auto path = [&](std::size_t index) {
        return reinterpret_cast<const char*>(static_cast<std::uintptr_t>(call.argument(index)));
    };
    long result = -EPERM;
    switch (info->si_syscall) {
#ifdef SYS_open
    case SYS_open:
        result = openAfterAll(AT_FDCWD, path(0), call.argument(1), call.argument(2));
        break;
    case SYS_creat:
        result = openAfterAll(AT_FDCWD, path(0), O_CREAT | O_WRONLY | O_TRUNC, call.argument(1));
        break;
    case SYS_mkdir:
        result = syscall(SYS_mkdirat, AT_FDCWD, path(0), call.argument(1)) == 0 ? 0 : -errno;
        if (result == -EACCES || result == -EPERM)
            notePath(path(0));
        break;
#endif
    case SYS_openat:
        result = openAfterAll(static_cast<int>(call.argument(0)), path(1), call.argument(2), call.argument(3));
        break;
    case SYS_socket:
        note(call.argument(0) == AF_UNIX ? refused_programs : refused_network);
        break;
    case SYS_execve:
    case SYS_execveat:
    case SYS_clone:
#ifdef SYS_fork
    case SYS_fork:
    case SYS_vfork:
#endif
        note(refused_programs);
        break;
    default:
        note(refused_processes);
        break;
    }
    call.answer(result);
    errno = before;
}

struct ReleaseFilter {
    void operator()(void* filter) const { seccomp_release(filter); }
};
using Filter = std::unique_ptr<void, ReleaseFilter>;

template<class... Comparisons>
void trap(const Filter& filter, int call, Comparisons... comparisons)
{
    seccomp_rule_add(filter.get(), SCMP_ACT_TRAP, call, sizeof...(comparisons), comparisons...);
}

/// Whatever reaches into other processes or the machine, whole.
void trapWhole(const Filter& filter)
{
    for (const int call : {SCMP_SYS(execve),
                           SCMP_SYS(execveat),
                           SCMP_SYS(fork),
                           SCMP_SYS(vfork),
                           SCMP_SYS(ptrace),
                           SCMP_SYS(process_vm_readv),
                           SCMP_SYS(process_vm_writev),
                           SCMP_SYS(pidfd_open),
                           SCMP_SYS(pidfd_getfd),
                           SCMP_SYS(pidfd_send_signal),
                           SCMP_SYS(kcmp),
                           SCMP_SYS(perf_event_open),
                           SCMP_SYS(bpf),
                           SCMP_SYS(userfaultfd),
                           SCMP_SYS(io_uring_setup),
                           SCMP_SYS(io_uring_enter),
                           SCMP_SYS(io_uring_register),
                           SCMP_SYS(keyctl),
                           SCMP_SYS(add_key),
                           SCMP_SYS(request_key),
                           SCMP_SYS(mount),
                           SCMP_SYS(umount2),
                           SCMP_SYS(pivot_root),
                           SCMP_SYS(chroot),
                           SCMP_SYS(setns),
                           SCMP_SYS(unshare),
                           SCMP_SYS(move_mount),
                           SCMP_SYS(fsopen),
                           SCMP_SYS(open_tree),
                           SCMP_SYS(open_by_handle_at),
                           SCMP_SYS(reboot),
                           SCMP_SYS(swapon),
                           SCMP_SYS(swapoff),
                           SCMP_SYS(init_module),
                           SCMP_SYS(finit_module),
                           SCMP_SYS(delete_module),
                           SCMP_SYS(kexec_load),
                           SCMP_SYS(settimeofday),
                           SCMP_SYS(clock_settime),
                           SCMP_SYS(clock_adjtime),
                           SCMP_SYS(adjtimex),
                           SCMP_SYS(sethostname),
                           SCMP_SYS(setdomainname),
                           SCMP_SYS(acct),
                           SCMP_SYS(syslog),
                           SCMP_SYS(fanotify_init),
                           SCMP_SYS(shmget),
                           SCMP_SYS(shmat),
                           SCMP_SYS(shmctl),
                           SCMP_SYS(msgget),
                           SCMP_SYS(semget),
                           SCMP_SYS(mq_open),
                           SCMP_SYS(setsid),
                           SCMP_SYS(setpgid),
                           SCMP_SYS(tkill),
                           SCMP_SYS(process_madvise),
                           SCMP_SYS(ioprio_set)})
        trap(filter, call);
}

/// What may be done to oneself and to nobody else.
void trapBeyondOneself(const Filter& filter)
{
    const auto self = static_cast<scmp_datum_t>(getpid());
    for (const int call :
         {SCMP_SYS(kill), SCMP_SYS(tgkill), SCMP_SYS(rt_sigqueueinfo), SCMP_SYS(rt_tgsigqueueinfo)})
        trap(filter, call, SCMP_A0(SCMP_CMP_NE, self));
    for (const int call : {SCMP_SYS(sched_setaffinity), SCMP_SYS(sched_setscheduler), SCMP_SYS(sched_setparam),
                           SCMP_SYS(sched_setattr)})
        seccomp_rule_add(filter.get(), SCMP_ACT_ERRNO(EPERM), call, 1, SCMP_A0(SCMP_CMP_NE, 0));
    trap(filter, SCMP_SYS(setpriority), SCMP_A1(SCMP_CMP_NE, 0));
    trap(filter, SCMP_SYS(prlimit64), SCMP_A0(SCMP_CMP_NE, 0));
    // Its own limits are ours to set; processor time is raised for each request.
    trap(filter, SCMP_SYS(prlimit64), SCMP_A1(SCMP_CMP_NE, RLIMIT_CPU), SCMP_A2(SCMP_CMP_NE, 0));
    trap(filter, SCMP_SYS(setrlimit), SCMP_A0(SCMP_CMP_NE, RLIMIT_CPU));
    for (const int command : {F_SETOWN, F_SETOWN_EX, F_SETSIG}) // signals to whoever is named owner
        trap(filter, SCMP_SYS(fcntl), SCMP_A1(SCMP_CMP_EQ, static_cast<scmp_datum_t>(command)));
    for (const unsigned request :
         {unsigned{FIOASYNC}, unsigned{TIOCSTI}, 0x8901U, 0x8902U}) // FIOSETOWN, SIOCSPGRP
        trap(filter, SCMP_SYS(ioctl), SCMP_A1(SCMP_CMP_MASKED_EQ, 0xffffffffU, request));
    // A thread is a clone that shares its group; anything else would be a process.
    trap(filter, SCMP_SYS(clone), SCMP_A0(SCMP_CMP_MASKED_EQ, CLONE_THREAD, 0));
    seccomp_rule_add(filter.get(), SCMP_ACT_ERRNO(ENOSYS), SCMP_SYS(clone3), 0); // its flags cannot be seen
}

/// Those that open for writing, so that what Landlock refuses is noted.
void trapWriting(const Filter& filter)
{
    for (const auto flag :
         {scmp_datum_t{O_WRONLY}, scmp_datum_t{O_RDWR}, scmp_datum_t{O_CREAT}, scmp_datum_t{O_TRUNC}}) {
        trap(filter, SCMP_SYS(openat), SCMP_A2(SCMP_CMP_MASKED_EQ, flag, flag));
        trap(filter, SCMP_SYS(open), SCMP_A1(SCMP_CMP_MASKED_EQ, flag, flag));
    }
    trap(filter, SCMP_SYS(creat));
    trap(filter, SCMP_SYS(mkdir));
}

void filterCalls(const Permissions& permissions)
{
    struct sigaction action {};
    action.sa_sigaction = onTrapped;
    action.sa_flags = SA_SIGINFO | SA_NODEFER | SA_RESTART;
    sigaction(SIGSYS, &action, nullptr);
    const Filter filter(seccomp_init(SCMP_ACT_ALLOW));
    if (!filter)
        return;
    seccomp_attr_set(filter.get(), SCMP_FLTATR_CTL_TSYNC, 1);
    trapWhole(filter);
    trapBeyondOneself(filter);
    if (permissions.network)
        trap(filter, SCMP_SYS(socket), SCMP_A0(SCMP_CMP_EQ, AF_UNIX));
    else
        trap(filter, SCMP_SYS(socket));
    if (cageOffers().landlock > 0)
        trapWriting(filter);
    seccomp_load(filter.get());
}

} // namespace

void enterCage(SharedBlock& block, const std::filesystem::path& own_folder, const Permissions& permissions)
{
    noted_in = &block;
    prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0);
    restrictFiles(own_folder, permissions);
#if defined(__x86_64__) || defined(__aarch64__)
    filterCalls(permissions);
#endif
}

} // namespace hr::hosting::inside
