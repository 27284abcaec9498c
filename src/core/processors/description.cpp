// SPDX-License-Identifier: GPL-3.0-or-later
#include "processors/description.h"

#include <algorithm>

namespace hr::processors {

double insideAtRate(const ParameterInfo& p, double value, double sample_rate_hz)
{
    const double scale = p.scales_with_rate ? sample_rate_hz / described_rate_hz : 1;
    return p.allowed(value / scale) * scale;
}

ProcessorInfo atRate(ProcessorInfo info, double sample_rate_hz)
{
    for (ParameterInfo& p : info.parameters)
        if (p.scales_with_rate)
            for (double* bound : {&p.minimum, &p.maximum, &p.default_value})
                *bound *= sample_rate_hz / described_rate_hz;
    return info;
}

std::optional<std::size_t> ProcessorInfo::parameterIndex(const std::string& key) const
{
    const auto found = std::ranges::find(parameters, key, &ParameterInfo::key);
    if (found == parameters.end())
        return std::nullopt;
    return static_cast<std::size_t>(found - parameters.begin());
}

} // namespace hr::processors
