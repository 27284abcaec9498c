// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/bundles.h"

#include "hosting/formats/format.h"
#include "processors/reference/registry.h"
#include "signal/hash.h"

#include <algorithm>
#include <fstream>
#include <functional>
#include <sstream>

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

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
    std::vector<fs::path> files;
    std::error_code failed;
    if (!fs::is_directory(bundle, failed))
        return {bundle};
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

constexpr int deepest_folder = 8; // beneath one that is searched

/// Calls `take` with everything in `folder` that is a bundle, until it returns false.
bool eachBundle(const fs::path& folder, int depth,
                const std::function<bool(const Format&, const fs::path&)>& take)
{
    std::error_code failed;
    fs::directory_iterator walk(folder, fs::directory_options::skip_permission_denied, failed);
    for (; !failed && walk != fs::directory_iterator(); walk.increment(failed)) {
        const fs::path& path = walk->path();
        bool deeper = false;
        const Format* format = nullptr;
        for (const auto& one : formats()) {
            if (!format && (depth == 0 || one->searchesSubfolders()) && one->isBundle(path))
                format = one.get();
            deeper = deeper || one->searchesSubfolders();
        }
        if (format && !take(*format, path))
            return false;
        std::error_code ignored; // links are not followed: they may lead round
        if (!format && deeper && depth < deepest_folder &&
            walk->symlink_status(ignored).type() == fs::file_type::directory &&
            !eachBundle(path, depth + 1, take))
            return false;
    }
    return true;
}

} // namespace

std::string signatureOf(const fs::path& bundle)
{
    std::uint64_t hash = signal::hashOf({});
    for (const fs::path& file : filesOf(bundle))
        hash = signal::hashOf(file.lexically_relative(bundle).string() + ' ' + sizeAndTime(file) + '\n', hash);
    return signal::hashText(hash);
}

std::vector<fs::path> searchFolders(const std::vector<fs::path>& added)
{
    std::vector<fs::path> folders;
    for (const auto& format : formats())
        std::ranges::copy(foldersOf(*format), std::back_inserter(folders));
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
    for (const fs::path& folder : folders)
        eachBundle(folder, 0, [&](const Format&, const fs::path& path) {
            bundles.push_back({path, signatureOf(path)});
            return true;
        });
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
    const Format* wanted = formatOfId(id);
    if (!wanted)
        return wrongRequest("\"" + id + "\" is not a processor id: write " + idForms() + ".");
    std::unique_ptr<Worker> worker;
    std::optional<Result<Location>> found;
    /// Whether to look further.
    const auto look = [&](const Format& format, const fs::path& path) {
        if (&format != wanted || !format.mayDescribe(path, id))
            return true;
        if (!worker) {
            auto spawned = Worker::spawn();
            if (!spawned) {
                found = tl::make_unexpected(spawned.error());
                return false;
            }
            worker = std::move(*spawned);
        }
        const auto contents = worker->describe(path);
        if (!contents) {
            if (contents.error().cause == Cause::Unprotected)
                found = tl::make_unexpected(toError(contents.error(), id));
            worker.reset();
            return !found;
        }
        const auto left_out = std::ranges::find(contents->left_out, id, &BundleContents::LeftOut::id);
        if (left_out != contents->left_out.end())
            found = wrongRequest("\"" + id + "\" is installed but cannot be hosted: " + left_out->reason + ".");
        else if (std::ranges::find(contents->processors, id, &processors::ProcessorInfo::id) !=
                     contents->processors.end() ||
                 std::ranges::find(contents->broken, id, &BundleContents::Broken::id) != contents->broken.end())
            found = Location{id, path};
        return !found;
    };
    for (const fs::path& folder : folders)
        if (!eachBundle(folder, 0, look))
            return *found;
    return wrongRequest("No processor \"" + id + "\" is installed in the folders that are searched: is " +
                        wanted->pathVariable() + " right?");
}

} // namespace hr::hosting
