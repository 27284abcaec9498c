// SPDX-License-Identifier: GPL-3.0-or-later
//
// A third format, made up for the tests: a file "NAME.sketch" with one number in it, which is the gain of a
// mono effect. Its state is another gain, over that; a block that begins with a sample above 1 moves its
// control by itself.
#pragma once

#include <string>

namespace hr::test {

inline constexpr const char* sketch_key = "sketch";
inline constexpr const char* sketch_extension = ".sketch";

} // namespace hr::test
