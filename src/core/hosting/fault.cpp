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

constexpr std::array<Words<Stage>, 5> stages{{{Stage::Read, "read", "while its description was read"},
                                              {Stage::Load, "load", "while it was loaded"},
                                              {Stage::Start, "start", "while it was started"},
                                              {Stage::Run, "run", "while it processed sound"},
                                              {Stage::Stop, "stop", "while it was stopped"}}};

constexpr std::array<Words<Cause>, 9> causes{
    {{Cause::Crash, "crash", "crashed"},
     {Cause::Hang, "hang", "did not answer in time"},
     {Cause::Exit, "exit", "ended its process"},
     {Cause::MissingFile, "missing-file", "lacks a file"},
     {Cause::MissingSymbol, "missing-symbol", "lacks its entry point"},
     {Cause::UnsupportedFeature, "unsupported-feature", "needs what this host does not offer"},
     {Cause::InvalidDescription, "invalid-description", "describes itself wrongly"},
     {Cause::NonFiniteOutput, "non-finite-output", "put out samples that are no finite numbers"},
     {Cause::OutOfMemory, "out-of-memory", "took more memory than a worker may have"}}};

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

std::string word(Stage stage)
{
    return stages[static_cast<std::size_t>(stage)].word;
}

std::string word(Cause cause)
{
    return causes[static_cast<std::size_t>(cause)].word;
}

bool parseWord(const std::string& text, Stage& stage)
{
    return find(stages, text, stage);
}

bool parseWord(const std::string& text, Cause& cause)
{
    return find(causes, text, cause);
}

std::string sentence(const Fault& fault)
{
    return std::string(causes[static_cast<std::size_t>(fault.cause)].phrase) + " " +
           stages[static_cast<std::size_t>(fault.stage)].phrase +
           (fault.detail.empty() ? "" : ": " + fault.detail);
}

Error toError(const Fault& fault, const std::string& id)
{
    return {Blame::Processor, id + " " + sentence(fault)};
}

} // namespace hr::hosting
