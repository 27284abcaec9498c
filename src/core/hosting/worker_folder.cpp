// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/worker_folder.h"

#include <cstdlib>
#include <ctime>
#include <fcntl.h>
#include <mutex>
#include <string>
#include <sys/file.h>
#include <sys/stat.h>

namespace hr::hosting {
namespace {

namespace fs = std::filesystem;

constexpr const char* prefix = "honest-rack-worker-";
/// Between making a folder and locking it somebody else may look at it.
constexpr std::time_t surely_locked_s = 60;

OwnedFd openFolder(const fs::path& folder)
{
    return OwnedFd(open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_NOFOLLOW | O_CLOEXEC));
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
    std::error_code ignored;
    if (!m_path.empty())
        fs::remove_all(m_path, ignored);
}

int WorkerFolder::removeAbandoned()
{
    int removed = 0;
    std::error_code failed;
    fs::directory_iterator all(fs::temp_directory_path(failed), failed);
    for (; !failed && all != fs::directory_iterator(); all.increment(failed)) {
        std::error_code ignored;
        if (!all->path().filename().string().starts_with(prefix))
            continue;
        const OwnedFd folder = openFolder(all->path());
        if (isAbandoned(folder) && fs::remove_all(all->path(), ignored) > 0)
            ++removed;
    }
    return removed;
}

} // namespace hr::hosting
