// SPDX-License-Identifier: GPL-3.0-or-later
//
// Fields of CSV (RFC 4180, 2005).
#pragma once

#include <string>

namespace hr::exchange {

/// Within quotes, its own doubled.
inline std::string csvField(const std::string& text)
{
    std::string field = "\"";
    for (const char c : text) {
        if (c == '"')
            field += '"';
        field += c;
    }
    return field + '"';
}

} // namespace hr::exchange
