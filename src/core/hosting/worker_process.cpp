// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_process.h"

#include "hosting/thread_priority.h"

#include <array>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <fstream>
#include <spawn.h>
#include <sys/mman.h>
#include <sys/socket.h>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

extern char** environ;

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

fs::path workerProgram()
{
    if (const char* named = std::getenv("HONEST_RACK_WORKER"))
        return named;
    std::error_code failed;
    const fs::path here = fs::read_symlink("/proc/self/exe", failed).parent_path();
    const fs::path installed = here / ".." / "libexec" / "honest-rack" / "hrack-worker";
    return fs::exists(here / "hrack-worker", failed) ? here / "hrack-worker" : installed;
}

/// The same file under a number that no dup2 of the spawn can step on.
OwnedFd high(int fd)
{
    OwnedFd low(fd);
    return OwnedFd(fcntl(fd, F_DUPFD_CLOEXEC, 64));
}

std::string signalName(int number)
{
    return std::string("signal ") + std::to_string(number) + " (" + strsignal(number) + ")";
}

/// Shared memory that neither side can shrink or grow.
Result<OwnedFd> makeBlock()
{
    OwnedFd block = high(memfd_create("honest-rack-block", MFD_CLOEXEC | MFD_ALLOW_SEALING));
    if (block.get() < 0 || ftruncate(block.get(), sizeof(SharedBlock)) != 0 ||
        fcntl(block.get(), F_ADD_SEALS, F_SEAL_SHRINK | F_SEAL_GROW | F_SEAL_SEAL) != 0)
        return machineFailed(std::string("Cannot make shared memory for a worker: ") + std::strerror(errno));
    return block;
}

/// Our environment, with the worker's folder for what is kept nowhere.
std::vector<std::string> environmentFor(const fs::path& folder)
{
    std::vector<std::string> all;
    for (char** one = environ; *one; ++one)
        if (!std::string_view(*one).starts_with("TMPDIR="))
            all.emplace_back(*one);
    all.push_back("TMPDIR=" + folder.string());
    all.push_back(std::string(worker_folder_variable) + "=" + folder.string());
    return all;
}

} // namespace

Result<std::unique_ptr<WorkerProcess>> WorkerProcess::spawn()
{
    const fs::path program = workerProgram();
    std::unique_ptr<WorkerProcess> worker(new WorkerProcess);
    std::array<int, 2> control{-1, -1};
    std::array<int, 2> sound{-1, -1};
    if (socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, control.data()) != 0 ||
        socketpair(AF_UNIX, SOCK_STREAM | SOCK_CLOEXEC, 0, sound.data()) != 0)
        return machineFailed(std::string("Cannot make a socket for a worker: ") + std::strerror(errno));
    worker->m_control = high(control[0]);
    worker->m_sound = high(sound[0]);
    const OwnedFd their_control = high(control[1]);
    const OwnedFd their_sound = high(sound[1]);
    const auto block = makeBlock();
    if (!block)
        return tl::make_unexpected(block.error());
    worker->m_prints = high(memfd_create("honest-rack-prints", MFD_CLOEXEC));
    if (worker->m_prints.get() < 0)
        return machineFailed(std::string("Cannot make a file for what a worker prints: ") +
                             std::strerror(errno));
    fcntl(worker->m_prints.get(), F_SETFL, O_APPEND);
    worker->m_folder.make();
    void* mapped = mmap(nullptr, sizeof(SharedBlock), PROT_READ | PROT_WRITE, MAP_SHARED, block->get(), 0);
    if (mapped == MAP_FAILED)
        return machineFailed(std::string("Cannot map the shared memory of a worker: ") + std::strerror(errno));
    worker->m_block = static_cast<SharedBlock*>(mapped);

    posix_spawn_file_actions_t actions;
    posix_spawn_file_actions_init(&actions);
    posix_spawn_file_actions_addopen(&actions, 0, "/dev/null", O_RDONLY, 0);
    posix_spawn_file_actions_adddup2(&actions, worker->m_prints.get(), 1);
    posix_spawn_file_actions_adddup2(&actions, worker->m_prints.get(), 2);
    posix_spawn_file_actions_adddup2(&actions, their_control.get(), worker_control_fd);
    posix_spawn_file_actions_adddup2(&actions, block->get(), worker_block_fd);
    posix_spawn_file_actions_adddup2(&actions, their_sound.get(), worker_sound_fd);
    // Libraries of ours may have opened files that a child inherits.
    posix_spawn_file_actions_addclosefrom_np(&actions, worker_sound_fd + 1);
    posix_spawnattr_t attributes;
    posix_spawnattr_init(&attributes);
    sigset_t none;
    sigemptyset(&none);
    posix_spawnattr_setsigmask(&attributes, &none);
    posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETPGROUP | POSIX_SPAWN_SETSIGMASK);
    const std::string name = program.string();
    std::array<char*, 2> arguments{const_cast<char*>(name.c_str()), nullptr};
    std::vector<std::string> environment = environmentFor(worker->m_folder.path());
    std::vector<char*> variables;
    for (std::string& one : environment)
        variables.push_back(one.data());
    variables.push_back(nullptr);
    int failed = 0;
    const int wanted_niceness = niceness();
    worker->m_pid = WorkerSupervisor::shared().start(
        [&] {
            pid_t pid = -1;
            failed = posix_spawn(&pid, name.c_str(), &actions, &attributes, arguments.data(), variables.data());
            return failed == 0 ? pid : -1;
        },
        worker->m_folder.path(), worker->m_excess);
    posix_spawn_file_actions_destroy(&actions);
    posix_spawnattr_destroy(&attributes);
    if (failed != 0)
        return machineFailed("Cannot start the worker " + name + " (" + std::strerror(failed) +
                             "): is the installation whole?");
    (void)setNiceness(worker->m_pid, wanted_niceness);
    return worker;
}

WorkerProcess::~WorkerProcess()
{
    if (m_pid > 0)
        (void)end(Phase::Stop, Ending::ByItself);
    if (m_block)
        munmap(m_block, sizeof(SharedBlock));
}

bool WorkerProcess::isAlive() const
{
    siginfo_t ended{};
    return m_pid > 0 && waitid(P_PID, static_cast<id_t>(m_pid), &ended, WEXITED | WNOHANG | WNOWAIT) == 0 &&
           ended.si_pid == 0;
}

std::chrono::nanoseconds WorkerProcess::processorTime() const
{
    clockid_t clock = 0;
    timespec used{};
    if (m_pid <= 0 || clock_getcpuclockid(m_pid, &clock) != 0 || clock_gettime(clock, &used) != 0)
        return {};
    return std::chrono::seconds(used.tv_sec) + std::chrono::nanoseconds(used.tv_nsec);
}

WorkerProcess::Waiting WorkerProcess::takeWaiting()
{
    using std::chrono::nanoseconds;
    const auto now = std::chrono::steady_clock::now();
    const nanoseconds looked_ago = now - std::exchange(m_looked, now);
    Waiting waiting;
    std::map<int, nanoseconds> waited;
    std::error_code failed;
    fs::directory_iterator tasks("/proc/" + std::to_string(m_pid) + "/task", failed);
    for (; !failed && tasks != fs::directory_iterator(); tasks.increment(failed)) {
        const int thread = std::atoi(tasks->path().filename().c_str());
        // The second figure is the time it has waited for a processor
        // (Documentation/scheduler/sched-stats.rst).
        std::ifstream statistics(tasks->path() / "schedstat");
        std::uint64_t ran_ns = 0;
        std::uint64_t waited_ns = 0;
        const bool told = static_cast<bool>(statistics >> ran_ns >> waited_ns);
        waited[thread] = nanoseconds(waited_ns);
        if (const auto before = m_waited.find(thread); told && before != m_waited.end())
            waiting.time += std::max(nanoseconds(0), waited[thread] - before->second);
        // Waiting for a disk, or, where the kernel keeps no statistics, ready to run.
        std::ifstream stat(tasks->path() / "stat");
        std::string line;
        std::getline(stat, line);
        // The state stands behind the name, which is in brackets and may hold anything (proc(5)).
        const auto name_ends = line.rfind(") ");
        const bool has_state = name_ends != std::string::npos && name_ends + 2 < line.size();
        const char state = has_state ? line[name_ends + 2] : ' ';
        waiting.now = waiting.now || state == 'D' || state == 'R';
        if (state == 'D' || (state == 'R' && !told))
            waiting.time += looked_ago;
    }
    m_waited = std::move(waited);
    return waiting;
}

std::string WorkerProcess::printedTail() const
{
    constexpr off_t most = 400;
    const off_t size = lseek(m_prints.get(), 0, SEEK_END);
    if (size <= 0)
        return {};
    std::string text(static_cast<std::size_t>(std::min(size, most)), '\0');
    const ssize_t got = pread(m_prints.get(), text.data(), text.size(), std::max<off_t>(size - most, 0));
    text.resize(got > 0 ? static_cast<std::size_t>(got) : 0);
    for (char& c : text)
        if (static_cast<unsigned char>(c) < 0x20 || static_cast<unsigned char>(c) > 0x7e)
            c = ' '; // its encoding is anybody's guess
    while (!text.empty() && text.back() == ' ')
        text.pop_back();
    return text;
}

Fault WorkerProcess::end(Phase phase, Ending ending)
{
    const bool by_itself = ending == Ending::ByItself;
    Fault fault{phase, Cause::Crash, {}};
    if (m_pid > 0) {
        // A worker that is ending by itself gets a moment, so that its own reason is seen.
        int status = 0;
        pid_t ended = 0;
        for (int waited_ms = 0; by_itself && waited_ms < 200 && ended == 0; ++waited_ms) {
            ended = waitpid(m_pid, &status, WNOHANG);
            if (ended == 0) {
                m_control.reset(); // tells the worker to end
                m_sound.reset();
                usleep(1000);
            }
        }
        WorkerSupervisor::shared().forget(m_pid);
        kill(-m_pid, SIGKILL); // its children too
        if (ended == 0)
            waitpid(m_pid, &status, 0);
        m_pid = -1;
        const Excess excess = m_excess->load(std::memory_order_acquire);
        if (excess != Excess::None) {
            fault.cause = Cause::OutOfMemory;
            fault.detail = excess == Excess::Threads
                               ? "it started more than " + std::to_string(most_worker_threads) + " threads"
                               : "it filled its temporary folder beyond " +
                                     std::to_string(most_folder_bytes >> 20) + " MiB";
        } else if (!by_itself) {
            fault.cause = ending == Ending::Hang ? Cause::Hang : Cause::Cancelled;
        } else if (WIFSIGNALED(status)) {
            fault.cause = WTERMSIG(status) == SIGXCPU ? Cause::Hang : Cause::Crash;
            fault.detail = WTERMSIG(status) == SIGSYS ? "a system call that plug-ins may not make"
                                                      : signalName(WTERMSIG(status));
        } else if (WEXITSTATUS(status) == worker_out_of_memory_code) {
            fault.cause = Cause::OutOfMemory;
            fault.detail = "the limit is 2 GiB";
        } else {
            fault.cause = Cause::Exit;
            fault.detail = "exit code " + std::to_string(WEXITSTATUS(status));
        }
    }
    if (const std::string printed = printedTail(); !printed.empty())
        fault.detail += (fault.detail.empty() ? "it printed: " : "; it printed: ") + printed;
    return fault;
}

} // namespace hr::hosting
