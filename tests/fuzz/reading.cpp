// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever the catalogue holds as a reading: nothing, or a reading that is written and read back the same.
#include "bench/reading.h"
#include "fuzz.h"
#include "processors/json_text.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const auto document = processors::orderedJsonFrom({reinterpret_cast<const char*>(data), size});
    const auto reading = bench::readingFromJson(document);
    if (!reading)
        return 0;
    const auto written = bench::toJson(*reading);
    const auto again = bench::readingFromJson(written);
    fuzz::must(again.has_value());
    fuzz::must(bench::toJson(*again) == written);
    return 0;
}
