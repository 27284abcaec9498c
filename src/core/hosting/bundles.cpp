// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/bundles.h"

#include "processors/reference/registry.h"

#include <algorithm>
#include <array>
#include <cstdlib>
#include <fstream>
#include <sstream>

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

/// A variable that lists folders with colons, and the folders where it is not set.
struct SearchPath {
    const char* variable;
    const char* standard;
};
constexpr std::array<SearchPath, 2> search_paths{
    {{"LV2_PATH", "~/.lv2:/usr/local/lib/lv2:/usr/lib/lv2:/usr/local/lib/x86_64-linux-gnu/lv2:/usr/lib/"
                  "x86_64-linux-gnu/lv2"},
     {"LADSPA_PATH", "~/.ladspa:/usr/local/lib/ladspa:/usr/lib/ladspa:/usr/local/lib/x86_64-linux-gnu/ladspa:"
                     "/usr/lib/x86_64-linux-gnu/ladspa"}}};

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

std::string signatureOf(const fs::path& bundle)
{
    std::vector<std::string> files;
    if (isLadspaLibrary(bundle))
        files.push_back(sizeAndTime(bundle));
    std::error_code failed;
    fs::recursive_directory_iterator walk(bundle, fs::directory_options::skip_permission_denied, failed);
    for (; !failed && walk != fs::recursive_directory_iterator(); walk.increment(failed)) {
        if (walk.depth() > 4)
            walk.disable_recursion_pending();
        std::error_code ignored;
        if (!walk->is_regular_file(ignored))
            continue;
        files.push_back(walk->path().lexically_relative(bundle).string() + ' ' + sizeAndTime(walk->path()));
    }
    std::ranges::sort(files);
    // FNV-1a: it only has to notice change.
    std::uint64_t hash = 14695981039346656037ULL;
    for (const std::string& line : files)
        for (const char c : line + '\n')
            hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    std::ostringstream text;
    text << std::hex << hash;
    return text.str();
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
        return isLadspaLibrary(bundle) && id.starts_with("ladspa:" + bundle.stem().string() + ":");
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
        std::istringstream list(named && *named ? named : path.standard);
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

Result<Location> locate(const std::string& id, const std::vector<fs::path>& folders)
{
    if (processors::isReferenceId(id)) {
        if (!processors::makeReference(id))
            return wrongRequest("The bench has no reference \"" + id + "\".");
        return Location{id, {}};
    }
    if (!id.starts_with("lv2:") && !id.starts_with("ladspa:"))
        return wrongRequest("\"" + id +
                            "\" is no processor id: write lv2:URI, ladspa:LIBRARY:LABEL or reference:NAME.");
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
