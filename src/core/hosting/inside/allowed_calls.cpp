// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/allowed_calls.h"

#include <algorithm>
#include <array>
#include <cerrno>
#include <csignal>
#include <cstring>
#include <fcntl.h>
#include <linux/openat2.h>
#include <memory>
#include <sched.h>
#include <seccomp.h>
#include <sys/ioctl.h>
#include <sys/prctl.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/syscall.h>
#include <termios.h>
#include <ucontext.h>
#include <unistd.h>

namespace hr::hosting::inside {

namespace {

// --- what becomes of a call that is not simply allowed ------------------------------------------------------

// Read by the signal handler:
SharedBlock* noted_in = nullptr;
bool landlock_decides = false; // about files

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

/// With the path, where it is the first.
void notePath(std::uint32_t refused, const char* path)
{
    if (path && (noted_in->refused.load(std::memory_order_relaxed) & refused) == 0) {
        auto& kept = refused == refused_reading ? noted_in->unread_path : noted_in->refused_path;
        std::strncpy(kept.data(), path, kept.size() - 1);
        kept.back() = '\0';
    }
    note(refused);
}

bool changes(std::uint64_t flags)
{
    return (flags & O_ACCMODE) != O_RDONLY || (flags & (O_CREAT | O_TRUNC)) != 0 ||
           (flags & O_TMPFILE) == O_TMPFILE;
}

/// Opens it as it was to be: Landlock decides, and what it refuses is noted. openat2() is not trapped, and
/// where there is no Landlock, opening for reading is not.
long openAfterAll(int folder, const char* path, std::uint64_t flags, std::uint64_t mode)
{
    long result = -EACCES;
    if (landlock_decides) {
        open_how how{};
        how.flags =
            flags & (O_ACCMODE | O_APPEND | O_CLOEXEC | O_CREAT | O_DIRECTORY | O_DSYNC | O_EXCL | O_NOATIME |
                     O_NOCTTY | O_NOFOLLOW | O_NONBLOCK | O_PATH | O_SYNC | O_TMPFILE | O_TRUNC);
        how.mode = (flags & (O_CREAT | O_TMPFILE)) != 0 ? mode & 0777U : 0;
        result = syscall(SYS_openat2, folder, path, &how, sizeof how);
        result = result < 0 ? -errno : result;
    } else if (!changes(flags)) {
        result = syscall(SYS_openat, folder, path, flags & (O_CLOEXEC | O_DIRECTORY | O_NOFOLLOW | O_NONBLOCK));
        result = result < 0 ? -errno : result;
    }
    if (result == -EACCES || result == -EROFS || result == -EPERM)
        notePath(changes(flags) ? refused_files : refused_reading, path);
    return result;
}

/// The same for a call that makes or changes something by its path.
long changeAfterAll(long result, const char* path)
{
    if (result >= 0)
        return result;
    const int why = errno;
    if (why == EACCES || why == EPERM || why == EROFS)
        notePath(refused_files, path);
    return -why;
}

bool isOneOf(int call, std::initializer_list<int> calls)
{
    return std::find(calls.begin(), calls.end(), call) != calls.end();
}

/// Where in its arguments a refused call has its path; -1: nowhere.
int pathArgument(int call)
{
    if (isOneOf(call, {SCMP_SYS(fchmodat), 452 /* fchmodat2 */, SCMP_SYS(fchownat), SCMP_SYS(utimensat),
                       SCMP_SYS(futimesat), SCMP_SYS(mknodat)}))
        return 1;
    if (isOneOf(call, {SCMP_SYS(chmod), SCMP_SYS(chown), SCMP_SYS(lchown), SCMP_SYS(utime), SCMP_SYS(utimes),
                       SCMP_SYS(setxattr), SCMP_SYS(lsetxattr), SCMP_SYS(removexattr), SCMP_SYS(lremovexattr),
                       SCMP_SYS(mknod), SCMP_SYS(truncate), SCMP_SYS(chroot), SCMP_SYS(mkdir), SCMP_SYS(rmdir),
                       SCMP_SYS(unlink), SCMP_SYS(rename), SCMP_SYS(link)}))
        return 0;
    return isOneOf(call, {SCMP_SYS(fchmod), SCMP_SYS(fchown), SCMP_SYS(fsetxattr), SCMP_SYS(fremovexattr),
                          SCMP_SYS(mkdirat), SCMP_SYS(unlinkat), SCMP_SYS(renameat), SCMP_SYS(renameat2),
                          SCMP_SYS(linkat), SCMP_SYS(symlink), SCMP_SYS(symlinkat)})
               ? -1
               : -2;
}

/// Notes what was asked for and says how it is refused.
long refuse(int call, const TrappedCall& trapped)
{
    if (isOneOf(call, {SCMP_SYS(execve), SCMP_SYS(execveat), SCMP_SYS(clone), SCMP_SYS(fork), SCMP_SYS(vfork),
                       SCMP_SYS(socketpair)})) {
        note(refused_programs);
        return -EPERM;
    }
    if (call == SCMP_SYS(socket)) {
        note(trapped.argument(0) == AF_UNIX ? refused_programs : refused_network);
        return -EPERM;
    }
    if (isOneOf(call, {SCMP_SYS(connect), SCMP_SYS(bind), SCMP_SYS(listen), SCMP_SYS(accept), SCMP_SYS(accept4),
                       SCMP_SYS(sendto), SCMP_SYS(sendmmsg)})) {
        note(refused_network);
        return -EPERM;
    }
    if (const int place = pathArgument(call); place > -2) {
        notePath(refused_files, place < 0 ? nullptr
                                          : reinterpret_cast<const char*>(static_cast<std::uintptr_t>(
                                                trapped.argument(static_cast<std::size_t>(place)))));
        return -EPERM;
    }
    // What a library tries and does without: nobody needs to hear of it.
    if (isOneOf(call, {SCMP_SYS(memfd_create), SCMP_SYS(getxattr), SCMP_SYS(lgetxattr), SCMP_SYS(fgetxattr),
                       SCMP_SYS(listxattr), SCMP_SYS(llistxattr), SCMP_SYS(flistxattr), SCMP_SYS(prctl),
                       SCMP_SYS(personality), SCMP_SYS(ioctl), SCMP_SYS(openat2), SCMP_SYS(ioprio_set),
                       SCMP_SYS(inotify_init), SCMP_SYS(inotify_init1)}))
        return call == SCMP_SYS(openat2) ? -ENOSYS : -EPERM;
    note(refused_processes);
    return -EPERM;
}

void onTrapped(int, siginfo_t* info, void* context)
{
    const int before = errno;
    TrappedCall call(context);
    const auto path = [&](std::size_t index) {
        return reinterpret_cast<const char*>(static_cast<std::uintptr_t>(call.argument(index)));
    };
    long result = -EPERM;
    // Calls of another table than this architecture's (32-bit, x32) are refused by name of nothing.
#if defined(__x86_64__)
    const bool ours = info->si_arch == SCMP_ARCH_X86_64 && info->si_syscall < 0x40000000;
#else
    const bool ours = true;
#endif
    if (!ours) {
        note(refused_processes);
        call.answer(-ENOSYS);
        errno = before;
        return;
    }
    switch (info->si_syscall) {
#ifdef SYS_open
    case SYS_open:
        result = openAfterAll(AT_FDCWD, path(0), call.argument(1), call.argument(2));
        break;
    case SYS_creat:
        result = openAfterAll(AT_FDCWD, path(0), O_CREAT | O_WRONLY | O_TRUNC, call.argument(1));
        break;
    case SYS_mkdir:
        result = landlock_decides
                     ? changeAfterAll(syscall(SYS_mkdirat, AT_FDCWD, path(0), call.argument(1)), path(0))
                     : refuse(info->si_syscall, call);
        break;
    case SYS_unlink:
        result = landlock_decides ? changeAfterAll(syscall(SYS_unlinkat, AT_FDCWD, path(0), 0), path(0))
                                  : refuse(info->si_syscall, call);
        break;
    case SYS_rename:
        result = landlock_decides
                     ? changeAfterAll(syscall(SYS_renameat, AT_FDCWD, path(0), AT_FDCWD, path(1)), path(0))
                     : refuse(info->si_syscall, call);
        break;
#endif
    case SYS_openat:
        result = openAfterAll(static_cast<int>(call.argument(0)), path(1), call.argument(2), call.argument(3));
        break;
    default:
        result = refuse(info->si_syscall, call);
        break;
    }
    call.answer(result);
    errno = before;
}

// --- the list ------------------------------------------------------------------------------------------------

struct ReleaseFilter {
    void operator()(void* filter) const { seccomp_release(filter); }
};
using Filter = std::unique_ptr<void, ReleaseFilter>;

/// Collects rules, and whether all of them could be made. A call that this architecture does not have needs
/// none.
class Rules {
public:
    explicit Rules(std::uint32_t otherwise) : m_filter(seccomp_init(otherwise)), m_good(m_filter != nullptr) {}

    template<class... Comparisons>
    void add(std::uint32_t action, int call, Comparisons... comparisons)
    {
        if (!m_good || call < 0)
            return;
        m_good = seccomp_rule_add(m_filter.get(), action, call, sizeof...(comparisons), comparisons...) == 0;
    }
    template<class... Comparisons>
    void allow(int call, Comparisons... comparisons)
    {
        add(SCMP_ACT_ALLOW, call, comparisons...);
    }
    void set(scmp_filter_attr attribute, std::uint32_t value)
    {
        m_good = m_good && seccomp_attr_set(m_filter.get(), attribute, value) == 0;
    }
    bool load() { return m_good && seccomp_load(m_filter.get()) == 0; }

private:
    Filter m_filter;
    bool m_good;
};

/// An argument of 32 bits: what a caller puts above them means nothing to the kernel, so it means nothing here.
scmp_arg_cmp is(unsigned argument, std::uint32_t value)
{
    return {argument, SCMP_CMP_MASKED_EQ, 0xffffffffU, value};
}
scmp_arg_cmp has(unsigned argument, std::uint32_t bits)
{
    return {argument, SCMP_CMP_MASKED_EQ, bits, bits};
}
scmp_arg_cmp isNull(unsigned argument)
{
    return {argument, SCMP_CMP_EQ, 0, 0};
}

void allowComputing(Rules& rules)
{
    for (const int call :
         {// Memory.
          SCMP_SYS(mmap), SCMP_SYS(munmap), SCMP_SYS(mprotect), SCMP_SYS(mremap), SCMP_SYS(madvise),
          SCMP_SYS(brk), SCMP_SYS(msync), SCMP_SYS(mincore), SCMP_SYS(mlock), SCMP_SYS(mlock2),
          SCMP_SYS(munlock), SCMP_SYS(membarrier), SCMP_SYS(get_mempolicy), SCMP_SYS(pkey_alloc),
          SCMP_SYS(pkey_free), SCMP_SYS(pkey_mprotect),
          // Threads of its own.
          SCMP_SYS(set_robust_list), SCMP_SYS(set_tid_address), SCMP_SYS(rseq), SCMP_SYS(futex),
          SCMP_SYS(futex_waitv), SCMP_SYS(sched_yield), SCMP_SYS(sched_getaffinity), SCMP_SYS(sched_getparam),
          SCMP_SYS(sched_getscheduler), SCMP_SYS(sched_get_priority_max), SCMP_SYS(sched_get_priority_min),
          SCMP_SYS(sched_rr_get_interval), SCMP_SYS(exit), SCMP_SYS(exit_group), SCMP_SYS(arch_prctl),
          SCMP_SYS(getcpu),
          // Who and where it is.
          SCMP_SYS(gettid), SCMP_SYS(getpid), SCMP_SYS(getppid), SCMP_SYS(getuid), SCMP_SYS(geteuid),
          SCMP_SYS(getgid), SCMP_SYS(getegid), SCMP_SYS(getresuid), SCMP_SYS(getresgid), SCMP_SYS(getgroups),
          SCMP_SYS(getpgrp), SCMP_SYS(getpgid), SCMP_SYS(getsid), SCMP_SYS(capget), SCMP_SYS(uname),
          SCMP_SYS(sysinfo), SCMP_SYS(getrusage), SCMP_SYS(times), SCMP_SYS(getrlimit), SCMP_SYS(getpriority),
          SCMP_SYS(getrandom),
          // Signals to itself, and time.
          SCMP_SYS(rt_sigaction), SCMP_SYS(rt_sigprocmask), SCMP_SYS(rt_sigreturn), SCMP_SYS(rt_sigpending),
          SCMP_SYS(rt_sigtimedwait), SCMP_SYS(rt_sigsuspend), SCMP_SYS(sigaltstack), SCMP_SYS(pause),
          SCMP_SYS(restart_syscall), SCMP_SYS(signalfd4), SCMP_SYS(clock_gettime), SCMP_SYS(clock_getres),
          SCMP_SYS(clock_nanosleep), SCMP_SYS(nanosleep), SCMP_SYS(gettimeofday), SCMP_SYS(time),
          SCMP_SYS(alarm), SCMP_SYS(getitimer), SCMP_SYS(setitimer), SCMP_SYS(timer_create),
          SCMP_SYS(timer_settime), SCMP_SYS(timer_gettime), SCMP_SYS(timer_getoverrun), SCMP_SYS(timer_delete),
          SCMP_SYS(timerfd_create), SCMP_SYS(timerfd_settime), SCMP_SYS(timerfd_gettime)})
        rules.allow(call);
}

/// Whatever works on files that are open already, or only looks.
void allowFiles(Rules& rules, bool landlock_decides_here, int landlock)
{
    for (const int call : {SCMP_SYS(read),         SCMP_SYS(readv),
                           SCMP_SYS(pread64),      SCMP_SYS(preadv),
                           SCMP_SYS(preadv2),      SCMP_SYS(write),
                           SCMP_SYS(writev),       SCMP_SYS(pwrite64),
                           SCMP_SYS(pwritev),      SCMP_SYS(pwritev2),
                           SCMP_SYS(lseek),        SCMP_SYS(close),
                           SCMP_SYS(close_range),  SCMP_SYS(stat),
                           SCMP_SYS(fstat),        SCMP_SYS(lstat),
                           SCMP_SYS(newfstatat),   SCMP_SYS(statx),
                           SCMP_SYS(access),       SCMP_SYS(faccessat),
                           SCMP_SYS(faccessat2),   SCMP_SYS(readlink),
                           SCMP_SYS(readlinkat),   SCMP_SYS(getdents),
                           SCMP_SYS(getdents64),   SCMP_SYS(getcwd),
                           SCMP_SYS(chdir),        SCMP_SYS(fchdir),
                           SCMP_SYS(umask),        SCMP_SYS(dup),
                           SCMP_SYS(dup2),         SCMP_SYS(dup3),
                           SCMP_SYS(pipe),         SCMP_SYS(pipe2),
                           SCMP_SYS(eventfd),      SCMP_SYS(eventfd2),
                           SCMP_SYS(epoll_create), SCMP_SYS(epoll_create1),
                           SCMP_SYS(epoll_ctl),    SCMP_SYS(epoll_wait),
                           SCMP_SYS(epoll_pwait),  SCMP_SYS(epoll_pwait2),
                           SCMP_SYS(poll),         SCMP_SYS(ppoll),
                           SCMP_SYS(select),       SCMP_SYS(pselect6),
                           SCMP_SYS(flock),        SCMP_SYS(fsync),
                           SCMP_SYS(fdatasync),    SCMP_SYS(sync_file_range),
                           SCMP_SYS(ftruncate),    SCMP_SYS(fallocate),
                           SCMP_SYS(readahead),    SCMP_SYS(fadvise64),
                           SCMP_SYS(sendfile),     SCMP_SYS(copy_file_range),
                           SCMP_SYS(statfs),       SCMP_SYS(fstatfs)})
        rules.allow(call);
    for (const int command :
         {F_GETFD, F_SETFD, F_GETFL, F_SETFL, F_DUPFD, F_DUPFD_CLOEXEC, F_GETLK, F_SETLK, F_SETLKW, F_OFD_GETLK,
          F_OFD_SETLK, F_OFD_SETLKW, 1032 /* F_GETPIPE_SZ */, 1034 /* F_GET_SEALS */})
        rules.allow(SCMP_SYS(fcntl), is(1, static_cast<std::uint32_t>(command)));
    for (const std::uint32_t request :
         {std::uint32_t{FIONREAD}, std::uint32_t{FIONBIO}, std::uint32_t{FIOCLEX}, std::uint32_t{FIONCLEX},
          std::uint32_t{TCGETS}, std::uint32_t{TIOCGWINSZ}})
        rules.allow(SCMP_SYS(ioctl), is(1, request));
    if (!landlock_decides_here) {
        // By the list alone: what is opened for reading, and nothing else.
        for (const auto& [call, flags] : {std::pair(SCMP_SYS(openat), 2U), {SCMP_SYS(open), 1U}})
            rules.allow(call,
                        scmp_arg_cmp{flags, SCMP_CMP_MASKED_EQ,
                                     O_ACCMODE | O_CREAT | O_TRUNC | (O_TMPFILE & ~O_DIRECTORY), O_RDONLY});
        return;
    }
    // Landlock decides about what is reached by its path. open(), openat(), creat(), mkdir(), unlink() and
    // rename() come here through the signal handler, so that what is refused is noted.
    for (const int call :
         {SCMP_SYS(openat2), SCMP_SYS(mkdirat), SCMP_SYS(rmdir), SCMP_SYS(unlinkat), SCMP_SYS(renameat),
          SCMP_SYS(renameat2), SCMP_SYS(link), SCMP_SYS(linkat), SCMP_SYS(symlink), SCMP_SYS(symlinkat)})
        rules.allow(call);
    if (landlock >= 3) // older versions let files be cut off
        rules.allow(SCMP_SYS(truncate));
}

/// What may be done to oneself and to nobody else, and the sockets it was given.
void allowWithArguments(Rules& rules, const Permissions& permissions)
{
    const auto self = static_cast<std::uint32_t>(getpid());
    for (const int call :
         {SCMP_SYS(kill), SCMP_SYS(tgkill), SCMP_SYS(rt_sigqueueinfo), SCMP_SYS(rt_tgsigqueueinfo)})
        rules.allow(call, is(0, self));
    for (const int call : {SCMP_SYS(sched_setaffinity), SCMP_SYS(sched_setscheduler), SCMP_SYS(sched_setparam),
                           SCMP_SYS(sched_setattr), SCMP_SYS(sched_getattr)}) {
        rules.allow(call, is(0, 0));
        // Threads of its own have numbers that cannot be told from others'.
        rules.add(SCMP_ACT_ERRNO(EPERM), call, scmp_arg_cmp{0, SCMP_CMP_NE, 0, 0});
    }
    rules.allow(SCMP_SYS(setpriority), is(0, PRIO_PROCESS), is(1, 0));
    for (const std::uint32_t who :
         {0U, self}) { // its own limits are ours to set; processor time is raised per request
        rules.allow(SCMP_SYS(prlimit64), is(0, who), isNull(2));
        rules.allow(SCMP_SYS(prlimit64), is(0, who), is(1, RLIMIT_CPU));
    }
    rules.allow(SCMP_SYS(setrlimit), is(0, RLIMIT_CPU));
    for (const int option : {PR_SET_NAME, PR_GET_NAME, PR_GET_DUMPABLE, PR_GET_SECCOMP, PR_GET_NO_NEW_PRIVS,
                             PR_GET_PDEATHSIG, PR_CAPBSET_READ, PR_GET_TIMERSLACK, 0x53564d41 /* PR_SET_VMA */})
        rules.allow(SCMP_SYS(prctl), is(0, static_cast<std::uint32_t>(option)));
    rules.allow(SCMP_SYS(personality), is(0, 0xffffffffU)); // asks only
    // A thread is a clone that shares its group; anything else would be a process.
    rules.allow(SCMP_SYS(clone), has(0, CLONE_THREAD));
    rules.add(SCMP_ACT_ERRNO(ENOSYS), SCMP_SYS(clone3)); // its flags cannot be seen
    for (const int call : {SCMP_SYS(recvfrom), SCMP_SYS(recvmsg), SCMP_SYS(sendmsg), SCMP_SYS(shutdown),
                           SCMP_SYS(getsockopt), SCMP_SYS(getsockname), SCMP_SYS(getpeername)})
        rules.allow(call);
    if (!permissions.network) {
        rules.allow(SCMP_SYS(sendto), isNull(4)); // to whom the socket is connected, and to nobody else
        return;
    }
    for (const std::uint32_t family :
         {std::uint32_t{AF_INET}, std::uint32_t{AF_INET6}, std::uint32_t{AF_NETLINK}})
        rules.allow(SCMP_SYS(socket), is(0, family));
    for (const int call :
         {SCMP_SYS(connect), SCMP_SYS(bind), SCMP_SYS(listen), SCMP_SYS(accept), SCMP_SYS(accept4),
          SCMP_SYS(sendto), SCMP_SYS(sendmmsg), SCMP_SYS(recvmmsg), SCMP_SYS(setsockopt)})
        rules.allow(call);
}

} // namespace

Result<void> allowListedCalls(SharedBlock& block, const Permissions& permissions, const Protection& protection)
{
    noted_in = &block;
    landlock_decides = protection.landlock > 0;
    struct sigaction action {};
    action.sa_sigaction = onTrapped;
    action.sa_flags = SA_SIGINFO | SA_NODEFER | SA_RESTART | SA_ONSTACK;
    sigaction(SIGSYS, &action, nullptr);
    Rules rules(SCMP_ACT_TRAP);
    rules.set(SCMP_FLTATR_CTL_TSYNC, 1);
    rules.set(SCMP_FLTATR_ACT_BADARCH, SCMP_ACT_TRAP); // 32-bit tables: told, not left to hang
    rules.set(SCMP_FLTATR_CTL_OPTIMIZE, 2);            // a tree: the list is long
    allowComputing(rules);
    allowFiles(rules, landlock_decides, protection.landlock);
    allowWithArguments(rules, permissions);
    if (!rules.load())
        return machineFailed("the kernel did not take the list of system calls that plug-ins may make");
    return {};
}

} // namespace hr::hosting::inside
