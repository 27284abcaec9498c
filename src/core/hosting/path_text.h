// SPDX-License-Identifier: GPL-3.0-or-later
//
// Paths are bytes, JSON and the catalogue hold UTF-8: what is not UTF-8 in a path is written as "%FF", and a
// percent sign as "%25". Every other path reads as it is.
#pragma once

#include <filesystem>
#include <string>

namespace hr::hosting {

std::string pathText(const std::filesystem::path& path);
std::filesystem::path pathFrom(const std::string& text);

} // namespace hr::hosting
