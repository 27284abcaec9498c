// SPDX-License-Identifier: GPL-3.0-or-later
//
// Errors as values. Everything that a user's input, a file, third-party code or the machine can
// make fail returns Result<T>; a broken precondition of our own is an assert, never a Result.
//
//     Result<AudioBuffer> audio = readAudioFile("band.wav");
//     if (!audio) { show(audio.error().text); return; }
#pragma once

#include <string>
#include <tl/expected.hpp>
#include <utility>

namespace hr {

/// Who has to act; also the exit status of `hrack`.
enum class Blame {
    Request = 1,   ///< the request or its input is wrong
    Processor = 2, ///< a processor failed
    Machine = 3,   ///< disk full, no audio device, no memory
};

/// `text` is one sentence for a person: what, where, and what to do.
struct Error {
    Blame blame = Blame::Request;
    std::string text;
};

template<class T>
using Result = tl::expected<T, Error>;

[[nodiscard]] inline tl::unexpected<Error> wrongRequest(std::string text)
{
    return tl::make_unexpected(Error{Blame::Request, std::move(text)});
}

[[nodiscard]] inline tl::unexpected<Error> machineFailed(std::string text)
{
    return tl::make_unexpected(Error{Blame::Machine, std::move(text)});
}

/// The error of the first of these that holds one, else null: for what is asked together and needed together.
template<class... Results>
[[nodiscard]] const Error* firstError(const Results&... results)
{
    const Error* first = nullptr;
    ((first = first || results ? first : &results.error()), ...);
    return first;
}

} // namespace hr
