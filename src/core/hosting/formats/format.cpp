// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/formats/format.h"

#include "processors/reference/registry.h"

#include <algorithm>
#include <cstdlib>
#include <sstream>

namespace hr::hosting {

namespace {

namespace fs = std::filesystem;

std::vector<std::unique_ptr<Format>>& all()
{
    static std::vector<std::unique_ptr<Format>> formats = [] {
        std::vector<std::unique_ptr<Format>> made;
        made.push_back(lv2Format());
        made.push_back(ladspaFormat());
        return made;
    }();
    return formats;
}

/// The user's own, then the system's; HONEST_RACK_MULTIARCH is what Debian calls this architecture.
std::string standardFolders(const std::string& folder)
{
    std::string list = "~/." + folder;
    for (const char* root : {"/usr/local/lib/", "/usr/lib/", "/usr/local/lib/" HONEST_RACK_MULTIARCH "/",
                             "/usr/lib/" HONEST_RACK_MULTIARCH "/", "/usr/lib64/"})
        list += ':' + (root + folder);
    return list;
}

} // namespace

const std::vector<std::unique_ptr<Format>>& formats()
{
    return all();
}

void addFormat(std::unique_ptr<Format> format)
{
    all().push_back(std::move(format));
}

const Format* formatOfBundle(const fs::path& bundle)
{
    const auto found = std::ranges::find_if(formats(), [&](const auto& f) { return f->isBundle(bundle); });
    return found == formats().end() ? nullptr : found->get();
}

const Format* formatOfId(const std::string& id)
{
    const auto found =
        std::ranges::find_if(formats(), [&](const auto& f) { return id.starts_with(f->key() + ':'); });
    return found == formats().end() ? nullptr : found->get();
}

std::string idForms()
{
    std::string forms;
    for (const auto& format : formats())
        forms += (forms.empty() ? "" : ", ") + format->idForm();
    return forms + " or reference:NAME";
}

std::vector<fs::path> foldersOf(const Format& format)
{
    const char* home = std::getenv("HOME");
    const char* named = std::getenv(format.pathVariable().c_str());
    std::istringstream list(named && *named ? named : standardFolders(format.folderName()));
    std::vector<fs::path> folders;
    for (std::string one; std::getline(list, one, ':');) {
        if (one.starts_with("~") && home)
            one.replace(0, 1, home);
        if (!one.empty())
            folders.emplace_back(one);
    }
    return folders;
}

} // namespace hr::hosting
