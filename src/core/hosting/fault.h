// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a stranger's processor failed: a value, never an exception, never our own end.
#pragma once

#include "signal/result.h"

#include <string>

namespace hr::hosting {

enum class Stage { Read, Load, Start, Run, Stop };

enum class Cause {
    Crash,              ///< a signal, an abort, an uncaught exception
    Hang,               ///< longer than the limit for one step
    Exit,               ///< it ended the process by itself
    MissingFile,        ///< the library its description names is not there
    MissingSymbol,      ///< the library has no such entry point
    UnsupportedFeature, ///< it requires what this host does not offer
    InvalidDescription, ///< what it says of itself makes no sense
    NonFiniteOutput,    ///< NaN or infinity among the samples
    OutOfMemory,        ///< beyond the limit of a worker
};

struct Fault {
    Stage stage = Stage::Load;
    Cause cause = Cause::Crash;
    std::string detail; ///< for a person: signal, file, symbol, and the end of what it printed
};

template<class T>
using FaultOr = tl::expected<T, Fault>;

[[nodiscard]] inline tl::unexpected<Fault> fault(Stage stage, Cause cause, std::string detail)
{
    return tl::make_unexpected(Fault{stage, cause, std::move(detail)});
}

/// The words of the command line: "start", "missing-file".
std::string word(Stage stage);
std::string word(Cause cause);
/// The inverse; false for an unknown word.
bool parseWord(const std::string& text, Stage& stage);
bool parseWord(const std::string& text, Cause& cause);

/// One sentence for a person: "crashed while being started: …".
std::string sentence(const Fault& fault);

/// As an Error that blames the processor `id`.
Error toError(const Fault& fault, const std::string& id);

} // namespace hr::hosting
