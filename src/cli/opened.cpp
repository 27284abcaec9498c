// SPDX-License-Identifier: GPL-3.0-or-later
#include "opened.h"

#include "exchange/chain_file.h"

#include <iostream>

namespace hr::cli {

bool isChainFile(const std::string& name)
{
    return name.ends_with(".json");
}

OpenedOrFault openProcessor(const Context& context, const std::string& id, const std::string& preset,
                            const std::vector<std::string>& settings, bool again)
{
    auto location = find(context, id);
    if (!location)
        return tl::make_unexpected(location.error());
    if (auto may = mayTry(context, id, again); !may)
        return tl::make_unexpected(may.error());
    auto native = hosting::openInstance(*location);
    if (!native)
        return hosting::FaultOr<Opened>(tl::make_unexpected(native.error()));
    const processors::ProcessorInfo info = (*native)->info();
    native->reset();
    auto values = settingsOf(context, info, preset, settings);
    if (!values)
        return tl::make_unexpected(values.error());
    location->preset = preset;
    auto stereo = hosting::openInstance(*location, hosting::Channels::Stereo);
    if (!stereo)
        return hosting::FaultOr<Opened>(tl::make_unexpected(stereo.error()));
    return hosting::FaultOr<Opened>(
        Opened{*location, std::move(*stereo), *values, info.audio_in == 1 && info.audio_out == 1});
}

OpenedOrFault openChain(const Context& context, const std::string& file, bool again)
{
    auto chain = exchange::readChain(file);
    if (!chain)
        return tl::make_unexpected(chain.error());
    const chain::Placed placed = chain::place(*chain, [&](const std::string& id) { return find(context, id); });
    for (const std::string& id : placed.missing)
        std::cerr << "hrack: " << id << " is not installed: the sound goes round it.\n";
    for (const chain::Stage& stage : chain->stages)
        if (auto may = mayTry(context, stage.id, again); !may)
            return tl::make_unexpected(may.error());
    auto instance = hosting::openInstance(placed.location);
    if (!instance)
        return hosting::FaultOr<Opened>(tl::make_unexpected(instance.error()));
    auto values = chain::values(*chain, (*instance)->info());
    if (!values)
        return wrongRequest(file + " cannot be used. " + values.error().text);
    return hosting::FaultOr<Opened>(Opened{placed.location, std::move(*instance), *values, false});
}

} // namespace hr::cli
