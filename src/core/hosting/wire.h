// SPDX-License-Identifier: GPL-3.0-or-later
//
// How this program and a worker talk: framed messages over two socket pairs, sound in a shared block. On one
// the worker's main thread is asked for everything but sound, and says what nobody asked for (Told); on the
// other its sound thread is asked to run. Each answers in the order it was asked.
//
// A socket rather than a futex wakes the other side, because it also says at once when that side has
// died; with stretches of many blocks the difference is not measurable.
//
// The worker is not believed: lengths are bounded, an unknown kind or a short frame is an error, and what it
// claims about its sound is looked at again.
#pragma once

#include "processors/processor.h"

#include <array>
#include <atomic>
#include <chrono>
#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>

namespace hr::hosting {

/// File descriptors in the worker: the control socket, the shared block, and the socket over which sound is
/// asked for. It has no other of ours but what it prints into.
inline constexpr int worker_control_fd = 3;
inline constexpr int worker_block_fd = 4;
inline constexpr int worker_sound_fd = 5;
/// Where the worker's own folder lies, which it alone may write to.
inline constexpr const char* worker_folder_variable = "HONEST_RACK_WORKER_FOLDER";
/// Exit code by which a worker says that memory ran out.
inline constexpr int worker_out_of_memory_code = 86;

using processors::most_channels;
inline constexpr std::size_t stretch_frames = 16384; ///< frames the shared block holds a channel
inline constexpr std::size_t refused_path_bytes = 1024;
inline constexpr std::size_t most_told_stages = 128; ///< of whose gain something is told

/// What a worker asked for and was refused by its cage (inside/cage.h), as bits.
enum Refused : std::uint32_t {
    refused_network = 1,   ///< a socket of the internet's families
    refused_programs = 2,  ///< to start or to reach other programs
    refused_files = 4,     ///< to write outside its own folder
    refused_processes = 8, ///< to trace, signal or limit other processes
    refused_reading = 16,  ///< to read what is neither the system's nor its own
};

/// The shared block, mapped by both sides; sealed, so that neither can shrink it under the other. Written by
/// whoever is on turn: the request hands the turn over, the answer hands it back.
struct SharedBlock {
    std::atomic<std::uint32_t> blocks_done; ///< written by the worker, read by the watcher: signs of life
    std::atomic<std::uint32_t> running;     ///< the node of a chain that is at work, from 1; 0: none
    std::atomic<std::uint32_t> refused;     ///< bits of Refused, set by the worker
    std::array<std::atomic<float>, most_told_stages> stage_gains_db; ///< as of processors::NetworkWatch
    std::array<char, refused_path_bytes> refused_path;  ///< the first that was refused with refused_files
    std::array<char, refused_path_bytes> unread_path;   ///< the first that was refused with refused_reading
    std::array<std::uint32_t, stretch_frames> block_ns; ///< wall time of each block of the last Run
    std::array<std::array<float, stretch_frames>, most_channels> in;
    std::array<std::array<float, stretch_frames>, most_channels> out;
};
static_assert(std::atomic<std::uint32_t>::is_always_lock_free && std::atomic<float>::is_always_lock_free);

enum class Kind : std::uint32_t {
    Describe = 1, ///< {"bundle", "format"} -> {"processors", "faults", "presets", "left_out"}
    Load,         ///< a location (location_json.h), {"stereo", "processor_time_s"} -> description
    Start,        ///< {"rate", "block", "tempo", "values", "may_keep"}, a zero byte, the state -> Ran
    Run,          ///< RunRequest and its changes -> Ran; over the sound socket
    Stop,         ///< -> empty
    State,        ///< -> the state, bytes as of Processor::state()
    Done = 100,   ///< answer: JSON, a Ran, or bytes
    Failed,       ///< answer: {"stage", "cause", "detail"}
    Told,         ///< unasked: an Event
};

/// At most 4 s.
inline std::uint32_t nanosecondsSince(std::chrono::steady_clock::time_point begun)
{
    const auto took = std::chrono::steady_clock::now() - begun;
    return static_cast<std::uint32_t>(
        std::min<std::int64_t>(std::chrono::nanoseconds(took).count(), 4'000'000'000));
}

struct Message {
    Kind kind = Kind::Done;
    std::string body;
};

/// In place of a parameter's: the tempo, in BPM.
inline constexpr std::uint32_t tempo_index = 0xFFFFFFFF;

struct ParameterChange {
    std::uint32_t index = 0;
    float value = 0;
};

/// Body of Run: this, then `changes` times a ParameterChange.
struct RunRequest {
    std::uint32_t frames = 0;
    std::uint32_t changes = 0;
};

/// Body of the answer to Start and Run.
struct Ran {
    std::uint32_t latency_samples = 0;
};

/// Body of Told: what a processor does by itself. What it is about is a parameter's index, where it is one.
struct Event {
    enum class What : std::uint32_t {
        ParameterMoved = 1, ///< to `value`
        GestureBegan,       ///< from here until its end, moves of a parameter are one
        GestureEnded,
        StateChanged,   ///< ask for it (Kind::State)
        LatencyChanged, ///< to `value` samples
        WantsRestart,   ///< it can only go on as it is to be after being started again
    };
    What what = What::StateChanged;
    std::uint32_t parameter = 0;
    double value = 0;
};
/// How many are kept for whoever asks for them; of more, the oldest are lost.
inline constexpr std::size_t most_events = 256;

inline constexpr std::size_t longest_message = std::size_t{64} << 20;

/// Writes one frame; false when the other side is gone.
bool send(int fd, Kind kind, const void* body, std::size_t size);
bool send(int fd, const Message& message);

enum class Reception { Message, Timeout, Closed, Rubbish };

/// Waits until a whole frame is there, at most `limit`; without one for ever.
Reception receive(int fd, Message& message, std::optional<std::chrono::milliseconds> limit);

/// The frame in `size` bytes at `data`, as receive() would read it: for tests and fuzzing.
std::optional<std::size_t> frameLength(const std::uint8_t* data, std::size_t size);

} // namespace hr::hosting
