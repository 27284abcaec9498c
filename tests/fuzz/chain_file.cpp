// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever text is read as a chain: a sentence, or a chain that is written and read back the same.
#include "chain/chain_json.h"
#include "fuzz.h"
#include "processors/json_text.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto document = processors::orderedJsonFrom({reinterpret_cast<const char*>(data), size});
    const auto chain = chain::fromJson(document);
    if (!chain) {
        fuzz::must(!chain.error().text.empty());
        return 0;
    }
    const auto written = chain::toJson(*chain);
    const auto again = chain::fromJson(written);
    fuzz::must(again.has_value());
    fuzz::must(chain::toJson(*again) == written);
    const auto placed = chain::place(*chain, [](const std::string& id) -> Result<hosting::Location> {
        return hosting::Location{id, {}};
    });
    fuzz::must(placed.location.graph.nodes.size() == chain->nodes.size());
    return 0;
}
