// SPDX-License-Identifier: GPL-3.0-or-later
//
// How a third-party processor failed: a value, never an exception, never our own end.
#pragma once

#include "signal/result.h"

#include <string>

namespace hr::hosting {

/// What was being done with it.
enum class Phase { Read, Load, Start, Run, Stop };

enum class Cause {
    Crash,              ///< a signal, an abort, an uncaught exception
    Hang,               ///< longer than the limit for one step
    Exit,               ///< it ended the process by itself
    MissingFile,        ///< the library its description names is not there
    MissingSymbol,      ///< its library has no entry point, or needs a symbol that nothing offers
    UnsupportedFeature, ///< it requires what this host does not offer
    InvalidDescription, ///< what it says of itself makes no sense
    NonFiniteOutput,    ///< samples that are NaN or infinite
    AbsurdOutput,       ///< harmful to whoever hears it: it stands at DC, or screams
    OutOfMemory,        ///< beyond the limit of a worker
    Unprotected,        ///< this machine cannot keep it from doing harm (protection.h): no fault of its own
    Cancelled,          ///< it was stopped because nobody wanted the answer any more: no fault of its own
};

struct Fault {
    Phase phase = Phase::Load;
    Cause cause = Cause::Crash;
    std::string detail; ///< for a person: signal, file, symbol, and the end of what it printed
};

template<class T>
using FaultOr = tl::expected<T, Fault>;

[[nodiscard]] inline tl::unexpected<Fault> fault(Phase phase, Cause cause, std::string detail)
{
    return tl::make_unexpected(Fault{phase, cause, std::move(detail)});
}

/// The words of the command line, where a phase is a "stage": "start", "missing-file".
std::string word(Phase phase);
std::string word(Cause cause);
/// The inverse; false for an unknown word.
bool parseWord(const std::string& text, Phase& phase);
bool parseWord(const std::string& text, Cause& cause);

/// One sentence for a person: "crashed while being started: …".
std::string sentence(const Fault& fault);

/// Whether it only says that the work was cancelled.
inline bool isCancelled(const Fault& fault)
{
    return fault.cause == Cause::Cancelled;
}

/// As an Error that blames the processor `id`, or the machine where that is why.
Error toError(const Fault& fault, const std::string& id);

} // namespace hr::hosting
