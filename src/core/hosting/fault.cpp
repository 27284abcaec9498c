// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/fault.h"

#include <array>

namespace hr::hosting {

namespace {

template<class T>
struct Words {
    T value;
    const char* word;
    const char* phrase;
};

constexpr std::array<Words<Phase>, 5> phases{{{Phase::Read, "read", "while its description was read"},
                                              {Phase::Load, "load", "while it was loaded"},
                                              {Phase::Start, "start", "while it was started"},
                                              {Phase::Run, "run", "while it processed sound"},
                                              {Phase::Stop, "stop", "while it was stopped"}}};

constexpr std::array<Words<Cause>, 12> causes{
    {{Cause::Crash, "crash", "crashed"},
     {Cause::Hang, "hang", "was stopped because it did not respond"},
     {Cause::Exit, "exit", "ended its process"},
     {Cause::MissingFile, "missing-file", "lacks a file"},
     {Cause::MissingSymbol, "missing-symbol", "lacks a symbol"},
     {Cause::UnsupportedFeature, "unsupported-feature", "needs what this host does not offer"},
     {Cause::InvalidDescription, "invalid-description", "describes itself wrongly"},
     {Cause::NonFiniteOutput, "non-finite-output", "put out samples that are not numbers"},
     {Cause::AbsurdOutput, "absurd-output", "put out what no sound is"},
     {Cause::OutOfMemory, "out-of-memory", "took more memory than a worker may have"},
     {Cause::Unprotected, "unprotected", "was not run"},
     {Cause::Cancelled, "cancelled", "was cancelled"}}};

template<class Table, class T>
bool find(const Table& table, const std::string& text, T& value)
{
    for (const auto& entry : table)
        if (entry.word == text) {
            value = entry.value;
            return true;
        }
    return false;
}

} // namespace

std::string word(Phase phase)
{
    return phases[static_cast<std::size_t>(phase)].word;
}

std::string word(Cause cause)
{
    return causes[static_cast<std::size_t>(cause)].word;
}

bool parseWord(const std::string& text, Phase& phase)
{
    return find(phases, text, phase);
}

bool parseWord(const std::string& text, Cause& cause)
{
    return find(causes, text, cause);
}

std::string sentence(const Fault& fault)
{
    const std::string what = causes[static_cast<std::size_t>(fault.cause)].phrase;
    return what +
           (fault.cause == Cause::Unprotected
                ? ""
                : std::string(" ") + phases[static_cast<std::size_t>(fault.phase)].phrase) +
           (fault.detail.empty() ? "" : ": " + fault.detail);
}

Error toError(const Fault& fault, const std::string& id)
{
    return {fault.cause == Cause::Unprotected ? Blame::Machine : Blame::Processor, id + " " + sentence(fault)};
}

} // namespace hr::hosting
