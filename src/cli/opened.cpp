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
    auto opened = ChainOpener(context, request.id, request.again, request.rate_hz).open(*chain);
    if (!opened)
        return wrongRequest(request.id + " cannot be used. " + opened.error().text);
    return opened;
}

} // namespace

NotOpened notOpened(const hosting::Fault& fault, const std::string& id)
{
    return {fault, hosting::toError(fault, id).text};
}

OpenedOr<Opened> ChainOpener::open(const chain::Chain& chain)
{
    const chain::Placed placed = chain::place(chain, [&](const std::string& id) {
        const auto known = m_found.find(id);
        if (known != m_found.end())
            return known->second;
        auto found = find(m_context, id);
        if (!found)
            std::cerr << "hrack: " << id << " is not installed: it is bypassed.\n";
        return m_found.emplace(id, std::move(found)).first->second;
    });
    for (const hosting::StagePlace& stage : placed.location.stages)
        if (auto recorded = quarantined(m_context, stage.id, m_again))
            return OpenedOr<Opened>(tl::make_unexpected(NotOpened{recorded->fault, inQuarantine(*recorded)}));
    auto instance = hosting::openInstance(placed.location);
    if (!instance)
        return OpenedOr<Opened>(tl::make_unexpected(notOpened(instance.error(), m_name)));
    const processors::ProcessorInfo info = processors::atRate((*instance)->info(), m_rate_hz);
    auto values = chain::values(chain, info);
    if (!values)
        return tl::make_unexpected(values.error());
    return OpenedOr<Opened>(Opened{placed.location, std::move(*instance), info, *values, false});
}

Result<hosting::FaultOr<audition::OpenedChain>> ChainOpener::openToPlay(const chain::Chain& chain)
{
    auto opened = open(chain);
    if (!opened)
        return wrongRequest(m_name + " cannot be used. " + opened.error().text);
    if (!*opened)
        return hosting::FaultOr<audition::OpenedChain>(tl::make_unexpected((*opened).error().fault));
    return hosting::FaultOr<audition::OpenedChain>(audition::OpenedChain{
        std::move((*opened)->instance), std::move((*opened)->values), std::move((*opened)->location)});
}

int ChainOpener::reportFailure(const hosting::Fault& fault, bool json) const
{
    if (json)
        print({{"failure", faultJson(fault)}});
    std::cerr << "hrack: " << notOpened(fault, m_name).sentence << '\n';
    return static_cast<int>(Blame::Processor);
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
