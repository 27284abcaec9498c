// SPDX-License-Identifier: GPL-3.0-or-later
#include "hosting/answers.h"

#include "processors/description_json.h"

#include <cstring>
#include <nlohmann/json.hpp>

namespace hr::hosting {

using nlohmann::json;

namespace {

std::string textOf(const json& from, const char* key, const std::string& fallback = {})
{
    const auto found = from.is_object() ? from.find(key) : from.end();
    return found != from.end() && found->is_string() ? found->get<std::string>() : fallback;
}

Fault faultFrom(Stage stage, const json& answer)
{
    Fault fault{stage, Cause::InvalidDescription, "the worker's answer made no sense"};
    parseWord(textOf(answer, "stage"), fault.stage);
    parseWord(textOf(answer, "cause"), fault.cause);
    fault.detail = textOf(answer, "detail", fault.detail);
    return fault;
}

} // namespace

Fault faultFromAnswer(Stage stage, const std::string& body)
{
    return faultFrom(stage, json::parse(body, nullptr, false));
}

FaultOr<BundleContents> contentsFromAnswer(const std::string& body, const std::string& bundle)
{
    const json answer = json::parse(body, nullptr, false);
    if (!answer.is_object() || !answer.contains("processors") || !answer.contains("faults"))
        return fault(Stage::Read, Cause::InvalidDescription, "the worker's answer made no sense");
    BundleContents contents;
    for (const json& one : answer["processors"]) {
        auto info = processors::processorInfoFromJson(one);
        if (info)
            contents.processors.push_back(std::move(*info));
        else
            contents.broken.push_back(
                {textOf(one, "id", bundle), {Stage::Read, Cause::InvalidDescription, info.error().text}});
    }
    for (const json& one : answer["faults"])
        contents.broken.push_back({textOf(one, "id"), faultFrom(Stage::Read, one)});
    for (const json& one : answer.value("presets", json::array()))
        if (auto preset = processors::presetFromJson(one))
            contents.presets.push_back({textOf(one, "processor"), std::move(*preset)});
    return contents;
}

FaultOr<processors::ProcessorInfo> infoFromAnswer(const std::string& body)
{
    auto info = processors::processorInfoFromJson(json::parse(body, nullptr, false));
    if (!info)
        return fault(Stage::Read, Cause::InvalidDescription, info.error().text);
    return *info;
}

FaultOr<Ran> ranFromAnswer(Stage stage, const std::string& body)
{
    Ran ran;
    if (body.size() != sizeof ran)
        return fault(stage, Cause::Crash, "it wrote rubbish over the worker's answers");
    std::memcpy(&ran, body.data(), sizeof ran);
    return ran;
}

} // namespace hr::hosting
