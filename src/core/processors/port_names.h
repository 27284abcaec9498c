// SPDX-License-Identifier: GPL-3.0-or-later
//
// What the names of ports give away.
#pragma once

#include <string_view>

namespace hr::processors {

/// Whether an audio input is called a side-chain or key input: "Side-chain In L", "sidechain_in", "Key".
bool namesKeyInput(std::string_view port_name);

} // namespace hr::processors
