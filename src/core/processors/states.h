// SPDX-License-Identifier: GPL-3.0-or-later
//
// What several processors keep beside their parameters (Processor::state()), as one string; and any such string
// as text that JSON can hold.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>

namespace hr::processors {

/// By the node of a chain; nodes that keep nothing are left out.
using States = std::map<std::string, std::string>;

/// Empty where nothing is kept: of each entry the lengths of both, as 32 bits, least significant byte first,
/// then both.
std::string packed(const States& states);
/// Empty optional where the bytes are not such a string.
std::optional<States> unpacked(std::string_view bytes);

/// RFC 4648 (2006), section 4.
std::string base64(std::string_view bytes);
/// Empty optional where the text is not base64 with its padding.
std::optional<std::string> fromBase64(std::string_view text);

} // namespace hr::processors
