// SPDX-License-Identifier: GPL-3.0-or-later
//
// Where the bundles of all formats lie; a single file counts as one. Looks at file names, sizes and times only,
// but for buildOf(); understanding one is a worker's job.
#pragma once

#include "hosting/instance.h"

#include <filesystem>
#include <string>
#include <vector>

namespace hr::hosting {

struct Bundle {
    std::filesystem::path path;
    std::string signature; ///< changes whenever a file of the bundle does
};

/// Those of each format (foldersOf()); then `added` and the specimens that come with the program. Without
/// repetitions.
std::vector<std::filesystem::path> searchFolders(const std::vector<std::filesystem::path>& added = {});

/// Every bundle in these folders, sorted by path, and in folders beneath them where a format asks for it
/// (Format::searchesSubfolders()). Folders that cannot be read are passed over.
std::vector<Bundle> findBundles(const std::vector<std::filesystem::path>& folders);

/// Changes whenever a file of the bundle does.
std::string signatureOf(const std::filesystem::path& bundle);

/// A fingerprint of what is in its files, whenever they were written: a copy is the same build. Reads them.
std::string buildOf(const std::filesystem::path& bundle);

/// The bundle that describes `id`; asks workers, so it takes a while. An Error when there is none.
Result<Location> locate(const std::string& id, const std::vector<std::filesystem::path>& folders);

} // namespace hr::hosting
