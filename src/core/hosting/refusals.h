// SPDX-License-Identifier: GPL-3.0-or-later
//
// What third-party code asked for and was refused by the cage it runs in.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace hr::hosting {

struct Refusals {
    bool network = false;
    bool programs = false;  ///< to start or reach other programs
    bool files = false;     ///< to write outside its own folder
    bool processes = false; ///< to trace, signal or limit other processes
    bool reading = false;   ///< to read what is neither the system's nor its own
    std::string path;       ///< the first that it wanted to write to, or to change; plain text
    std::string read_path;  ///< the first that it wanted to read

    bool any() const { return network || programs || files || processes || reading; }
    friend bool operator==(const Refusals&, const Refusals&) = default;
};

/// Both together; the first paths stay.
Refusals merged(const Refusals& a, const Refusals& b);

/// "wanted the network and to write to /home/…"; empty where nothing was refused.
std::string inWords(const Refusals& refusals);

/// The words of the catalogue and of `hrack show`, and back.
std::vector<std::string> words(const Refusals& refusals);
Refusals refusalsFrom(const std::vector<std::string>& words, const std::string& path,
                      const std::string& read_path);

} // namespace hr::hosting
