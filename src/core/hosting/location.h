// SPDX-License-Identifier: GPL-3.0-or-later
//
// Which processor is meant, and where its files lie.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

namespace hr::hosting {

struct Location {
    std::string id;                    ///< as on the command line; "chain:NAME" for a chain
    std::filesystem::path bundle;      ///< empty for the bench's own, and for what is not installed
    std::vector<Location> stages = {}; ///< of a chain, in order; they have none themselves
    std::string preset = {}; ///< name of the preset whose inner state it starts from; its values are settings

    friend bool operator==(const Location&, const Location&) = default;
};

/// Whether the files that are to be loaded are known: what is not is played round in a chain.
bool isMissing(const Location& location);

enum class Channels {
    Own,    ///< as the processor has them
    Stereo, ///< two in and out whatever it has (processors::StereoAdapter); a chain always is
};

} // namespace hr::hosting
