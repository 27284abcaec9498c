// SPDX-License-Identifier: GPL-3.0-or-later
//
// Samples put aside on disk for a while: a file without a name, which is gone with whoever made it, even if
// that is killed.
#pragma once

#include "signal/result.h"

#include <cstdio>
#include <filesystem>
#include <memory>

namespace hr::signal {

/// Write everything, rewind(), read everything. Move-only; one thread at a time, but for readAt().
class ScratchFile {
public:
    /// In this folder, so that there is room where the result is to be.
    static Result<ScratchFile> in(const std::filesystem::path& folder);

    /// An Error where the disk is full.
    Result<void> write(const float* samples, std::size_t count);
    Result<void> rewind();
    /// How many were read; 0 at the end.
    std::size_t read(float* samples, std::size_t count);
    /// The same from this sample on; after rewind() from any number of threads.
    std::size_t readAt(std::size_t first, float* samples, std::size_t count) const;

private:
    struct Close {
        void operator()(std::FILE* file) const { std::fclose(file); }
    };
    ScratchFile(std::filesystem::path folder, std::FILE* file) : m_folder(std::move(folder)), m_file(file) {}

    std::filesystem::path m_folder;
    std::unique_ptr<std::FILE, Close> m_file;
};

} // namespace hr::signal
