// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/answers.h"

#include "hosting/formats/format.h"
#include "processors/description_json.h"
#include "processors/json_text.h"
#include "processors/kinds.h"
#include "processors/plain_text.h"

#include <cstring>
#include <nlohmann/json.hpp>

namespace hr::hosting {

using nlohmann::json;

namespace {

std::string textOf(const json& from, const char* key, const std::string& fallback = {})
{
    if (!from.is_object())
        return fallback;
    const auto found = from.find(key);
    return found != from.end() && found->is_string()
               ? processors::plainText(found->get<std::string>(), processors::longest_id)
               : fallback;
}

Fault faultFrom(Phase phase, const json& answer)
{
    Fault fault{phase, Cause::InvalidDescription, "the worker's answer made no sense"};
    parseWord(textOf(answer, "stage"), fault.phase);
    parseWord(textOf(answer, "cause"), fault.cause);
    if (fault.cause == Cause::Cancelled)
        fault.cause = Cause::Crash; // only this side cancels
    fault.detail = textOf(answer, "detail", fault.detail);
    return fault;
}

/// The description, with its kind.
Result<processors::ProcessorInfo> placedInfo(const json& from)
{
    auto info = processors::processorInfoFromJson(from);
    if (!info)
        return info;
    if (const Format* format = formatOfId(info->id))
        format->complete(*info);
    const processors::PlacedKind placed = processors::placedKind(*info);
    info->kind = placed.kind;
    info->kind_proposed = placed.proposed;
    return info;
}

} // namespace

std::string whyNotHosted(const processors::ProcessorInfo& info)
{
    if (info.audio_in == 0)
        return info.audio_out == 0 ? "it has no audio at all" : "it has no audio input";
    if (info.audio_out == 0)
        return "it has no audio output";
    if (info.audio_in + info.key_in > most_channels || info.audio_out > most_channels)
        return "it has more than " + std::to_string(most_channels) + " channels";
    return {};
}

Fault faultFromAnswer(Phase phase, const std::string& body)
{
    return faultFrom(phase, processors::jsonFrom(body));
}

FaultOr<BundleContents> contentsFromAnswer(const std::string& body, const std::string& bundle)
{
    const json answer = processors::jsonFrom(body);
    if (!answer.is_object() || !answer.contains("processors") || !answer.contains("faults"))
        return fault(Phase::Read, Cause::InvalidDescription, "the worker's answer made no sense");
    BundleContents contents;
    for (const json& one : answer["processors"]) {
        auto info = placedInfo(one);
        if (info)
            contents.processors.push_back(std::move(*info));
        else
            contents.broken.push_back(
                {textOf(one, "id", bundle), {Phase::Read, Cause::InvalidDescription, info.error().text}});
    }
    for (const json& one : answer["faults"])
        contents.broken.push_back({textOf(one, "id"), faultFrom(Phase::Read, one)});
    if (const auto presets = answer.find("presets"); presets != answer.end())
        for (const json& one : *presets)
            if (auto preset = processors::presetFromJson(one))
                contents.presets.push_back({textOf(one, "processor"), std::move(*preset)});
    if (const auto left_out = answer.find("left_out"); left_out != answer.end())
        for (const json& one : *left_out)
            contents.left_out.push_back({textOf(one, "id"), textOf(one, "name"), textOf(one, "reason")});
    return contents;
}

FaultOr<processors::ProcessorInfo> infoFromAnswer(const std::string& body)
{
    auto info = placedInfo(processors::jsonFrom(body));
    if (!info)
        return fault(Phase::Read, Cause::InvalidDescription, info.error().text);
    return *info;
}

FaultOr<Ran> ranFromAnswer(Phase phase, const std::string& body)
{
    Ran ran;
    if (body.size() != sizeof ran)
        return fault(phase, Cause::Crash, "it wrote rubbish over the worker's answers");
    std::memcpy(&ran, body.data(), sizeof ran);
    if (ran.latency_samples > processors::most_latency_samples)
        ran.latency_samples = 0;
    return ran;
}

} // namespace hr::hosting
