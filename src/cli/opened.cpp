// SPDX-License-Identifier: GPL-3.0-or-later
#include "opened.h"

#include "exchange/chain_file.h"

#include <iostream>

namespace hr::cli {

namespace {

OpenedOr<Opened> openProcessor(const Context& context, const Request& request)
{
    auto described = describe(context, request);
    if (!described)
        return tl::make_unexpected(described.error());
    if (!*described)
        return OpenedOr<Opened>(tl::make_unexpected((*described).error()));
    auto& [location, info] = **described;
    auto values = settingsOf(context, info, request.preset, request.settings);
    if (!values)
        return tl::make_unexpected(values.error());
    location.preset = request.preset;
    const bool mono = info.audio_in == 1 && info.audio_out == 1;
    const auto channels = mono && request.may_be_mono ? hosting::Channels::Own : hosting::Channels::Stereo;
    auto instance = hosting::openInstance(location, {.channels = channels});
    if (!instance)
        return OpenedOr<Opened>(tl::make_unexpected(notOpened(instance.error(), request.id)));
    return OpenedOr<Opened>(Opened{location, std::move(*instance), info, *values, mono});
}

OpenedOr<Opened> openChain(const Context& context, const Request& request)
{
    if (!request.settings.empty() || !request.preset.empty())
        return wrongRequest("--set and --preset go with a processor: a chain's settings are in its file.");
    auto chain = exchange::readChain(request.id);
    if (!chain)
        return tl::make_unexpected(chain.error());
    const chain::Placed placed = chain::place(*chain, [&](const std::string& id) { return find(context, id); });
    for (const std::string& id : placed.missing)
        std::cerr << "hrack: " << id << " is not installed: it is bypassed.\n";
    for (const hosting::StagePlace& stage : placed.location.stages)
        if (auto recorded = quarantined(context, stage.id, request.again))
            return OpenedOr<Opened>(tl::make_unexpected(NotOpened{recorded->fault, inQuarantine(*recorded)}));
    auto instance = hosting::openInstance(placed.location);
    if (!instance)
        return OpenedOr<Opened>(tl::make_unexpected(notOpened(instance.error(), request.id)));
    const processors::ProcessorInfo info = processors::atRate((*instance)->info(), request.rate_hz);
    auto values = chain::values(*chain, info);
    if (!values)
        return wrongRequest(request.id + " cannot be used. " + values.error().text);
    return OpenedOr<Opened>(Opened{placed.location, std::move(*instance), info, *values, false});
}

} // namespace

NotOpened notOpened(const hosting::Fault& fault, const std::string& id)
{
    return {fault, hosting::toError(fault, id).text};
}

bool isChainFile(const std::string& name)
{
    return name.ends_with(".json");
}

OpenedOr<Described> describe(const Context& context, const Request& request)
{
    auto location = find(context, request.id);
    if (!location)
        return tl::make_unexpected(location.error());
    if (auto recorded = quarantined(context, request.id, request.again))
        return OpenedOr<Described>(tl::make_unexpected(NotOpened{recorded->fault, inQuarantine(*recorded)}));
    auto instance = hosting::openInstance(*location);
    if (!instance)
        return OpenedOr<Described>(tl::make_unexpected(notOpened(instance.error(), request.id)));
    return OpenedOr<Described>(Described{*location, processors::atRate((*instance)->info(), request.rate_hz)});
}

OpenedOr<Opened> open(const Context& context, const Request& request)
{
    return isChainFile(request.id) ? openChain(context, request) : openProcessor(context, request);
}

nlohmann::ordered_json faultJson(const hosting::Fault& fault)
{
    return {
        {"stage", hosting::word(fault.phase)}, {"cause", hosting::word(fault.cause)}, {"detail", fault.detail}};
}

} // namespace hr::cli
