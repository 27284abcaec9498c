// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_folder.h"

#include <cstdlib>
#include <ctime>
#include <dirent.h>
#include <fcntl.h>
#include <mutex>
#include <string>
#include <sys/file.h>
#include <sys/stat.h>
#include <vector>

namespace hr::hosting {
namespace {

namespace fs = std::filesystem;

constexpr const char* prefix = "honest-rack-worker-";
/// Between making a folder and locking it somebody else may look at it.
constexpr std::time_t surely_locked_s = 60;

OwnedFd openFolder(const fs::path& folder)
{
    // A plug-in may have taken away our own right to look at it.
    struct stat facts {};
    if (lstat(folder.c_str(), &facts) == 0 && S_ISDIR(facts.st_mode) && facts.st_uid == geteuid() &&
        (facts.st_mode & S_IRWXU) != S_IRWXU)
        chmod(folder.c_str(), S_IRWXU);
    return OwnedFd(open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC));
}

/// What lies in an open folder, by name.
std::vector<std::string> namesIn(int folder)
{
    std::vector<std::string> names;
    DIR* listing = fdopendir(dup(folder));
    while (const dirent* entry = listing ? readdir(listing) : nullptr)
        if (const std::string name = entry->d_name; name != "." && name != "..")
            names.push_back(name);
    if (listing)
        closedir(listing);
    return names;
}

/// By file numbers, so that nothing that is put in the place of a folder meanwhile is followed.
bool removeAllIn(int folder)
{
    bool all = true;
    for (const std::string& name : namesIn(folder)) {
        if (unlinkat(folder, name.c_str(), 0) == 0)
            continue;
        struct stat facts {};
        if (fstatat(folder, name.c_str(), &facts, AT_SYMLINK_NOFOLLOW) != 0 || !S_ISDIR(facts.st_mode)) {
            all = false;
            continue;
        }
        fchmodat(folder, name.c_str(), S_IRWXU, 0);
        const OwnedFd inner(openat(folder, name.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC));
        all = inner.get() >= 0 && removeAllIn(inner.get()) &&
              unlinkat(folder, name.c_str(), AT_REMOVEDIR) == 0 && all;
    }
    return all;
}

bool isAbandoned(const OwnedFd& folder)
{
    struct stat facts {};
    return folder.get() >= 0 && fstat(folder.get(), &facts) == 0 && facts.st_uid == geteuid() &&
           std::time(nullptr) - facts.st_mtime > surely_locked_s && flock(folder.get(), LOCK_EX | LOCK_NB) == 0;
}

} // namespace

void WorkerFolder::make()
{
    static std::once_flag once;
    std::call_once(once, [] { removeAbandoned(); });
    std::error_code failed;
    std::string name = (fs::temp_directory_path(failed) / (std::string(prefix) + "XXXXXX")).string();
    if (failed || !mkdtemp(name.data()))
        return;
    m_path = name;
    m_lock = openFolder(m_path);
    flock(m_lock.get(), LOCK_EX | LOCK_NB);
}

WorkerFolder::~WorkerFolder()
{
    if (!m_path.empty())
        removeTree(m_path);
}

int WorkerFolder::removeAbandoned()
{
    int removed = 0;
    std::error_code failed;
    fs::directory_iterator all(fs::temp_directory_path(failed), failed);
    for (; !failed && all != fs::directory_iterator(); all.increment(failed)) {
        if (!all->path().filename().string().starts_with(prefix))
            continue;
        const OwnedFd folder = openFolder(all->path());
        if (isAbandoned(folder) && removeTree(all->path()))
            ++removed;
    }
    return removed;
}

bool removeTree(const fs::path& folder)
{
    const OwnedFd open = openFolder(folder);
    return open.get() >= 0 && removeAllIn(open.get()) && rmdir(folder.c_str()) == 0;
}

bool exceeds(const fs::path& folder, std::uintmax_t most_bytes, std::size_t most_files)
{
    std::uintmax_t bytes = 0;
    std::size_t files = 0;
    std::error_code failed;
    fs::recursive_directory_iterator walk(folder, fs::directory_options::skip_permission_denied, failed);
    for (; !failed && walk != fs::recursive_directory_iterator(); walk.increment(failed)) {
        struct stat facts {};
        if (lstat(walk->path().c_str(), &facts) == 0)
            bytes += static_cast<std::uintmax_t>(facts.st_blocks) * 512;
        if (++files > most_files || bytes > most_bytes)
            return true;
    }
    return false;
}

} // namespace hr::hosting
