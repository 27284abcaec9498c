// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the fuzz targets share.
#pragma once

#include <cstdint>
#include <cstdlib>
#include <string>
#include <sys/mman.h>
#include <unistd.h>

namespace hr::fuzz {

/// Ends the program where something that must hold does not.
inline void must(bool holds)
{
    if (!holds)
        std::abort();
}

/// The bytes as a file without a place on the disk, for what reads by path.
class MemoryFile {
public:
    MemoryFile(const std::uint8_t* data, std::size_t size) : m_fd(memfd_create("fuzz", 0))
    {
        must(write(m_fd, data, size) == static_cast<ssize_t>(size));
    }
    ~MemoryFile() { close(m_fd); }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;
    std::string path() const { return "/proc/self/fd/" + std::to_string(m_fd); }

private:
    int m_fd;
};

} // namespace hr::fuzz
