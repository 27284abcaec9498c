// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which processor is meant, and where its files lie; of a chain, how it hangs together and where the files of
// its stages lie.
#pragma once

#include "processors/graph.h"

#include <filesystem>

namespace hr::hosting {

/// What the user has allowed a processor beyond the cage that all third-party code runs in.
struct Permissions {
    bool network = false;
    std::filesystem::path folder = {};   ///< it may write there; empty: nowhere but in a folder that is emptied
    std::filesystem::path readable = {}; ///< it may read there beside what all may; empty: nowhere

    friend bool operator==(const Permissions&, const Permissions&) = default;
};

/// The processor of one node of a chain.
struct StagePlace {
    std::string node;             ///< its id in the graph
    std::string id;               ///< of the processor
    std::filesystem::path bundle; ///< empty for the bench's own, and for what is not installed
    std::string preset = {};
    Permissions permissions = {};
    std::string state =
        {}; ///< what it begins with beside its values (Processor::setState()); empty: its default

    friend bool operator==(const StagePlace&, const StagePlace&) = default;
};

struct Location {
    std::string id;               ///< as on the command line; of a chain, what stands for its structure
    std::filesystem::path bundle; ///< empty for the bench's own, for chains, and for what is not installed
    std::string preset = {}; ///< name of the preset whose inner state it starts from; its values are settings
    Permissions permissions = {};
    std::string state = {}; ///< as of a stage; of a chain each stage has its own

    // Of a chain only:
    std::string name = {};
    processors::Graph graph = {};
    std::vector<StagePlace> stages = {}; ///< of its nodes that are stages

    bool isChain() const { return !graph.edges.empty(); }
    friend bool operator==(const Location&, const Location&) = default;
};

/// The place of one processor alone.
inline Location locationOf(const StagePlace& stage)
{
    return {stage.id, stage.bundle, stage.preset, stage.permissions, stage.state};
}

/// The state that all of it begins with, as of Processor::setState().
std::string stateOf(const Location& location);

/// What a worker that runs all of it may do: of a chain only what each of its stages may, since they share one.
Permissions permissionsOf(const Location& location);

/// Whether the files that are to be loaded are known: what is not is bypassed in a chain.
bool isMissing(const StagePlace& stage);

enum class Channels {
    Own,    ///< as the processor has them
    Stereo, ///< two in and out whatever it has (processors::StereoAdapter); a chain always is
};

} // namespace hr::hosting
