// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/regular_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace hr::signal {

bool isRegularFile(const std::filesystem::path& file)
{
    struct stat facts {};
    return stat(file.c_str(), &facts) == 0 && S_ISREG(facts.st_mode);
}

Result<std::string> readRegularFile(const std::filesystem::path& file, std::uintmax_t most_bytes)
{
    const auto cannot = [&](const std::string& why) {
        return wrongRequest("Cannot read " + file.string() + " (" + why + "): check the path.");
    };
    // Opening a pipe without O_NONBLOCK waits for somebody to write to it.
    const int fd = open(file.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK | O_NOCTTY);
    if (fd < 0)
        return cannot(std::strerror(errno));
    struct stat facts {};
    const bool regular = fstat(fd, &facts) == 0 && S_ISREG(facts.st_mode);
    if (!regular || static_cast<std::uintmax_t>(facts.st_size) > most_bytes) {
        close(fd);
        return regular ? wrongRequest(file.string() + " is too large: at most " +
                                      std::to_string(most_bytes >> 20) + " MiB are read.")
                       : cannot("it is not a regular file");
    }
    std::string text(static_cast<std::size_t>(facts.st_size), '\0');
    std::size_t got = 0;
    while (got < text.size()) {
        const ssize_t step = read(fd, text.data() + got, text.size() - got);
        if (step < 0 && errno == EINTR)
            continue;
        if (step <= 0)
            break; // it was cut off meanwhile
        got += static_cast<std::size_t>(step);
    }
    close(fd);
    text.resize(got);
    return text;
}

} // namespace hr::signal
