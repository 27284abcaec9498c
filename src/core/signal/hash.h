// SPDX-License-Identifier: GPL-3.0-or-later
//
// A fingerprint of some bytes, to notice change and to tell apart; not against somebody who wants two to meet.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace hr::signal {

/// FNV-1a, 64 bits (G. Fowler, L. C. Noll, K.-P. Vo; IETF draft-eastlake-fnv). `so_far` goes on with more
/// bytes.
inline std::uint64_t hashOf(std::string_view bytes, std::uint64_t so_far = 14695981039346656037ULL)
{
    for (const char c : bytes)
        so_far = (so_far ^ static_cast<unsigned char>(c)) * 1099511628211ULL;
    return so_far;
}

/// As 16 hexadecimal digits.
inline std::string hashText(std::uint64_t hash)
{
    std::string text;
    for (int shift = 60; shift >= 0; shift -= 4)
        text += "0123456789abcdef"[(hash >> static_cast<unsigned>(shift)) & 15U];
    return text;
}

} // namespace hr::signal
