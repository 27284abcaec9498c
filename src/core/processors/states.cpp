// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/states.h"

#include <algorithm>
#include <cstdint>

namespace hr::processors {

namespace {

constexpr std::string_view base64_digits = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

void putLength(std::string& bytes, std::size_t length)
{
    for (unsigned shift = 0; shift < 32; shift += 8)
        bytes += static_cast<char>((length >> shift) & 0xffU);
}

std::optional<std::size_t> takeLength(std::string_view& bytes)
{
    if (bytes.size() < 4)
        return std::nullopt;
    std::size_t length = 0;
    for (unsigned i = 0; i < 4; ++i)
        length |= std::size_t{static_cast<std::uint8_t>(bytes[i])} << (8 * i);
    bytes.remove_prefix(4);
    return length;
}

std::optional<std::string> take(std::string_view& bytes, std::size_t length)
{
    if (bytes.size() < length)
        return std::nullopt;
    std::string taken(bytes.substr(0, length));
    bytes.remove_prefix(length);
    return taken;
}

} // namespace

std::string packed(const States& states)
{
    std::string bytes;
    for (const auto& [node, state] : states) {
        if (state.empty())
            continue;
        putLength(bytes, node.size());
        putLength(bytes, state.size());
        bytes += node + state;
    }
    return bytes;
}

std::optional<States> unpacked(std::string_view bytes)
{
    States states;
    while (!bytes.empty()) {
        const auto node_length = takeLength(bytes);
        const auto state_length = node_length ? takeLength(bytes) : std::nullopt;
        auto node = state_length ? take(bytes, *node_length) : std::nullopt;
        auto state = node ? take(bytes, *state_length) : std::nullopt;
        if (!state)
            return std::nullopt;
        states[*node] = std::move(*state);
    }
    return states;
}

std::string base64(std::string_view bytes)
{
    std::string text;
    text.reserve((bytes.size() + 2) / 3 * 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 3; ++k)
            three = three << 8U | (i + k < bytes.size() ? static_cast<std::uint8_t>(bytes[i + k]) : 0U);
        for (std::size_t k = 0; k < 4; ++k)
            text += i + k > bytes.size() ? '=' : base64_digits[(three >> (18 - 6 * k)) & 63U];
    }
    return text;
}

std::optional<std::string> fromBase64(std::string_view text)
{
    if (text.size() % 4 != 0)
        return std::nullopt;
    const std::size_t padding = text.ends_with("==") ? 2 : text.ends_with("=") ? 1 : 0;
    std::string bytes;
    bytes.reserve(text.size() / 4 * 3);
    std::uint32_t bits = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool pads = i + padding >= text.size();
        const auto digit = pads ? 0 : base64_digits.find(text[i]);
        if (digit == std::string_view::npos)
            return std::nullopt;
        bits = bits << 6U | static_cast<std::uint32_t>(digit);
        if (i % 4 == 3)
            for (const unsigned shift : {16U, 8U, 0U})
                bytes += static_cast<char>((bits >> shift) & 0xffU);
    }
    bytes.erase(bytes.size() - std::min(padding, bytes.size()));
    return bytes;
}

} // namespace hr::processors
