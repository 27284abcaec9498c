// SPDX-License-Identifier: GPL-3.0-or-later
//
// A plug-in format seen from outside the worker: where its files lie, what they look like, how its processors
// are named. Nothing else asks which format something is. What runs it is inside/format.h.
//
//     for (const Format* format : formats())
//         for (const auto& folder : format->folders()) …
//
// To add one: a class here, a class beside inside/format.h, a line in formats() and one in hostedFormats().
//
// Threads: all functions from any; addFormat() before the first of the others.
#pragma once

#include "hosting/fault.h"
#include "processors/description.h"

#include <filesystem>
#include <memory>
#include <vector>

namespace hr::hosting {

class Format {
public:
    virtual ~Format() = default;

    /// What the ids of its processors begin with, before the colon: "lv2".
    virtual std::string key() const = 0;
    virtual std::string name() const = 0;   ///< for people: "LV2"
    virtual std::string idForm() const = 0; ///< how an id is written: "lv2:URI"

    /// The variable that lists its folders with colons ("LV2_PATH"), and the name of its folder in the standard
    /// places where that is not set ("lv2").
    virtual std::string pathVariable() const = 0;
    virtual std::string folderName() const = 0;
    /// Whether the standard asks for folders in folders to be searched, too.
    virtual bool searchesSubfolders() const { return false; }

    /// Whether this file or folder is one of its bundles: something to be tried. A single file counts as one.
    virtual bool isBundle(const std::filesystem::path& path) const = 0;
    /// Why a bundle is not to be read at all; empty where it is.
    virtual std::string whyUnreadable(const std::filesystem::path&) const { return {}; }
    /// Whether `bundle` can be the one of `id`, without loading it.
    virtual bool mayDescribe(const std::filesystem::path& bundle, const std::string& id) const = 0;
    /// What a bundle is doing when it describes itself: it is read, or has to be loaded for it.
    virtual Phase describing() const { return Phase::Read; }

    /// What stands for a bundle that could not be read: an id with nothing behind its last part.
    virtual std::string unreadId(const std::filesystem::path& bundle) const = 0;
    /// What people read where a processor is known only by its failure.
    virtual std::string unreadName(const std::filesystem::path& bundle, const std::string& id) const = 0;

    /// Adds what the format keeps beside its bundles.
    virtual void complete(processors::ProcessorInfo&) const {}
};

/// All there are, in the order in which they are offered.
const std::vector<std::unique_ptr<Format>>& formats();
/// One more: for tests, which show that a third needs nothing else.
void addFormat(std::unique_ptr<Format> format);

const Format* formatOfBundle(const std::filesystem::path& bundle); ///< null: of none
const Format* formatOfId(const std::string& id);                   ///< null: of none

/// "lv2:URI, ladspa:LIBRARY:LABEL or reference:NAME": how ids are written, for messages.
std::string idForms();

/// The folders of its variable where that is set, else the standard ones.
std::vector<std::filesystem::path> foldersOf(const Format& format);

std::unique_ptr<Format> lv2Format();
std::unique_ptr<Format> ladspaFormat();

} // namespace hr::hosting
