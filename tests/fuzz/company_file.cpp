// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever text is read as parts in step: a sentence, or parts that are written and read back the same.
#include "chain/company.h"
#include "fuzz.h"
#include "processors/json_text.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto document = processors::orderedJsonFrom({reinterpret_cast<const char*>(data), size});
    const auto company = chain::companyFromJson(document);
    if (!company) {
        fuzz::must(!company.error().text.empty());
        return 0;
    }
    const auto written = chain::toJson(*company);
    const auto again = chain::companyFromJson(written);
    fuzz::must(again.has_value());
    fuzz::must(chain::toJson(*again) == written);
    return 0;
}
