// SPDX-License-Identifier: GPL-3.0-or-later
//
// A page of the notebook as a document (docs/file-formats.md, "Page"): whom it is about, and blocks of text
// (Markdown), tables and plots of figures, and blind trials. Tables and plots follow the readings until they
// are frozen; filled_page.h makes a report of it.
#pragma once

#include "library/store.h"

#include <string>
#include <vector>

namespace hr::exchange {

/// One that a page is about.
struct PageSubject {
    int mark = 1; ///< 1 to 8: A to H
    std::string title, maker;
    library::SetUp set_up;
    struct Shown {
        std::string name, text; ///< "Threshold", "−24.0 dB"
    };
    std::vector<Shown> shown = {}; ///< how it is set, as people read it
    std::string kind = {};         ///< (processors/kinds.h), for the plots that tell of its kind
};

/// Of a processor with few parameters all of them, else those that are not at their defaults.
std::vector<PageSubject::Shown> shownSettings(const processors::ProcessorInfo& info,
                                              std::span<const double> values);

/// "A".
std::string letterOf(int mark);

/// What belongs on a page about these: what they do and how they are set as tables, plots (and those that tell
/// of their kinds: the decay of a reverb, the movement of a chorus), `trials` (documents), and room for words.
nlohmann::ordered_json newPage(const std::string& title, const std::vector<PageSubject>& subjects,
                               const std::vector<nlohmann::ordered_json>& trials = {});

/// The tests whose plots tell of a kind, beyond those that every page has.
std::vector<std::string> testsTellingOf(const std::string& kind);

/// Plain text so that Markdown shows it as it is.
std::string asMarkdown(const std::string& text);

// Blocks to insert:
nlohmann::ordered_json textBlock(const std::string& markdown);
nlohmann::ordered_json overviewBlock();                       ///< the telling figures of several tests
nlohmann::ordered_json figuresBlock(const std::string& test); ///< all figures of one
nlohmann::ordered_json plotBlock(const std::string& test, const std::string& series);
nlohmann::ordered_json settingsBlock(); ///< how all of them are set
nlohmann::ordered_json trialBlock(const nlohmann::ordered_json& trial);

/// An Error where it is not a page.
Result<void> checkPage(const nlohmann::ordered_json& page);

} // namespace hr::exchange
