// SPDX-License-Identifier: GPL-3.0-or-later
#include "signal/scratch_file.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <unistd.h>

namespace hr::signal {

namespace {

/// Some file systems know no files without a name: there it has one for a moment.
int openNameless(const std::filesystem::path& folder)
{
    const int file = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    if (file >= 0)
        return file;
    std::string name = (folder / ".honest-rack-XXXXXX").string();
    const int named = ::mkostemp(name.data(), O_CLOEXEC);
    if (named >= 0)
        ::unlink(name.c_str());
    return named;
}

} // namespace

Result<ScratchFile> ScratchFile::in(const std::filesystem::path& folder)
{
    const std::filesystem::path there = folder.empty() ? "." : folder;
    const int descriptor = openNameless(there);
    std::FILE* const file = descriptor < 0 ? nullptr : ::fdopen(descriptor, "w+b");
    if (!file)
        return machineFailed("Cannot write in the folder " + there.string() + " (" + std::strerror(errno) +
                             "): check that it exists and can be written.");
    return ScratchFile(there, file);
}

Result<void> ScratchFile::write(const float* samples, std::size_t count)
{
    if (std::fwrite(samples, sizeof(float), count, m_file.get()) == count)
        return {};
    return machineFailed("Writing in the folder " + m_folder.string() + " failed (" + std::strerror(errno) +
                         "): make room there or choose another folder.");
}

Result<void> ScratchFile::rewind()
{
    if (std::fseek(m_file.get(), 0, SEEK_SET) == 0)
        return {};
    return machineFailed("Writing in the folder " + m_folder.string() + " failed (" + std::strerror(errno) +
                         "): make room there or choose another folder.");
}

std::size_t ScratchFile::read(float* samples, std::size_t count)
{
    return std::fread(samples, sizeof(float), count, m_file.get());
}

std::size_t ScratchFile::readAt(std::size_t first, float* samples, std::size_t count) const
{
    std::size_t done = 0; // bytes
    while (done < count * sizeof(float)) {
        const ssize_t got =
            ::pread(::fileno(m_file.get()), reinterpret_cast<char*>(samples) + done,
                    count * sizeof(float) - done, static_cast<off_t>(first * sizeof(float) + done));
        if (got <= 0)
            break;
        done += static_cast<std::size_t>(got);
    }
    return done / sizeof(float);
}

} // namespace hr::signal
