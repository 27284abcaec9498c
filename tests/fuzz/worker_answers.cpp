// SPDX-License-Identifier: GPL-3.0-or-later
//
// Whatever a worker answers, whose memory third-party code may have overwritten: a value or a Fault.
#include "fuzz.h"
#include "hosting/answers.h"
#include "processors/description_json.h"
#include "processors/settings.h"

using namespace hr;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    if (size == 0)
        return 0;
    const std::string body(reinterpret_cast<const char*>(data) + 1, size - 1);
    switch (*data % 4) {
    case 0:
        (void)hosting::sentence(hosting::faultFromAnswer(hosting::Phase::Run, body));
        break;
    case 1:
        (void)hosting::contentsFromAnswer(body, "/bundle.lv2");
        break;
    case 2:
        if (const auto info = hosting::infoFromAnswer(body)) {
            const auto values = processors::defaultValues(*info);
            for (std::size_t i = 0; i < values.size(); ++i)
                fuzz::must(info->parameters[i].minimum <= values[i] &&
                           values[i] <= info->parameters[i].maximum);
            const auto again = processors::processorInfoFromJson(processors::toJson(*info));
            fuzz::must(again.has_value());
        }
        break;
    default:
        (void)hosting::ranFromAnswer(hosting::Phase::Run, body);
    }
    return 0;
}
