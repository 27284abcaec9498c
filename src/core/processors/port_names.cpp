// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/port_names.h"

#include <cctype>
#include <string>

namespace hr::processors {

bool namesKeyInput(std::string_view port_name)
{
    // Letters in lower case, everything else a blank, each word between two of them.
    std::string words = " ";
    for (const char c : port_name) {
        const auto byte = static_cast<unsigned char>(c);
        words += std::isalpha(byte) ? static_cast<char>(std::tolower(byte)) : ' ';
    }
    words += ' ';
    for (const char* tell : {" sidechain", " side chain", " key "})
        if (words.find(tell) != std::string::npos)
            return true;
    return false;
}

} // namespace hr::processors
