// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/inside/format.h"

namespace hr::hosting::inside {

HostedFormats hostedFormats()
{
    HostedFormats formats;
    formats.push_back(hostedLv2());
    formats.push_back(hostedLadspa());
    return formats;
}

} // namespace hr::hosting::inside
