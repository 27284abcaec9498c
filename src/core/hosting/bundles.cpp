// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/bundles.h"

#include "hosting/path_text.h"
#include "processors/reference/registry.h"
#include "signal/hash.h"

#include <algorithm>
#include <array>
#include <cstdlib>
#include <fstream>
#include <sstream>

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

/// A variable that lists folders with colons, and the name of the folder in the standard places where it is not
/// set.
struct SearchPath {
    const char* variable;
    const char* folder;
};
constexpr std::array<SearchPath, 2> search_paths{{{"LV2_PATH", "lv2"}, {"LADSPA_PATH", "ladspa"}}};

/// The user's own, then the system's; HONEST_RACK_MULTIARCH is what Debian calls this architecture.
std::string standardFolders(const std::string& folder)
{
    std::string list = "~/." + folder;
    for (const char* root : {"/usr/local/lib/", "/usr/lib/", "/usr/local/lib/" HONEST_RACK_MULTIARCH "/",
                             "/usr/lib/" HONEST_RACK_MULTIARCH "/", "/usr/lib64/"})
        list += ':' + (root + folder);
    return list;
}

/// The specimens that come with the program: beside it in a build, under share/ when installed.
std::vector<fs::path> shippedFolders()
{
    std::error_code failed;
    const fs::path here = fs::read_symlink("/proc/self/exe", failed).parent_path();
    std::vector<fs::path> folders;
    for (const fs::path& folder : {here / "../lv2", here / "../share/honest-rack/lv2"})
        if (fs::is_directory(folder, failed))
            folders.push_back(folder.lexically_normal());
    return folders;
}

std::string sizeAndTime(const fs::path& file)
{
    std::error_code ignored;
    std::ostringstream line;
    line << fs::file_size(file, ignored) << ' '
         << fs::last_write_time(file, ignored).time_since_epoch().count();
    return line.str();
}

/// The files of a bundle, which may be one itself; sorted.
std::vector<fs::path> filesOf(const fs::path& bundle)
{
    constexpr int deepest = 4;
    if (isLadspaLibrary(bundle))
        return {bundle};
    std::vector<fs::path> files;
    std::error_code failed;
    fs::recursive_directory_iterator walk(bundle, fs::directory_options::skip_permission_denied, failed);
    for (; !failed && walk != fs::recursive_directory_iterator(); walk.increment(failed)) {
        if (walk.depth() > deepest)
            walk.disable_recursion_pending();
        std::error_code ignored;
        if (walk->is_regular_file(ignored))
            files.push_back(walk->path());
    }
    std::ranges::sort(files);
    return files;
}

std::string signatureOf(const fs::path& bundle)
{
    std::uint64_t hash = signal::hashOf({});
    for (const fs::path& file : filesOf(bundle))
        hash = signal::hashOf(file.lexically_relative(bundle).string() + ' ' + sizeAndTime(file) + '\n', hash);
    return signal::hashText(hash);
}

/// Whether this file or folder is something to try: an LV2 bundle, or a LADSPA library.
bool isBundle(const fs::path& path)
{
    std::error_code ignored;
    return fs::exists(path / "manifest.ttl", ignored) ||
           (isLadspaLibrary(path) && fs::is_regular_file(path, ignored));
}

/// Whether `bundle` can be the one of `id`, by its file name (LADSPA), or by its manifest: prefixes may hide
/// all but the last part of a URI.
bool mayDescribe(const fs::path& bundle, const std::string& id)
{
    if (id.starts_with("ladspa:"))
        return isLadspaLibrary(bundle) && id.starts_with("ladspa:" + pathText(bundle.stem()) + ":");
    const std::string uri = id.substr(id.find(':') + 1);
    std::ifstream file(bundle / "manifest.ttl");
    std::stringstream text;
    text << file.rdbuf();
    const auto end = uri.find_last_of("/#:");
    return text.str().find(end == std::string::npos ? uri : uri.substr(end + 1)) != std::string::npos;
}

} // namespace

std::vector<fs::path> searchFolders(const std::vector<fs::path>& added)
{
    const char* home = std::getenv("HOME");
    std::vector<fs::path> folders;
    for (const SearchPath& path : search_paths) {
        const char* named = std::getenv(path.variable);
        std::istringstream list(named && *named ? named : standardFolders(path.folder));
        for (std::string one; std::getline(list, one, ':');) {
            if (one.starts_with("~") && home)
                one.replace(0, 1, home);
            if (!one.empty())
                folders.emplace_back(one);
        }
    }
    std::ranges::copy(added, std::back_inserter(folders));
    std::ranges::copy(shippedFolders(), std::back_inserter(folders));
    std::vector<fs::path> unique;
    for (const fs::path& folder : folders)
        if (std::ranges::find(unique, folder.lexically_normal()) == unique.end())
            unique.push_back(folder.lexically_normal());
    return unique;
}

std::vector<Bundle> findBundles(const std::vector<fs::path>& folders)
{
    std::vector<Bundle> bundles;
    for (const fs::path& folder : folders) {
        std::error_code failed;
        fs::directory_iterator walk(folder, fs::directory_options::skip_permission_denied, failed);
        for (; !failed && walk != fs::directory_iterator(); walk.increment(failed)) {
            if (isBundle(walk->path()))
                bundles.push_back({walk->path(), signatureOf(walk->path())});
        }
    }
    std::ranges::sort(bundles, {}, &Bundle::path);
    return bundles;
}

std::string buildOf(const fs::path& bundle)
{
    constexpr std::uintmax_t largest_read = std::uintmax_t{32} << 20; // beyond that it is data, not code
    std::uint64_t hash = signal::hashOf({});
    std::vector<char> bytes(std::size_t{1} << 16);
    for (const fs::path& path : filesOf(bundle)) {
        std::error_code ignored;
        const std::uintmax_t size = fs::file_size(path, ignored);
        hash =
            signal::hashOf(path.lexically_relative(bundle).string() + ' ' + std::to_string(size) + '\n', hash);
        std::ifstream file(path, std::ios::binary);
        while (size <= largest_read &&
               file.read(bytes.data(), static_cast<std::streamsize>(bytes.size())).gcount() > 0)
            hash = signal::hashOf({bytes.data(), static_cast<std::size_t>(file.gcount())}, hash);
    }
    return signal::hashText(hash);
}

Result<Location> locate(const std::string& id, const std::vector<fs::path>& folders)
{
    if (processors::isReferenceId(id)) {
        if (!processors::makeReference(id))
            return wrongRequest("The bench has no reference \"" + id + "\".");
        return Location{id, {}};
    }
    if (!id.starts_with("lv2:") && !id.starts_with("ladspa:"))
        return wrongRequest("\"" + id +
                            "\" is not a processor id: write lv2:URI, ladspa:LIBRARY:LABEL or reference:NAME.");
    std::unique_ptr<Worker> worker;
    for (const fs::path& folder : folders) {
        std::error_code failed;
        fs::directory_iterator walk(folder, fs::directory_options::skip_permission_denied, failed);
        for (; !failed && walk != fs::directory_iterator(); walk.increment(failed)) {
            if (!mayDescribe(walk->path(), id))
                continue;
            if (!worker) {
                auto spawned = Worker::spawn();
                if (!spawned)
                    return tl::make_unexpected(spawned.error());
                worker = std::move(*spawned);
            }
            const auto contents = worker->describe(walk->path());
            if (!contents) {
                worker.reset();
                continue;
            }
            const auto left_out = std::ranges::find(contents->left_out, id, &BundleContents::LeftOut::id);
            if (left_out != contents->left_out.end())
                return wrongRequest("\"" + id + "\" is installed but cannot be hosted: " + left_out->reason +
                                    ".");
            if (std::ranges::find(contents->processors, id, &processors::ProcessorInfo::id) !=
                    contents->processors.end() ||
                std::ranges::find(contents->broken, id, &BundleContents::Broken::id) != contents->broken.end())
                return Location{id, walk->path()};
        }
    }
    return wrongRequest(
        "No processor \"" + id +
        "\" is installed in the folders that are searched: are LV2_PATH and LADSPA_PATH right?");
}

} // namespace hr::hosting
