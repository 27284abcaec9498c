// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/note_value.h"

#include <array>
#include <bit>
#include <cctype>
#include <charconv>
#include <cmath>
#include <string_view>
#include <utility>

namespace hr::processors {

std::optional<std::string> noteValue(double time_ms, double tempo_bpm)
{
    constexpr double allowed = 0.01;
    constexpr std::array<std::pair<const char*, double>, 3> kinds{{{"", 1.0}, {".", 1.5}, {"t", 2.0 / 3}}};
    if (!(tempo_bpm > 0) || !(time_ms > 0))
        return std::nullopt;
    const double whole_ms = 4 * 60000 / tempo_bpm;
    for (int part = 1; part <= 64; part *= 2)
        for (const auto& [sign, length] : kinds)
            if (std::abs(time_ms * part / (whole_ms * length) - 1) < allowed)
                return "1/" + std::to_string(part) + sign;
    return std::nullopt;
}

namespace {

/// In whole notes; empty where it is none.
std::optional<double> wholeNotes(const std::string& typed)
{
    std::string text;
    for (const char c : typed)
        if (c != ' ')
            text += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    const char* end = text.data() + text.size();
    unsigned first = 0;
    const auto [after, wrong] = std::from_chars(text.data(), end, first);
    if (wrong != std::errc() || first == 0)
        return std::nullopt;
    const std::string_view rest(after, end);
    if (rest == "bar" || rest == "bars")
        return first;
    if (!rest.starts_with('/'))
        return std::nullopt;
    unsigned second = 0;
    const auto [sign, failed] = std::from_chars(after + 1, end, second);
    if (failed != std::errc() || second == 0)
        return std::nullopt;
    const std::string_view kind(sign, end);
    const double length = static_cast<double>(first) / second;
    if (kind.empty())
        return length;
    if (kind == ".")
        return length * 1.5;
    return kind == "t" ? std::optional(length * 2 / 3) : std::nullopt;
}

} // namespace

bool isNoteValue(const std::string& text)
{
    return wholeNotes(text).has_value();
}

std::optional<double> noteTimeMs(const std::string& text, double tempo_bpm)
{
    const auto notes = wholeNotes(text);
    return notes && tempo_bpm > 0 ? std::optional(*notes * 4 * 60000 / tempo_bpm) : std::nullopt;
}

std::optional<double> noteInUnit(const std::string& text, double tempo_bpm, const std::string& unit)
{
    const auto time_ms = noteTimeMs(text, tempo_bpm);
    if (!time_ms)
        return std::nullopt;
    if (unit == "ms")
        return *time_ms;
    if (unit == "s")
        return *time_ms / 1000;
    return unit == "Hz" ? std::optional(1000 / *time_ms) : std::nullopt;
}

std::optional<Meter> meterIn(const std::string& text)
{
    constexpr unsigned most = 64;
    Meter meter;
    const char* end = text.data() + text.size();
    const auto [stroke, no_beats] = std::from_chars(text.data(), end, meter.beats);
    if (no_beats != std::errc() || stroke == end || *stroke != '/')
        return std::nullopt;
    const auto [after, no_note] = std::from_chars(stroke + 1, end, meter.note);
    const bool known = no_note == std::errc() && after == end && meter.beats >= 1 && meter.beats <= most &&
                       meter.note <= most && std::has_single_bit(meter.note);
    return known ? std::optional(meter) : std::nullopt;
}

std::vector<NoteTime> noteTimes(double tempo_bpm, const Meter& meter)
{
    std::vector<NoteTime> times;
    for (int part = 64; part >= 1; part /= 2)
        for (const char* sign : {"t", "", "."}) {
            const std::string note = "1/" + std::to_string(part) + sign;
            times.push_back({note, *noteTimeMs(note, tempo_bpm)});
        }
    const double bar_ms = 4 * 60000 / tempo_bpm * meter.beats / meter.note;
    for (const int bars : {1, 2, 4})
        times.push_back({std::to_string(bars) + (bars == 1 ? " bar" : " bars"), bars * bar_ms});
    return times;
}

} // namespace hr::processors
