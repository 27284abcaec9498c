// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that try to get out of their worker, one way each, at their first block. What came of it, 0 or the
// error number, is put out as a constant.
#include "specimen.h"

#include <algorithm>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <fcntl.h>
#include <filesystem>
#include <netinet/in.h>
#include <string>
#include <sys/inotify.h>
#include <sys/ipc.h>
#include <sys/mman.h>
#include <sys/msg.h>
#include <sys/prctl.h>
#include <sys/ptrace.h>
#include <sys/resource.h>
#include <sys/sem.h>
#include <sys/socket.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/un.h>
#include <sys/xattr.h>
#include <thread>
#include <unistd.h>

namespace {

using namespace specimens;

template<int (*attempt)()>
struct Intruder {
    static constexpr int controls = 1;
    explicit Intruder(double) {}
    int outcome = -1;
    void process(const Stereo&, const StereoOut& out, std::uint32_t frames, const std::array<float, 1>&)
    {
        if (outcome < 0)
            outcome = attempt();
        for (float* side : out)
            std::fill_n(side, frames, static_cast<float>(outcome) / 1000);
    }
};

int why(long result)
{
    return result < 0 ? errno : 0;
}

/// Of every file that is open; on a thread of its own.
int shrinkTheBlock()
{
    int refused = 0;
    std::thread([&] {
        for (int file = 3; file < 64; ++file)
            if (ftruncate(file, 0) != 0 && errno == EPERM)
                refused = EPERM;
    }).join();
    return refused;
}
int startAProgram()
{
    char name[] = "/bin/true";
    char* const arguments[] = {name, nullptr};
    return why(execve(name, arguments, environ));
}
int forkOnce()
{
    const pid_t child = fork();
    if (child == 0)
        for (;;)
            pause();
    return why(child);
}
int traceTheHost()
{
    return why(ptrace(PTRACE_ATTACH, getppid(), nullptr, nullptr));
}
int signalTheHost()
{
    return why(kill(getppid(), SIGSTOP));
}
int reachTheNetwork()
{
    return why(socket(AF_INET, SOCK_STREAM, 0));
}
int reachOtherPrograms()
{
    return why(socket(AF_UNIX, SOCK_STREAM, 0));
}
int writeTo(const char* folder)
{
    const std::string file = std::string(folder ? folder : "/nonexistent") + "/intruder.txt";
    return why(open(file.c_str(), O_CREAT | O_WRONLY, 0600));
}
int writeToTheHome()
{
    return writeTo(std::getenv("HOME"));
}
int writeToItsFolder()
{
    return writeTo(std::getenv("TMPDIR"));
}
int raiseItsLimits()
{
    const rlimit limit{RLIM_INFINITY, RLIM_INFINITY};
    return why(setrlimit(RLIMIT_AS, &limit));
}
/// A pipe that signals its owner whenever it is written to.
int sendByOwner()
{
    std::array<int, 2> ends{};
    if (pipe(ends.data()) != 0)
        return errno;
    return why(fcntl(ends[0], F_SETOWN, getppid()));
}
/// How many files beyond what it prints into, the two sockets and the block; the worker itself makes one.
int findOurFiles()
{
    int found = 0;
    for (int file = 6; file < 1024; ++file)
        found += fcntl(file, F_GETFD) != -1;
    return found;
}

/// The letter in the home folder, which is the user's.
std::string letter()
{
    const char* home = std::getenv("HOME");
    return std::string(home ? home : "/nonexistent") + "/letter.txt";
}
int changeAMode()
{
    return why(chmod(letter().c_str(), 0777));
}
int changeAnOwner()
{
    return why(chown(letter().c_str(), getuid(), getgid()));
}
int changeATime()
{
    return why(utimensat(AT_FDCWD, letter().c_str(), nullptr, 0));
}
int changeAnAttribute()
{
    return why(setxattr(letter().c_str(), "user.mark", "x", 1, 0));
}
int cutOff()
{
    return why(truncate(letter().c_str(), 0));
}
int readALetter()
{
    return why(open(letter().c_str(), O_RDONLY));
}
int listTheHome()
{
    const char* home = std::getenv("HOME");
    return why(open(home ? home : "/", O_RDONLY | O_DIRECTORY));
}
int openUnseen()
{
    std::uint64_t how[3] = {O_WRONLY, 0, 0};
    return why(syscall(SYS_openat2, AT_FDCWD, letter().c_str(), how, sizeof how));
}
int pairSockets()
{
    std::array<int, 2> ends{};
    return why(socketpair(AF_UNIX, SOCK_DGRAM, 0, ends.data()));
}
/// With something above the 32 bits that the kernel looks at.
int sendByOwnerInDisguise()
{
    std::array<int, 2> ends{};
    if (pipe(ends.data()) != 0)
        return errno;
    return why(syscall(SYS_fcntl, ends[0], (1UL << 32) | F_SETOWN, getppid()));
}
int reniceTheUser()
{
    return why(setpriority(PRIO_USER, 0, 19));
}
int makeAQueue()
{
    return why(msgget(4711, IPC_CREAT | 0600));
}
int makeSemaphores()
{
    return why(semget(4712, 1, IPC_CREAT | 0600));
}
int takeALease()
{
    const int own = open("/dev/null", O_RDONLY);
    return why(fcntl(own, F_SETLEASE, F_RDLCK));
}
int makeAMemoryFile()
{
    return why(memfd_create("hoard", 0));
}
int makeAPipeFile()
{
    const char* folder = std::getenv("TMPDIR");
    return why(mkfifo((std::string(folder ? folder : "/tmp") + "/pipe").c_str(), 0600));
}
int outliveTheHost()
{
    return why(prctl(PR_SET_PDEATHSIG, 0));
}
int askAnOldTable()
{
#if defined(__x86_64__)
    int result = 0;
    __asm__ volatile("int $0x80" : "=a"(result) : "a"(20) : "memory"); // getpid() of 32 bits
    return result < 0 ? -result : 0;
#else
    return ENOSYS;
#endif
}
int watchFiles()
{
    return why(inotify_init1(0));
}
int makeAFolderNobodyMayEnter()
{
    const std::string folder = std::string(std::getenv("TMPDIR")) + "/shut";
    return why(mkdir(folder.c_str(), 0000));
}
/// A thread that counts blocks as done, so that whoever watches would think that something gets on.
int pretendToGetOn()
{
    auto* block =
        static_cast<std::atomic<std::uint32_t>*>(mmap(nullptr, 4096, PROT_READ | PROT_WRITE, MAP_SHARED, 4, 0));
    std::thread([block] {
        for (;;) {
            block->fetch_add(1);
            usleep(1000);
        }
    }).detach();
    for (;;)
        pause();
}
int startThreads()
{
    for (int i = 0; i < 1000; ++i) {
        pthread_attr_t small;
        pthread_attr_init(&small);
        pthread_attr_setstacksize(&small, 16384);
        pthread_t thread{};
        pthread_create(
            &thread, &small,
            [](void*) -> void* {
                for (;;)
                    pause();
            },
            nullptr);
    }
    for (;;)
        pause();
}
int fillItsFolder()
{
    const std::string folder = std::string(std::getenv("TMPDIR")) + "/";
    for (int i = 0; i < 8; ++i) {
        const int file = open((folder + std::to_string(i)).c_str(), O_CREAT | O_WRONLY, 0600);
        if (posix_fallocate(file, 0, 60 << 20) != 0)
            return ENOSPC;
    }
    for (;;)
        pause();
}

#define INTRUDER(attempt, name) descriptor<Intruder<attempt>>("urn:honest-rack:tests:" name)
constexpr std::array effects{INTRUDER(shrinkTheBlock, "shrinks-the-block"),
                             INTRUDER(startAProgram, "starts-a-program"),
                             INTRUDER(forkOnce, "forks"),
                             INTRUDER(traceTheHost, "traces-its-host"),
                             INTRUDER(signalTheHost, "signals-its-host"),
                             INTRUDER(reachTheNetwork, "reaches-the-network"),
                             INTRUDER(reachOtherPrograms, "reaches-other-programs"),
                             INTRUDER(writeToTheHome, "writes-to-the-home"),
                             INTRUDER(writeToItsFolder, "writes-to-its-folder"),
                             INTRUDER(raiseItsLimits, "raises-its-limits"),
                             INTRUDER(sendByOwner, "sends-by-owner"),
                             INTRUDER(findOurFiles, "finds-our-files"),
                             INTRUDER(changeAMode, "changes-a-mode"),
                             INTRUDER(changeAnOwner, "changes-an-owner"),
                             INTRUDER(changeATime, "changes-a-time"),
                             INTRUDER(changeAnAttribute, "changes-an-attribute"),
                             INTRUDER(cutOff, "cuts-off"),
                             INTRUDER(readALetter, "reads-a-letter"),
                             INTRUDER(listTheHome, "lists-the-home"),
                             INTRUDER(openUnseen, "opens-unseen"),
                             INTRUDER(pairSockets, "pairs-sockets"),
                             INTRUDER(sendByOwnerInDisguise, "sends-by-owner-in-disguise"),
                             INTRUDER(reniceTheUser, "renices-the-user"),
                             INTRUDER(makeAQueue, "makes-a-queue"),
                             INTRUDER(makeSemaphores, "makes-semaphores"),
                             INTRUDER(takeALease, "takes-a-lease"),
                             INTRUDER(makeAMemoryFile, "makes-a-memory-file"),
                             INTRUDER(makeAPipeFile, "makes-a-pipe-file"),
                             INTRUDER(outliveTheHost, "outlives-the-host"),
                             INTRUDER(askAnOldTable, "asks-an-old-table"),
                             INTRUDER(watchFiles, "watches-files"),
                             INTRUDER(makeAFolderNobodyMayEnter, "makes-a-folder-nobody-may-enter"),
                             INTRUDER(pretendToGetOn, "pretends-to-get-on"),
                             INTRUDER(startThreads, "starts-threads"),
                             INTRUDER(fillItsFolder, "fills-its-folder")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}
