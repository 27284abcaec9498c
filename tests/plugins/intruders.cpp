// SPDX-License-Identifier: GPL-3.0-or-later
//
// Plug-ins that try to get out of their worker, one way each, at their first block. What came of it, 0 or the
// error number, is put out as a constant.
#include "specimen.h"

#include <algorithm>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <fcntl.h>
#include <filesystem>
#include <netinet/in.h>
#include <string>
#include <sys/ptrace.h>
#include <sys/resource.h>
#include <sys/socket.h>
#include <sys/un.h>
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
/// How many files beyond what it prints into, the control socket and the block.
int findOurFiles()
{
    int found = 0;
    for (int file = 5; file < 1024; ++file)
        found += fcntl(file, F_GETFD) != -1;
    return found;
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
                             INTRUDER(findOurFiles, "finds-our-files")};

} // namespace

LV2_SYMBOL_EXPORT const LV2_Descriptor* lv2_descriptor(std::uint32_t index)
{
    return index < effects.size() ? &effects[index] : nullptr;
}
