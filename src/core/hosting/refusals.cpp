// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/refusals.h"

#include <algorithm>
#include <array>

namespace hr::hosting {

namespace {

struct Word {
    bool Refusals::*refused;
    const char* word;
    const char* phrase;
};
constexpr std::array<Word, 5> all_words{{{&Refusals::network, "network", "the network"},
                                         {&Refusals::programs, "programs", "other programs"},
                                         {&Refusals::files, "files", "to write files"},
                                         {&Refusals::processes, "processes", "to reach into other processes"},
                                         {&Refusals::reading, "reading", "to read files"}}};

} // namespace

Refusals merged(const Refusals& a, const Refusals& b)
{
    Refusals both = a;
    for (const Word& word : all_words)
        both.*word.refused = a.*word.refused || b.*word.refused;
    if (both.path.empty())
        both.path = b.path;
    if (both.read_path.empty())
        both.read_path = b.read_path;
    return both;
}

std::string inWords(const Refusals& refusals)
{
    const auto phrase = [&](const Word& word) -> std::string {
        if (word.refused == &Refusals::files && !refusals.path.empty())
            return "to write to " + refusals.path;
        if (word.refused == &Refusals::reading && !refusals.read_path.empty())
            return "to read " + refusals.read_path;
        return word.phrase;
    };
    std::vector<std::string> wanted;
    for (const Word& word : all_words)
        if (refusals.*word.refused)
            wanted.push_back(phrase(word));
    std::string text;
    for (std::size_t i = 0; i < wanted.size(); ++i)
        text += (i == 0 ? "wanted " : i + 1 == wanted.size() ? " and " : ", ") + wanted[i];
    return text;
}

std::vector<std::string> words(const Refusals& refusals)
{
    std::vector<std::string> found;
    for (const Word& word : all_words)
        if (refusals.*word.refused)
            found.emplace_back(word.word);
    return found;
}

Refusals refusalsFrom(const std::vector<std::string>& words, const std::string& path,
                      const std::string& read_path)
{
    Refusals refusals;
    for (const Word& word : all_words)
        refusals.*word.refused = std::ranges::find(words, word.word) != words.end();
    refusals.path = path;
    refusals.read_path = read_path;
    return refusals;
}

} // namespace hr::hosting
