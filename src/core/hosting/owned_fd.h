// SPDX-License-Identifier: GPL-3.0-or-later
//
// A file number that closes itself.
#pragma once

#include <unistd.h>
#include <utility>

namespace hr::hosting {

class OwnedFd {
public:
    explicit OwnedFd(int fd = -1) : m_fd(fd) {}
    OwnedFd(OwnedFd&& other) noexcept : m_fd(std::exchange(other.m_fd, -1)) {}
    OwnedFd& operator=(OwnedFd&& other) noexcept
    {
        std::swap(m_fd, other.m_fd);
        return *this;
    }
    ~OwnedFd()
    {
        if (m_fd >= 0)
            close(m_fd);
    }
    int get() const { return m_fd; }
    void reset() { *this = OwnedFd(); }

private:
    int m_fd;
};

} // namespace hr::hosting
