// SPDX-License-Identifier: GPL-3.0-or-later
//
// The folder of one worker, where plug-ins find room for their temporary files: in the system's folder for such
// things, gone with the worker. It is locked (flock(2)) as long as its maker lives. What a maker that was
// killed left behind is nobody's: the next process to start a worker removes it.
#pragma once

#include "hosting/owned_fd.h"

#include <filesystem>

namespace hr::hosting {

class WorkerFolder {
public:
    WorkerFolder() = default; ///< none
    ~WorkerFolder();          ///< removes it, with what is in it

    WorkerFolder(const WorkerFolder&) = delete;
    WorkerFolder& operator=(const WorkerFolder&) = delete;

    /// Makes it; there is none where the system's folder is full or cannot be written.
    void make();
    const std::filesystem::path& path() const { return m_path; } ///< empty where there is none

    /// Removes those that nobody holds any more and that are older than a minute. @return how many.
    static int removeAbandoned();

private:
    std::filesystem::path m_path;
    OwnedFd m_lock;
};

/// Whether more lies beneath `folder` than this. Looks no further than needed.
bool exceeds(const std::filesystem::path& folder, std::uintmax_t most_bytes, std::size_t most_files);

/// With all that is in it, whatever its folders allow: they are ours to change. False where something stays.
bool removeTree(const std::filesystem::path& folder);

} // namespace hr::hosting
