// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever text is read as presets, or as a rule: a sentence, or something that is written and read back the
// same.
#include "exchange/preset_file.h"
#include "fuzz.h"
#include "library/find/rule.h"
#include "processors/json_text.h"
#include "processors/reference/registry.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const processors::ProcessorInfo info = processors::makeReference("reference:compressor")->info();
    const auto document = processors::orderedJsonFrom({reinterpret_cast<const char*>(data), size});
    const auto presets = exchange::presetsFromJson(document, info, "file");
    fuzz::must(presets || !presets.error().text.empty());
    const QString rule = QString::fromUtf8(reinterpret_cast<const char*>(data), static_cast<qsizetype>(size));
    if (const auto asked = library::queryFromRule(rule))
        fuzz::must(library::queryFromRule(library::ruleText(*asked)) == asked);
    return 0;
}
