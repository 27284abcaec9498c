// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/contender.h"

#include "chain/chain_json.h"

#include <cmath>

namespace hr::app {

std::vector<processors::Setting> Contender::settings() const
{
    if (!isOpen() && !chain)
        return kept_settings;
    return settings(values);
}

std::vector<processors::Setting> Contender::settings(const std::vector<double>& of_values) const
{
    std::vector<processors::Setting> changed;
    for (std::size_t i = 0; i < of_values.size(); ++i)
        if (of_values[i] != info.parameters[i].default_value)
            changed.push_back({info.parameters[i].key, of_values[i]});
    return changed;
}

std::vector<processors::Setting> Contender::allSettings(const std::vector<double>& of_values) const
{
    return processors::settingsOf(info, of_values);
}

double Contender::unfairLu() const
{
    return std::abs(apart_lu.value_or(0)) + loop.spread_lu;
}

chain::Chain Contender::chainNow() const
{
    return isOpen() ? chain::with(*chain, info, values) : *chain;
}

library::CollectionItem Contender::item() const
{
    return chain ? itemOf(chainNow())
                 : library::CollectionItem{0, QStringLiteral("processor"), processor, settings()};
}

library::CollectionItem itemOf(const chain::Chain& chain)
{
    return {0,
            QStringLiteral("chain"),
            QString::fromStdString(chain.name),
            {},
            QString::fromStdString(chain::toText(chain))};
}

} // namespace hr::app
