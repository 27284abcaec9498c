// SPDX-License-Identifier: GPL-3.0-or-later
//
// Many processors and chains measured one after another, or several at once, into a folder of documents: one
// file each, so that a batch that was stopped goes on where it was, and so that machines can share one without
// knowing of each other.
#pragma once

#include "library/store.h"

namespace hr::exchange {

/// What is measured: the ready processors of the catalogue at their defaults, or what a collection holds, with
/// the settings and chains it was kept with.
struct BatchItem {
    hosting::Location location;
    processors::ProcessorInfo info;
    std::vector<double> values;
    library::SetUp set_up;
};

struct BatchItems {
    std::vector<BatchItem> items;
    std::vector<std::pair<std::string, std::string>> left_out; ///< id, and why: in quarantine, not installed
};
/// `collection` empty: all that is ready, but for the bench's own. Refuses an unknown collection.
Result<BatchItems> batchItems(library::Store& store, const QString& collection);

struct BatchOrder {
    std::filesystem::path folder;
    std::vector<bench::TestInfo> tests;
    bench::Conditions conditions;
    unsigned jobs = 1;              ///< at once
    unsigned shard = 1, shards = 1; ///< 1 <= shard <= shards: which part of it
    bool store = true;              ///< also in the catalogue
    std::stop_token cancel = {};    ///< what is being measured is broken off and left for the next time
    /// Of each that ended, on the caller's thread.
    std::function<void(const std::string& id, std::size_t ended, std::size_t of)> progress = {};
};

struct BatchOutcome {
    std::size_t measured = 0;
    std::size_t kept = 0; ///< a file of the same build, settings, conditions, tests and bench was there
    std::vector<std::pair<std::string, hosting::Fault>> failed; ///< their files say so, too
};

/// The file of an item within its folder: its id in letters that every file system takes, and what tells its
/// settings apart.
std::string batchFile(const library::SetUp& set_up, const bench::Conditions& conditions);
/// Which part of `shards` an item is in, from 1: by its file's name alone.
unsigned shardOf(const library::SetUp& set_up, unsigned shards);

Result<BatchOutcome> runBatch(library::Store& store, const std::vector<BatchItem>& items,
                              const BatchOrder& order);

struct Merged {
    std::size_t taken = 0;
    std::size_t older = 0;               ///< of the same set-up and conditions a newer one was there
    std::vector<std::string> unreadable; ///< sentences
};
/// The documents of several folders into the catalogue, and as files into `folder` where it is not empty: of
/// those that are alike the newest.
Result<Merged> merge(library::Store& store, const std::vector<std::filesystem::path>& folders,
                     const std::filesystem::path& folder);

} // namespace hr::exchange
